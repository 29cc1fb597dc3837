import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Seconds } from '../units';

/**
 * The moment nearest to `time` at which the wave, its channels added up, passes through zero: between two samples of different signs, in
 * proportion to their sizes, or on a sample that is zero. `time` itself when there is none within `reach`.
 */
export function nearestZeroCrossing(audio: Audio, time: Seconds, reach: Seconds): Seconds {
  const { sampleRate, channels } = audio;
  const sum = (i: number): number => channels.reduce((total, channel) => total + channel[i]!, 0);
  const first = Math.max(0, Math.floor((time - reach) * sampleRate));
  const last = Math.min(frameCount(audio) - 1, Math.ceil((time + reach) * sampleRate));
  let best = time;
  let distance = reach;
  for (let i = first; i < last; i++) {
    const before = sum(i);
    const after = sum(i + 1);
    if (before !== 0 && before * after > 0) continue;
    const at = (i + (before === 0 ? 0 : before / (before - after))) / sampleRate;
    if (Math.abs(at - time) > distance) continue;
    distance = Math.abs(at - time);
    best = at;
  }
  return best;
}
