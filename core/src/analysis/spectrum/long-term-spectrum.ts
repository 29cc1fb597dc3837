import type { Recording } from '../../audio/recording';
import { stretchesOf } from '../../audio/recording';
import { SpectralFrame } from '../../dsp/spectral-frames';
import type { Decibels, Hertz, Unit } from '../../units';

const size = 16_384;
const hop = size / 2;
/** Hops of a recording that are read at once. */
const hopsRead = 64;
/** Half the width of the bands that are averaged over: a sixth of an octave to each side. */
const reach = 2 ** (1 / 6);
/** What lies this far below the loudest band of its spectrum says nothing about its shape. */
const deepest: Decibels = 60;

/**
 * Mean level of a recording, over all of its channels and its whole length, in third-octave bands around frequencies.
 * @param progress called with the finished share; false stops the work with `Cancelled`
 */
export async function longTermSpectrum(
  recording: Recording,
  frequencies: readonly Hertz[],
  progress: (share: Unit) => boolean = () => true,
): Promise<Decibels[]> {
  const frame = new SpectralFrame(size);
  const power = new Float64Array(frame.bins);
  for await (const { from, to, audio, first } of stretchesOf(recording, hopsRead * hop, size, progress))
    for (const samples of audio.channels)
      for (let at = from - first; at < to - first; at += hop) {
        frame.take(samples, at);
        for (let k = 0; k < frame.bins; k++) power[k]! += frame.power(k);
      }
  const below = new Float64Array(frame.bins + 1);
  for (let k = 0; k < frame.bins; k++) below[k + 1] = below[k]! + power[k]!;
  /** Power up to a place between bins. */
  const upTo = (place: number): number => {
    const bin = Math.max(0, Math.min(frame.bins - 1, Math.floor(place)));
    return below[bin]! + power[bin]! * Math.min(1, place - bin);
  };
  const perBin = recording.sampleRate / size;
  return frequencies.map((frequency) => {
    const sum = upTo((frequency * reach) / perBin) - upTo(frequency / reach / perBin);
    return 10 * Math.log10(Math.max(sum, 1e-30));
  });
}

/**
 * Levels that bring one long-term spectrum to the shape of another, around 0 dB where the sound is. Where either of them has next to
 * nothing, nothing is asked for.
 */
export function matchLevels(from: readonly Decibels[], to: readonly Decibels[]): Decibels[] {
  const loudestFrom = Math.max(...from);
  const loudestTo = Math.max(...to);
  const known = from.map((level, i) => level > loudestFrom - deepest && to[i]! > loudestTo - deepest);
  const differences = from.map((level, i) => (known[i] ? to[i]! - level : 0));
  // Weighted by what sounds, so that the loudness stays about the same.
  let [sum, weights] = [0, 0];
  from.forEach((level, i) => {
    const weight = known[i] ? 10 ** ((level - loudestFrom) / 20) : 0;
    sum += weight * differences[i]!;
    weights += weight;
  });
  const middle = weights > 0 ? sum / weights : 0;
  return differences.map((difference, i) => (known[i] ? difference - middle : 0));
}
