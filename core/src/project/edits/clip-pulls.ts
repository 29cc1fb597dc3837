import { clipAddress } from '../clip-address';
import type { Clip, Layer, Project, Sound } from '../schema';
import { checkPulls, takeId } from './edit';

/** Where a clip is. */
export interface ClipPlace {
  readonly layer: Pick<Layer, 'id'>;
  readonly clip: Pick<Clip, 'id'>;
}

const below = ({ layer, clip }: ClipPlace): string => `${clipAddress(layer.id, clip.id)}/`;

/** Lets those who pull at a clip pull at a copy of it, too, so that it sounds as the clip does. */
export function pullCopy(draft: Project, sound: Sound, from: ClipPlace, copy: ClipPlace): void {
  const pulls = sound.pulls.filter(({ address }) => address.startsWith(below(from)));
  for (const pull of pulls)
    sound.pulls.push({ ...pull, id: takeId(draft, 'pull'), address: pull.address.replace(below(from), below(copy)) });
  checkPulls(sound);
}

/** Pulls of a clip that is in another layer now. */
export function movePulls(sound: Sound, from: ClipPlace, to: ClipPlace): void {
  for (const pull of sound.pulls) pull.address = pull.address.replace(below(from), below(to));
}
