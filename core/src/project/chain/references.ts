import { stepsOf } from './chain-tree';
import type { EffectStep } from './chain-schema';
import type { Patch } from '../patch/patch-schema';
import type { Sound } from '../schema';

/**
 * Effects can take something from elsewhere: the sound of a layer or a group as their key, a source as a response. It is kept as the
 * value of a parameter: `layer/<id>`, `bus/<id>` or `source/<id>`. What is not there (any more) counts as not chosen.
 */
const referenceForm = /^(layer|bus|source)\/([^/]+)$/;

export interface Reference {
  readonly kind: 'layer' | 'bus' | 'source';
  readonly id: string;
}

/** Reads a value as a reference; undefined when it is none. */
export function readReference(value: unknown): Reference | undefined {
  const found = typeof value === 'string' ? referenceForm.exec(value) : null;
  if (!found) return undefined;
  const kind = found[1] === 'layer' ? 'layer' : found[1] === 'bus' ? 'bus' : 'source';
  return { kind, id: found[2]! };
}

/** Everything that the steps of a chain refer to. */
export function referencesOf(chain: readonly EffectStep[]): Reference[] {
  return stepsOf(chain).flatMap((step) => Object.values(step.parameters).flatMap((value) => readReference(value) ?? []));
}

const chainsOf = (sound: Sound): readonly (readonly EffectStep[])[] => [
  sound.chain,
  ...sound.layers.map((layer) => layer.chain),
  ...sound.buses.map((bus) => bus.chain),
];

/** Ids of the sources that the parts of a patch play. */
export function patchSources({ parts }: Patch): string[] {
  const references = parts.flatMap(({ parameters }) => Object.values(parameters).flatMap((value) => readReference(value) ?? []));
  return references.flatMap(({ kind, id }) => (kind === 'source' ? [id] : []));
}

/** Ids of the sources that the effects and the patches of a sound use. */
export function effectSources(sound: Sound): string[] {
  const ofChains = chainsOf(sound)
    .flatMap(referencesOf)
    .flatMap(({ kind, id }) => (kind === 'source' ? [id] : []));
  return [...ofChains, ...sound.layers.flatMap(({ patch }) => (patch ? patchSources(patch) : []))];
}

/** Ids of the sources that a sound is made of: those of its clips and those that its effects use. */
export function usedSources(sound: Sound): Set<string> {
  return new Set([...sound.layers.flatMap((layer) => layer.clips.flatMap((clip) => clip.source ?? [])), ...effectSources(sound)]);
}

/** Ids of the sources that siblings of a sound may play in place of its own, and those that kept ones do play. */
export function alternativeSources({ family }: Sound): Set<string> {
  const offered = family.sways.flatMap((sway) => (sway.kind === 'alternatives' ? sway.of : []));
  const kept = family.siblings.flatMap(({ draws }) => Object.values(draws ?? {}).filter((draw) => typeof draw === 'object'));
  return new Set([...offered, ...kept].map(({ source }) => source));
}

/** In a draft: a chain from elsewhere loses what it refers to that is not here. */
export function dropStrangeReferences(chain: readonly EffectStep[], sound: Sound, sources: readonly { readonly id: string }[]): void {
  dropStrange(stepsOf(chain), sound, sources);
}

/** In a draft: a patch from elsewhere loses the sources that are not here. */
export function dropStrangeSources({ parts }: Patch, sound: Sound, sources: readonly { readonly id: string }[]): void {
  dropStrange(parts, sound, sources);
}

function dropStrange(holders: readonly Pick<EffectStep, 'parameters'>[], sound: Sound, sources: readonly { readonly id: string }[]): void {
  const here = { layer: sound.layers, bus: sound.buses, source: sources };
  for (const { parameters } of holders)
    for (const [key, value] of Object.entries(parameters)) {
      const reference = readReference(value);
      if (reference && !here[reference.kind].some(({ id }) => id === reference.id)) parameters[key] = '';
    }
}

/** The layers that a reference stands for: a group for all of its layers. */
export function layersBehind({ kind, id }: Reference, sound: Sound): string[] {
  if (kind === 'layer') return sound.layers.some((layer) => layer.id === id) ? [id] : [];
  return kind === 'bus' ? sound.layers.filter((layer) => layer.group === id).map((layer) => layer.id) : [];
}

/** Ids of the layers that followers which pull at something of an owner (`layer/<id>`, `bus/<id>`, `sound`) listen to. */
export function followedLayers(sound: Sound, owner: string): string[] {
  if (!sound.movers.some(({ kind }) => kind === 'follower')) return [];
  return sound.pulls.flatMap(({ mover, address }) => {
    if (!address.startsWith(`${owner}/`)) return [];
    const found = sound.movers.find(({ id }) => id === mover);
    const reference = found?.kind === 'follower' ? readReference(found.listens) : undefined;
    return reference ? layersBehind(reference, sound) : [];
  });
}

/** Ids of the layers whose sound an owner needs: those that its chain takes as keys, and those that what moves it listens to. */
export function keyLayers(sound: Sound, owner: string, chain: readonly EffectStep[]): string[] {
  return [...referencesOf(chain).flatMap((reference) => layersBehind(reference, sound)), ...followedLayers(sound, owner)];
}

/**
 * Layers in an order in which every layer comes behind those that it needs; undefined when some take each other, however far
 * around.
 */
export function keyOrder(sound: Sound): string[] | undefined {
  const order = new Set<string>();
  const entered = new Set<string>();
  const layers = new Map(sound.layers.map((layer) => [layer.id, layer]));
  const visit = (id: string): boolean => {
    if (order.has(id)) return true;
    if (entered.has(id)) return false;
    entered.add(id);
    const fine = keyLayers(sound, `layer/${id}`, layers.get(id)!.chain).every(visit);
    order.add(id);
    return fine;
  };
  return sound.layers.every((layer) => visit(layer.id)) ? [...order] : undefined;
}

/** In a draft: what referred to one thing refers to another now, or to nothing where that has gone without one. */
export function redirectReferences(draft: Sound, { kind, id }: Reference, to: string): void {
  const from = `${kind}/${id}`;
  for (const step of chainsOf(draft).flatMap((chain) => stepsOf(chain)))
    for (const [key, value] of Object.entries(step.parameters)) if (value === from) step.parameters[key] = to;
  for (const mover of draft.movers) if (mover.kind === 'follower' && mover.listens === from) mover.listens = to;
}
