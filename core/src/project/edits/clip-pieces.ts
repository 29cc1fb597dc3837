import { clipAddress } from '../clip-address';
import type { Clip, Layer, Project, Sound } from '../schema';
import { pullCopy } from './clip-pulls';
import { checkSways, forgetBelow, takeId } from './edit';

const below = (layer: Layer, clip: Pick<Clip, 'id'>): string => `${clipAddress(layer.id, clip.id)}/`;

/**
 * Takes a clip out of its layer and puts pieces in its place. They sway and are pulled as it was and have its draws in kept siblings; they share its
 * chance, so that they are heard as one in every sibling. One of them may be the clip itself; without pieces it is gone with its sways.
 */
export function replaceClip(draft: Project, sound: Sound, layer: Layer, clip: Clip, pieces: readonly Clip[]): void {
  const from = below(layer, clip);
  const sways = sound.family.sways.filter(({ address }) => address.startsWith(from));
  const added = pieces.filter(({ id }) => id !== clip.id);
  for (const piece of added) {
    pullCopy(draft, sound, { layer, clip }, { layer, clip: piece });
    const renamed = (address: string): string => address.replace(from, below(layer, piece));
    for (const sway of sways)
      sound.family.sways.push({ ...sway, id: takeId(draft, 'sway'), address: renamed(sway.address), like: sway.like ?? sway.address });
    for (const { draws } of sound.family.siblings)
      for (const [address, draw] of Object.entries(draws ?? {})) if (draws && address.startsWith(from)) draws[renamed(address)] = draw;
  }
  layer.clips.splice(layer.clips.indexOf(clip), 1, ...pieces);
  if (added.length === pieces.length) forgetBelow(sound, from);
  checkSways(sound);
}
