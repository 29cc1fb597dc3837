import type { Unit } from '../../units';
import { branchesOf, mostSteps, stepsOf } from './chain-tree';
import { branchParameters, mixParameter } from '../address';
import type { EffectCatalogue, Parameter, ParameterValue } from '../parameters';
import { fitValue, placeOfValue, toggle, valueAtPlace } from '../parameters';
import type { Aside, EffectStep, Snapshot } from './chain-schema';
import { mostAside } from './chain-schema';
import type { Layer } from '../schema';

const switchParameter = toggle('On', true);

/** Something in a chain that a state remembers. */
interface Place {
  readonly key: string;
  readonly parameter: Parameter;
  readonly value: ParameterValue;
  write(value: ParameterValue): void;
}

/** Everything in a chain, and within its hosts, that a state remembers. Writing is only possible in a draft. */
function placesOf(chain: readonly EffectStep[], catalogue: EffectCatalogue): Place[] {
  const places: Place[] = [];
  const add = (holder: object, name: string, key: string, parameter: Parameter): void => {
    const stored: unknown = Reflect.get(holder, name);
    const known = typeof stored === 'number' || typeof stored === 'string' || typeof stored === 'boolean' ? stored : undefined;
    places.push({ key, parameter, value: fitValue(parameter, known), write: (value) => Reflect.set(holder, name, value) });
  };
  for (const step of stepsOf(chain)) {
    const prefix = `chain/${step.id}`;
    add(step, 'enabled', `${prefix}/enabled`, switchParameter);
    add(step, 'mix', `${prefix}/mix`, mixParameter);
    for (const [name, parameter] of Object.entries(catalogue.get(step.effect)?.parameters ?? {}))
      add(step.parameters, name, `${prefix}/${name}`, parameter);
  }
  for (const branch of branchesOf(chain)) {
    for (const [name, parameter] of Object.entries(branchParameters)) add(branch, name, `branch/${branch.id}/${name}`, parameter);
    for (const name of ['muted', 'soloed']) add(branch, name, `branch/${branch.id}/${name}`, switchParameter);
  }
  return places;
}

/** How a chain stands. */
export function takeSnapshot(chain: readonly EffectStep[], catalogue: EffectCatalogue): Snapshot {
  return Object.fromEntries(placesOf(chain, catalogue).map(({ key, value }) => [key, value]));
}

/** What a state wants of a place: steps that it does not know were not there, so that they are off in it; all else stays as it is. */
function wantedOf({ key }: Pick<Place, 'key'>, snapshot: Snapshot): ParameterValue | undefined {
  return snapshot[key] ?? (isSwitch(key) ? false : undefined);
}

const switchEnding = '/enabled';
const isSwitch = (key: string): boolean => key.endsWith(switchEnding);

/** A chain with its states and with what was removed from it. */
type StatefulChain = Pick<Layer, 'chain' | 'states' | 'aside'>;

/** True when a step, or anything within it, is on in a state. */
function isOnIn(step: EffectStep, state: Snapshot): boolean {
  return stepsOf([step]).some(({ id }) => state[`chain/${id}${switchEnding}`] === true);
}

/** In a draft: keeps a step that was taken out of a chain of its owner, if a state has it on. */
export function setAside(owner: StatefulChain, step: EffectStep, index: number, branch: string | undefined): void {
  owner.aside = [...(owner.aside ?? []), { step, index, ...(branch !== undefined && { branch }) }];
  dropForgotten(owner);
}

/** In a draft: lets removed steps go that no state has on any more. */
export function dropForgotten(owner: StatefulChain): void {
  const states = Object.values(owner.states ?? {});
  const kept = (owner.aside ?? []).filter(({ step }) => states.some((state) => isOnIn(step, state))).slice(-mostAside);
  if (kept.length > 0) owner.aside = kept;
  else delete owner.aside;
}

/** In a draft: puts removed steps that any of these states has on back to where they were; the one removed last first. */
export function takeBack(owner: StatefulChain, states: readonly Snapshot[]): void {
  const stay: Aside[] = [];
  for (const aside of [...(owner.aside ?? [])].reverse()) {
    const { step, index, branch } = aside;
    const chain = branchesOf(owner.chain).find(({ id }) => id === branch)?.chain ?? owner.chain;
    if (chain.length < mostSteps && states.some((state) => isOnIn(step, state))) chain.splice(Math.min(index, chain.length), 0, step);
    else stay.unshift(aside);
  }
  if (stay.length > 0) owner.aside = stay;
  else delete owner.aside;
}

/** True when a chain stands as a snapshot has it. */
export function standsAs({ chain, aside = [] }: Omit<StatefulChain, 'states'>, snapshot: Snapshot, catalogue: EffectCatalogue): boolean {
  if (aside.some(({ step }) => isOnIn(step, snapshot))) return false;
  return placesOf(chain, catalogue).every((place) => {
    const wanted = wantedOf(place, snapshot);
    return wanted === undefined || wanted === place.value;
  });
}

/** In a draft: brings a chain into a state. */
export function applySnapshot(chain: readonly EffectStep[], snapshot: Snapshot, catalogue: EffectCatalogue): void {
  for (const place of placesOf(chain, catalogue)) {
    const wanted = wantedOf(place, snapshot);
    if (wanted !== undefined && wanted !== place.value) place.write(fitValue(place.parameter, wanted));
  }
}

/**
 * A snapshot between two others: numbers go along their ranges (frequencies by intervals), steps that are on in only one of them fade in
 * with their mix, everything else changes halfway.
 * @param share 0 is `from`, 1 is `to`
 */
export function morphSnapshots(
  chain: readonly EffectStep[],
  from: Snapshot,
  to: Snapshot,
  share: Unit,
  catalogue: EffectCatalogue,
): Snapshot {
  if (share === 0) return from;
  if (share === 1) return to;
  const between: Record<string, ParameterValue> = {};
  for (const place of placesOf(chain, catalogue)) {
    const { key, parameter } = place;
    const a = wantedOf(place, from) ?? wantedOf(place, to);
    const b = wantedOf(place, to) ?? a;
    if (a === undefined || b === undefined) continue;
    if (isSwitch(key)) between[key] = a === true || b === true;
    else if (parameter.kind !== 'number') between[key] = share < 0.5 ? a : b;
    else if (key.endsWith('/mix')) between[key] = heardMix(key, from, a) * (1 - share) + heardMix(key, to, b) * share;
    else if (a === b) between[key] = a;
    else {
      const along = placeOfValue(parameter, Number(a)) * (1 - share) + placeOfValue(parameter, Number(b)) * share;
      between[key] = fitValue(parameter, valueAtPlace(parameter, along));
    }
  }
  return between;
}

/** The mix of a step in a state, and nothing where it is off. */
function heardMix(key: string, state: Snapshot, mix: ParameterValue): Unit {
  return state[key.replace(/\/mix$/, switchEnding)] === true ? Number(mix) : 0;
}
