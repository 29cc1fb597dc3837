import { correlation, crossfadeGains } from '../audio/crossfade';
import type { ClipPlayer } from './clip-player';

/**
 * Crossfades clips where the end of one overlaps the beginning of the next. The law follows the correlation measured over the overlap. A
 * clip that lies within another is added to it. Within a crossfade the clips' own fades on that side do not count.
 * @param clips in the order of their starts
 */
export function crossfadeOverlaps(clips: readonly ClipPlayer[]): void {
  let before = clips[0];
  for (const clip of clips.slice(1)) {
    if (!before || clip.end <= before.end) continue;
    const frames = before.end - clip.start;
    if (frames > 0 && clip.start > before.start) {
      const r = correlation([before.left, before.right], [clip.left, clip.right], clip.start - before.start, 0, frames);
      const gains = crossfadeGains(frames, r);
      before.crossfadeOut(gains.out);
      clip.crossfadeIn(gains.in);
    }
    before = clip;
  }
}
