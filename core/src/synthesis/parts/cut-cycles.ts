import type { Audio } from '../../audio/audio';
import { readBetween } from '../../dsp/fractional-read';
import type { Frames, Unit } from '../../units';
import { mostHarmonics, normalised, tableOfHarmonics } from './wave-table';
import type { WaveTable } from './wave-table';

/** How many cycles are cut out of a recording. */
export const cutCycles = 16;
/** Periods that are looked for, in seconds. */
const shortest = 1 / 1_500;
const longest = 1 / 30;
/** A lag counts as a period when what differs there is this much less than elsewhere. */
const clear = 0.2;
const points = 2_048;

/**
 * The period of a recording around a place: the shortest lag at which it is nearly the same, by the cumulative mean normalised difference of de Cheveigné &
 * Kawahara 2002. Where there is none, the best of the bad.
 */
export function periodAt(samples: Float32Array, place: Frames, sampleRate: number): Frames {
  const least = Math.max(2, Math.floor(shortest * sampleRate));
  const most = Math.ceil(longest * sampleRate);
  const from = Math.max(0, Math.min(Math.round(place), samples.length - 2 * most));
  const differences = new Float64Array(most + 3);
  let sum = 0;
  for (let lag = 1; lag <= most + 2; lag++) {
    let difference = 0;
    for (let i = from; i < from + most; i += 2) {
      const apart = (samples[i] ?? 0) - (samples[i + lag] ?? 0);
      difference += apart * apart;
    }
    sum += difference;
    differences[lag] = sum > 0 ? (difference * lag) / sum : 1;
  }
  let found = least;
  for (let lag = least; lag <= most; lag++) {
    if (differences[lag]! < differences[found]!) found = lag;
    // At the bottom of the first clear valley.
    if (differences[found]! < clear && differences[lag + 1]! > differences[found]! && lag > found) break;
  }
  let period = bottom(differences, found);
  // As many periods on, it is known that much better.
  for (let count = 2; count * period < most; count *= 2) {
    const near = Math.round(count * period);
    let lag = near;
    for (const each of [near - 1, near + 1]) if (differences[each]! < differences[lag]!) lag = each;
    period = bottom(differences, lag) / count;
  }
  return period;
}

/** Where a parabola through three values is lowest. */
function bottom(values: Float64Array, at: number): number {
  const [a, b, c] = [values[at - 1]!, values[at]!, values[at + 1]!];
  const bow = a - 2 * b + c;
  return at + (bow > 0 ? Math.max(-0.5, Math.min(0.5, (a - c) / (2 * bow))) : 0);
}

/** Single cycles of a recording as tables, at even distances between two parts of its length; silence gives silent ones. */
export function cyclesOf(audio: Audio, begin: Unit, end: Unit): WaveTable[] {
  const samples = mixed(audio);
  return Array.from({ length: cutCycles }, (_, n) => {
    const place = (begin + ((end - begin) * n) / (cutCycles - 1)) * samples.length;
    return cycleAt(samples, place, audio.sampleRate);
  });
}

function cycleAt(samples: Float32Array, place: Frames, sampleRate: number): WaveTable {
  const period = periodAt(samples, place, sampleRate);
  const from = Math.max(0, Math.min(place, samples.length - 2 * period - 1));
  // Two periods fade into each other, so that the end of the cycle leads into its beginning.
  const cycle = Float64Array.from({ length: points }, (_, i) => {
    const share = i / points;
    const at = from + share * period;
    return readBetween(samples, at) * share + readBetween(samples, at + period) * (1 - share);
  });
  return alignedTable(cycle, Math.min(mostHarmonics, Math.floor(period / 2)));
}

/** The table of a cycle, turned so that its first harmonic begins like a sine: what differs only by where it was cut is the same. */
function alignedTable(cycle: Float64Array, harmonics: number): WaveTable {
  if (harmonics < 1) return tableOfHarmonics([]);
  const cosines = new Float64Array(harmonics);
  const sines = new Float64Array(harmonics);
  for (let h = 1; h <= harmonics; h++) {
    // By turning a phasor on, which is quicker than asking for every sine.
    const turn = (2 * Math.PI * h) / points;
    const [c1, s1] = [Math.cos(turn), Math.sin(turn)];
    let [c, s] = [1, 0];
    let [re, im] = [0, 0];
    for (const sample of cycle) {
      re += sample * c;
      im += sample * s;
      [c, s] = [c * c1 - s * s1, s * c1 + c * s1];
    }
    cosines[h - 1] = (2 / points) * re;
    sines[h - 1] = (2 / points) * im;
  }
  const first = Math.atan2(cosines[0]!, sines[0]!);
  for (let h = 0; h < harmonics; h++) {
    const angle = -(h + 1) * first;
    const [re, im] = [sines[h]!, cosines[h]!];
    sines[h] = re * Math.cos(angle) - im * Math.sin(angle);
    cosines[h] = re * Math.sin(angle) + im * Math.cos(angle);
  }
  return normalised(cosines, sines);
}

function mixed({ channels }: Audio): Float32Array {
  const [first = new Float32Array(0), ...others] = channels;
  if (others.length === 0) return first;
  return first.map((sample, i) => (sample + others.reduce((sum, channel) => sum + channel[i]!, 0)) / channels.length);
}
