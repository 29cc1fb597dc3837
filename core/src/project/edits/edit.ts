import type { EffectCatalogue } from '../parameters';
import type { Clip, EffectStep, Layer, Project, Sound, Source } from '../schema';

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

export function sourceOf(project: Project, sourceId: string): Source {
  const source = project.sources.find((candidate) => candidate.id === sourceId);
  if (!source) throw new EditError(`There is no source “${sourceId}”.`);
  return source;
}

/** Whose chain: a layer's by its id, or the whole sound's. */
export type ChainOwner = { readonly layer: string } | 'sound';

export function chainOf(sound: Sound, owner: ChainOwner): EffectStep[] {
  return owner === 'sound' ? sound.chain : layerOf(sound, owner.layer).chain;
}

export function ownerName(sound: Sound, owner: ChainOwner): string {
  return owner === 'sound' ? sound.name : layerOf(sound, owner.layer).name;
}

/** A name as typed, cleaned of surrounding space and control characters; throws EditError when nothing is left or it is too long. */
export function cleanName(name: string): string {
  const clean = name.replace(/[\u0000-\u001f\u007f]/g, ' ').trim();
  if (clean === '') throw new EditError('The name is empty.');
  if (clean.length > 300) throw new EditError(`The name has ${clean.length} characters; at most 300 are kept.`);
  return clean;
}
