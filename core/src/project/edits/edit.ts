import { setAside } from '../chain/chain-states';
import { branchesOf, pathToBranch, stepsOf } from '../chain/chain-tree';
import type { EffectCatalogue } from '../parameters';
import type { EffectStep } from '../chain/chain-schema';
import { moverAddress } from '../mover-address';
import type { Bus, Clip, Layer, Project, Sound, Source } from '../schema';
import { mostSways } from '../schema';
import { settleSways } from './sways';
import type { Seconds } from '../../units';

/**
 * An edit is one action of a person. `apply` changes a draft of the project and throws EditError when it cannot; `label` names the
 * undo step.
 */
export interface Edit<A> {
  label(args: A, project: Project, catalogue: EffectCatalogue): string;
  apply(draft: Project, args: A, catalogue: EffectCatalogue): void;
}

/** Gives an edit its type from its arguments. */
export function defineEdit<A>(edit: Edit<A>): Edit<A> {
  return edit;
}

/** An edit that cannot be made; the message tells a person why. */
export class EditError extends Error {
  override readonly name = 'EditError';
}

/** A new id such as `clip-17`. Ids are counted, never reused, and therefore the same on every replay. */
export function takeId(draft: Project, kind: string): string {
  draft.counter += 1;
  return `${kind}-${draft.counter}`;
}

export function soundOf(project: Project, soundId: string): Sound {
  const sound = project.sounds.find((candidate) => candidate.id === soundId);
  if (!sound) throw new EditError(`There is no sound “${soundId}”.`);
  return sound;
}

export function layerOf(sound: Sound, layerId: string): Layer {
  const layer = sound.layers.find((candidate) => candidate.id === layerId);
  if (!layer) throw new EditError(`There is no layer “${layerId}” in “${sound.name}”.`);
  return layer;
}

/** A clip and the layer it lies on. */
export function clipOf(sound: Sound, clipId: string): { clip: Clip; layer: Layer } {
  for (const layer of sound.layers) {
    const clip = layer.clips.find((candidate) => candidate.id === clipId);
    if (clip) return { clip, layer };
  }
  throw new EditError(`There is no clip “${clipId}” in “${sound.name}”.`);
}

/** What a clip shows, as far as its kind does not matter. */
export interface Content {
  readonly name: string;
  /** How long it is; of notes there may be any. */
  readonly seconds: Seconds;
}

export function contentOf(project: Project, { clip, layer }: { readonly clip: Clip; readonly layer: Layer }): Content {
  if (clip.source === undefined) return { name: layer.name, seconds: 86_400 };
  const { name, frames } = sourceOf(project, clip.source);
  return { name, seconds: frames / project.sampleRate };
}

export function sourceOf(project: Project, sourceId: string): Source {
  const source = project.sources.find((candidate) => candidate.id === sourceId);
  if (!source) throw new EditError(`There is no source “${sourceId}”.`);
  return source;
}

export function busOf(sound: Sound, busId: string): Bus {
  const bus = sound.buses.find((candidate) => candidate.id === busId);
  if (!bus) throw new EditError(`There is no group or bus “${busId}” in “${sound.name}”.`);
  return bus;
}

/** Whose chain: a layer's or a bus's by its id, or the whole sound's. */
export type ChainOwner = { readonly layer: string } | { readonly bus: string } | 'sound';

export function ownerOf(sound: Sound, owner: ChainOwner): Layer | Bus | Sound {
  if (owner === 'sound') return sound;
  return 'layer' in owner ? layerOf(sound, owner.layer) : busOf(sound, owner.bus);
}

/** Where an edit of a chain happens: in an owner's chain, or within one of its hosts. */
export interface ChainPlace {
  readonly sound: string;
  readonly owner: ChainOwner;
}

/** An owner's chain, or that of a branch within it. */
export function chainOf(target: Sound, owner: ChainOwner, branch?: string): EffectStep[] {
  const { chain } = ownerOf(target, owner);
  if (branch === undefined) return chain;
  const found = pathToBranch(chain, branch)?.at(-1);
  if (!found) throw new EditError(`There is no branch “${branch}” in this chain.`);
  return found.branch.chain;
}

