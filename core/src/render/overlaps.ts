import { correlation, crossfadeGains } from '../audio/crossfade';
import { crossfadePairs } from '../project/time/clip-times';
import type { ClipPlayer } from './clip-player';

/**
 * Crossfades clips where the end of one overlaps the beginning of the next. The law follows the correlation measured over the overlap. A
 * clip that lies within another is added to it. Within a crossfade the clips' own fades on that side do not count.
 * @param clips in the order of their starts
 */
export function crossfadeOverlaps(clips: readonly ClipPlayer[]): void {
  for (const [before, clip] of crossfadePairs(clips)) {
    const frames = before.end - clip.start;
    const r = correlation(before.part(clip.start - before.start, frames), clip.part(0, frames), 0, 0, frames);
    const gains = crossfadeGains(frames, r);
    before.crossfadeOut(gains.out);
    clip.crossfadeIn(gains.in);
  }
}
