import { resolveValues } from '../project/parameters';
import type { Patch } from '../project/patch/patch-schema';
import type { Frames, Hertz } from '../units';
import { partsById } from './index';
import type { PatchMoves } from './patch-player';

/** How far from the middle C notes are expected, in octaves, when times depend on the pitch. */
const farOctaves = 4;

/** Frames that a patch can go on sounding after its last note: its longest release, with whatever moves it. */
export function patchTail({ parts, curves }: Patch, sampleRate: Hertz, moves: PatchMoves): Frames {
  let longest = 0;
  for (const part of parts) {
    const kind = partsById.get(part.kind);
    if (!kind || !part.enabled) continue;
    const values = resolveValues(kind.parameters, part.parameters);
    const pulled = curves.some(({ pulls }) => pulls.some((pull) => pull.part === part.id && pull.parameter === 'release'));
    const moved = moves.below(`part/${part.id}`).find(({ key }) => key === 'release');
    const release = kind.parameters['release'];
    const most = release?.kind === 'number' ? release.max : 0;
    const reach = Math.max(Number(values['release']), ...(moved?.reader.extremes() ?? []), pulled ? most : 0);
    const slower =
      Math.pow(2, Math.abs(Number(values['keyTimes'])) * farOctaves) * Math.pow(4, Math.max(0, Number(values['strengthTimes'])));
    longest = Math.max(longest, Math.min(most, reach * slower));
  }
  return Math.ceil(longest * sampleRate);
}
