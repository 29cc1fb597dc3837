import type { Unit } from '../units';
import { branchesOf, stepsOf } from './chain-tree';
import { branchParameters, mixParameter } from './address';
import type { EffectCatalogue, Parameter, ParameterValue } from './parameters';
import { fitValue, placeOfValue, toggle, valueAtPlace } from './parameters';
import type { EffectStep, Snapshot } from './schema';

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

/** True when a chain stands as a snapshot has it; what the snapshot does not know does not count. */
export function standsAs(chain: readonly EffectStep[], snapshot: Snapshot, catalogue: EffectCatalogue): boolean {
  return placesOf(chain, catalogue).every(({ key, value }) => snapshot[key] === undefined || snapshot[key] === value);
}

/** In a draft: brings a chain into a state. Steps that the state does not know stay as they are. */
export function applySnapshot(chain: readonly EffectStep[], snapshot: Snapshot, catalogue: EffectCatalogue): void {
  for (const { key, parameter, value, write } of placesOf(chain, catalogue)) {
    const wanted = snapshot[key];
    if (wanted !== undefined && wanted !== value) write(fitValue(parameter, wanted));
  }
}

/**
 * A snapshot between two others: numbers go along their ranges (frequencies by intervals), everything else changes halfway.
 * @param share 0 is `from`, 1 is `to`
 */
export function morphSnapshots(
  chain: readonly EffectStep[],
  from: Snapshot,
  to: Snapshot,
  share: Unit,
  catalogue: EffectCatalogue,
): Snapshot {
  const between = placesOf(chain, catalogue).flatMap(({ key, parameter }): [string, ParameterValue][] => {
    const [a, b] = [from[key], to[key]];
    if (a === undefined || b === undefined) return [];
    if (parameter.kind !== 'number' || share === 0 || share === 1 || a === b) return [[key, share < 0.5 ? a : b]];
    const place = placeOfValue(parameter, Number(a)) * (1 - share) + placeOfValue(parameter, Number(b)) * share;
    return [[key, fitValue(parameter, valueAtPlace(parameter, place))]];
  });
  return Object.fromEntries(between);
}
