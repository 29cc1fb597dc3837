import type { Audio } from '../audio/audio';
import type { Frames, Seconds } from '../units';
import { findOnsets, loudestChannel } from './onsets';

/** The points of a recording that can be made to land on a moment, in seconds from its beginning. */
export interface LandingPoints {
  /** The strongest onset; undefined where nothing begins, as in a steady wind. */
  readonly transient: Seconds | undefined;
  /** The largest sample. */
  readonly peak: Seconds;
  /** Where a riser is over: the last moment before its level falls away from its highest. */
  readonly endOfRise: Seconds;
}

const envelopeWindow: Seconds = 0.02;
/** How far the level may fall below its highest and still count as being there. */
const highest = 0.84;

/** Finds the points by which a recording, or the part of one that a clip shows, can land. */
export function findLandingPoints(audio: Audio): LandingPoints {
  const samples = loudestChannel(audio);
  const onsets = findOnsets(audio);
  const strongest = onsets.reduce<(typeof onsets)[number] | undefined>(
    (best, onset) => (best && weight(best, samples, audio.sampleRate) >= weight(onset, samples, audio.sampleRate) ? best : onset),
    undefined,
  );
  return {
    transient: strongest?.time,
    peak: peakFrame(samples) / audio.sampleRate,
    endOfRise: endOfRise(samples, Math.round(envelopeWindow * audio.sampleRate)) / audio.sampleRate,
  };
}

/** A strong onset rises in many bins and leads to much energy. */
function weight(onset: { time: Seconds; strength: number }, samples: Float32Array, sampleRate: number): number {
  const from = Math.round(onset.time * sampleRate);
  const to = Math.min(samples.length, from + Math.round(0.01 * sampleRate));
  let peak = 0;
  for (let i = from; i < to; i++) peak = Math.max(peak, Math.abs(samples[i]!));
  return onset.strength * peak;
}

function peakFrame(samples: Float32Array): Frames {
  let place = 0;
  for (let i = 1; i < samples.length; i++) if (Math.abs(samples[i]!) > Math.abs(samples[place]!)) place = i;
  return place;
}

function endOfRise(samples: Float32Array, window: Frames): Frames {
  const count = Math.max(1, Math.floor(samples.length / window));
  const levels = new Float64Array(count);
  for (let n = 0; n < count; n++) {
    let sum = 0;
    for (let i = n * window; i < (n + 1) * window; i++) sum += (samples[i] ?? 0) ** 2;
    levels[n] = Math.sqrt(sum / window);
  }
  let top = 0;
  for (let n = 1; n < count; n++) if (levels[n]! > levels[top]!) top = n;
  let last = top;
  while (last + 1 < count && levels[last + 1]! >= highest * levels[top]!) last++;
  // The fall begins somewhere in this window or the next: behind the last sample that is still large.
  const from = last * window;
  const to = Math.min(samples.length, (last + 2) * window);
  let end = from;
  for (let i = from; i < to; i++) if (Math.abs(samples[i]!) >= 0.5 * levels[top]!) end = i;
  return Math.min(samples.length, end + 1);
}
