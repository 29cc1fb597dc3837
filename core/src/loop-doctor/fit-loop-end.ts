import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { correlation } from '../audio/crossfade';
import type { Frames, Ratio, Seconds } from '../units';

/** How far the end of a loop may move. */
export const fitReach: Seconds = 0.025;
/** A longer crossfade is judged by its middle. */
const mostCompared: Frames = 4_800;

/**
 * Moves the end of a loop by up to 25 ms to where its last `overlap` frames agree most, wave by wave, with its first ones.
 * @returns the new end and the normalised correlation there
 */
export function fitLoopEnd(audio: Audio, from: Frames, to: Frames, overlap: Frames): { to: Frames; agreement: Ratio } {
  const { sampleRate, channels } = audio;
  const compared = Math.max(1, Math.min(overlap, mostCompared));
  const skipped = Math.floor((overlap - compared) / 2);
  const reach = Math.min(Math.round(fitReach * sampleRate), Math.floor((to - from) / 4));
  const agreementAt = (end: Frames): Ratio => correlation(channels, channels, end - overlap + skipped, from + skipped, compared);
  let best = to;
  let agreement = agreementAt(to);
  for (let end = to - reach; end <= Math.min(to + reach, frameCount(audio)); end++) {
    const r = agreementAt(end);
    if (r > agreement) {
      agreement = r;
      best = end;
    }
  }
  return { to: best, agreement };
}