/** A step, wherever within the owner's chain, and the chain that it is a part of. */
export function stepOf(target: Sound, owner: ChainOwner, stepId: string): { step: EffectStep; chain: EffectStep[] } {
  const outer = ownerOf(target, owner).chain;
  const steps = stepsOf(outer);
  const step = steps.find((candidate) => candidate.id === stepId);
  if (!step) throw new EditError(`There is no step “${stepId}” in this chain.`);
  const chains = [outer, ...steps.flatMap((host) => (host.branches ?? []).map((branch) => branch.chain))];
  return { step, chain: chains.find((chain) => chain.includes(step))! };
}

/** What the addresses of an owner's properties begin with. */
export function ownerAddress(owner: ChainOwner): string {
  if (owner === 'sound') return 'sound';
  return 'layer' in owner ? `layer/${owner.layer}` : `bus/${owner.bus}`;
}

/** Throws EditError where a family has more sways than a document can keep: it could not be opened again. */
export function checkSways({ name, family }: Sound): void {
  if (family.sways.length > mostSways)
    throw new EditError(`“${name}” would have ${family.sways.length} sways; at most ${mostSways} are possible. Remove some in Kin first.`);
}

/** So many pulls a document can keep. */
const mostPulls = 5_000;

/** Throws EditError where a sound has more pulls than a document can keep: it could not be opened again. */
export function checkPulls({ pulls, name }: Sound): void {
  if (pulls.length > mostPulls)
    throw new EditError(`“${name}” would have ${pulls.length} properties that are pulled; at most ${mostPulls} are possible.`);
}

/** Takes away the sways, the automation and the pulls of everything whose address begins with `prefix`. */
export function forgetBelow(sound: Sound, prefix: string): void {
  forgetWhere(sound, (address) => address.startsWith(prefix));
}

/** Takes away the sways, the automation and the pulls of one property. */
export function forgetProperty(sound: Sound, gone: string): void {
  forgetWhere(sound, (address) => address === gone);
}

function forgetWhere(sound: Sound, isGone: (address: string) => boolean): void {
  sound.family.sways = sound.family.sways.filter((sway) => !isGone(sway.address));
  settleSways(sound);
  sound.automation = sound.automation.filter((lane) => !isGone(lane.address));
  const letGo = new Set(sound.pulls.filter(({ address }) => isGone(address)).map(({ mover }) => mover));
  sound.pulls = sound.pulls.filter((pull) => !isGone(pull.address));
  // A rein that is left with nothing to pull goes, too, unless somebody has drawn it or lets it vary.
  const used = new Set(sound.pulls.map(({ mover }) => mover));
  const moved = [...sound.automation, ...sound.family.sways].map(({ address }) => address);
  sound.movers = sound.movers.filter(
    ({ kind, id }) => kind !== 'rein' || !letGo.has(id) || used.has(id) || moved.includes(moverAddress({ kind, id }) ?? ''),
  );
}

/** Takes away what moved or swayed steps that go, and what lies within them. */
export function forgetSteps(sound: Sound, owner: ChainOwner, steps: readonly EffectStep[]): void {
  const prefix = ownerAddress(owner);
  for (const step of stepsOf(steps)) {
    forgetBelow(sound, `${prefix}/chain/${step.id}/`);
    for (const branch of step.branches ?? []) forgetBelow(sound, `${prefix}/branch/${branch.id}/`);
  }
}

/**
 * Takes steps out of one of an owner's chains, with what moved or swayed them. States that have them on can bring them back; the last goes
 * first, so that on the way back each finds its place.
 */
export function takeOut(sound: Sound, owner: ChainOwner, chain: EffectStep[], steps: readonly EffectStep[]): void {
  const from = ownerOf(sound, owner);
  const branch = branchesOf(from.chain).find((candidate) => candidate.chain === chain)?.id;
  forgetSteps(sound, owner, steps);
  for (const step of steps.toReversed()) {
    const index = chain.indexOf(step);
    chain.splice(index, 1);
    setAside(from, step, index, branch);
  }
}

/** A name as typed, cleaned of surrounding space and control characters; throws EditError when nothing is left or it is too long. */
export function cleanName(name: string): string {
  const clean = name.replace(/[\u0000-\u001f\u007f]/g, ' ').trim();
  if (clean === '') throw new EditError('The name is empty.');
  if (clean.length > 300) throw new EditError(`The name has ${clean.length} characters; at most 300 are kept.`);
  return clean;
}
