import { readReference } from '../chain/references';
import type { EffectStep } from '../chain/chain-schema';
import type { AutomationLane, Bus, Layer, Mover, Pull, Sound } from '../schema';
import { copyPatch } from '../patch/copy-patch';
import { cloneClip } from './clip-edits';
import { emptyLike } from './project-edits';

/** New ids for what is copied; the same old id always gets the same new one, so that addresses can follow. */
export class FreshNames {
  private readonly names: Map<string, string>;

  constructor(
    private readonly take: (kind: string) => string,
    known: ReadonlyMap<string, string> = new Map(),
  ) {
    this.names = new Map(known);
  }

  /** The same names so far, for a further copy of something else beside what is copied already. */
  fork(): FreshNames {
    return new FreshNames(this.take, this.names);
  }

  of(kind: string, old: string): string {
    const known = this.names.get(old) ?? this.take(kind);
    this.names.set(old, known);
    return known;
  }

  /** An address with the new ids in the place of old ones. */
  address(old: string): string {
    return old
      .split('/')
      .map((part) => this.names.get(part) ?? part)
      .join('/');
  }
}

export function copyChain(chain: readonly EffectStep[], names: FreshNames): EffectStep[] {
  return chain.map((step) => ({
    ...step,
    // What it takes from elsewhere may have been copied as well.
    parameters: mapValues(step.parameters, (value) => (readReference(value) ? names.address(String(value)) : value)),
    id: names.of('step', step.id),
    ...(step.branches && {
      branches: step.branches.map((branch) => ({
        ...branch,
        id: names.of('branch', branch.id),
        chain: copyChain(branch.chain, names),
      })),
    }),
  }));
}

function mapValues<T>(values: Readonly<Record<string, T>>, change: (value: T) => T): Record<string, T> {
  return Object.fromEntries(Object.entries(values).map(([key, value]) => [key, change(value)]));
}

/** The states of a copied chain, for the steps of the copy, and what was removed from it. */
function copyStates({ states, aside }: Pick<Layer, 'states' | 'aside'>, names: FreshNames): Pick<Layer, 'states' | 'aside'> {
  if (!states) return {};
  const removed = aside?.map(({ step, index, branch }) => ({
    step: copyChain([step], names)[0]!,
    index,
    ...(branch !== undefined && { branch: names.address(branch) }),
  }));
  const renamed = Object.entries(states).map(([letter, snapshot]) => [
    letter,
    Object.fromEntries(Object.entries(snapshot).map(([key, value]) => [names.address(key), value])),
  ]);
  return { states: Object.fromEntries(renamed), ...(removed && { aside: removed }) };
}

export function copyLayer(layer: Layer, names: FreshNames): Layer {
  return {
    ...layer,
    id: names.of('layer', layer.id),
    sends: layer.sends.map((send) => ({ ...send })),
    clips: layer.clips.map((clip) => ({
      ...cloneClip(clip, names.of('clip', clip.id)),
      // Copies are chosen and moved together among themselves.
      ...(clip.group !== undefined && { group: names.of('group', clip.group) }),
    })),
    chain: copyChain(layer.chain, names),
    ...copyStates(layer, names),
    // Ids within a patch are told apart by their layer.
    ...(layer.patch && { patch: copyPatch(layer.patch) }),
  };
}

/** Copies of the lanes below `prefix`, for what was copied with `names`. */
export function copyLanes(lanes: readonly AutomationLane[], prefix: string, names: FreshNames): AutomationLane[] {
  return lanes
    .filter((lane) => lane.address.startsWith(prefix))
    .map((lane) => ({
      ...lane,
      id: names.of('lane', lane.id),
      address: names.address(lane.address),
      points: lane.points.map((point) => ({ ...point })),
    }));
}

/** Copies of the pulls below `prefix`, for what was copied with `names`; movers that were not copied pull the copies too. */
export function copyPulls(pulls: readonly Pull[], prefix: string, names: FreshNames): Pull[] {
  return pulls
    .filter((pull) => pull.address.startsWith(prefix))
    .map((pull) => ({ ...pull, id: names.of('pull', pull.id), mover: names.address(pull.mover), address: names.address(pull.address) }));
}

/** A copy of a mover; what a follower listens to must have its new name already, if it was copied. */
export function copyMover(mover: Mover, names: FreshNames): Mover {
  const id = names.of(mover.kind, mover.id);
  if (mover.kind === 'tide') return { ...mover, id, points: mover.points.map((point) => ({ ...point })) };
  return mover.kind === 'follower' ? { ...mover, id, listens: names.address(mover.listens) } : { ...mover, id };
}

/** A copy of a group or a shared bus; the buses that it sends to keep their ids unless they were named. */
export function copyBus(bus: Bus, names: FreshNames): Bus {
  return {
    ...bus,
    id: names.of('bus', bus.id),
    sends: bus.sends.map((send) => ({ ...send, bus: names.address(send.bus) })),
    chain: copyChain(bus.chain, names),
    ...copyStates(bus, names),
  };
}

/** A copy of a sound with new ids throughout, without marks and family. */
export function copySound(sound: Sound, name: string, names: FreshNames): Sound {
  const id = names.of('sound', sound.id);
  // Named before anything is copied, because chains can refer to any of them.
  for (const bus of sound.buses) names.of('bus', bus.id);
  for (const layer of sound.layers) names.of('layer', layer.id);
  const sendsOf = (sends: Layer['sends']): Layer['sends'] => sends.map((send) => ({ ...send, bus: names.of('bus', send.bus) }));
  const movers = sound.movers.map((mover) => copyMover(mover, names));
  const layers = sound.layers.map((layer): Layer => {
    const copy = copyLayer(layer, names);
    if (layer.group !== undefined) copy.group = names.of('bus', layer.group);
    return { ...copy, sends: sendsOf(layer.sends) };
  });
  return {
    ...emptyLike(sound),
    id,
    name: name.slice(0, 300),
    buses: sound.buses.map((bus) => copyBus(bus, names)),
    layers,
    chain: copyChain(sound.chain, names),
    ...copyStates(sound, names),
    movers,
    automation: copyLanes(sound.automation, '', names),
    pulls: copyPulls(sound.pulls, '', names),
  };
}
