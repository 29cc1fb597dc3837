import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { sharedPowerSpectra } from '../dsp/power-spectra';
import type { Decibels, Frames, Ratio, Seconds } from '../units';
import { melTriangles } from './spectrum/mel';

const size: Frames = 2_048;
const bands = 40;
const hop: Seconds = 0.01;
/** Of longer sounds only the beginning is compared. */
const longest: Seconds = 60;
/** What lies so far below the level that a sound has where it is loud is not heard beside it. */
const floor: Decibels = -50;
/** It begins where it first reaches such a part of its peak. */
const beginning: Ratio = 0.001;
/** By so much two sounds may be shifted against each other before they are compared. */
const mostLag = 10;
/** Frames and bands that are taken together: details, the course, and the whole. */
const scales = [
  { frames: 1, bands: 1 },
  { frames: 4, bands: 4 },
  { frames: 16, bands: 10 },
] as const;

/** How a sound is heard, for comparing it: levels of mel bands over time, in dB above its own level, at several degrees of detail. */
export interface TimbrePrint {
  /** Per scale, frame after frame. */
  readonly levels: readonly Float32Array[];
  /** Level of each frame of the finest scale. */
  readonly course: Float32Array;
}

/** The print of a sound: mel bands (O'Shaughnessy 1987) of Hann windows of 2048 samples every 10 ms, of a minute at most. Silence has the lowest level everywhere. */
export function timbrePrint({ channels, sampleRate }: Audio): TimbrePrint {
  const step = Math.round(hop * sampleRate);
  const begin = beginningOf(channels);
  const heard = Math.min(frameCount({ channels, sampleRate }) - begin, longest * sampleRate);
  const count = Math.max(1, Math.ceil(heard / step));
  // The window's middle lies on the frame's beginning, so that what begins there is seen at once.
  const samples = meanFrom(channels, begin - size / 2, (count + 1) * step + size);
  const triangles = melTriangles(sampleRate, size / 2 + 1, bands);
  const energies = new Float64Array((count + 1) * bands);
  const spectra = sharedPowerSpectra(size);
  for (let n = 0; n < count; n += 2) {
    spectra.take(samples, n * step, (n + 1) * step);
    for (let second = 0; second < 2; second++)
      for (let band = 0; band < bands; band++) {
        const { first, weights } = triangles[band]!;
        const power = second ? spectra.second : spectra.first;
        let energy = 0;
        for (let k = 0; k < weights.length; k++) energy += power[first + k]! * weights[k]!;
        energies[(n + second) * bands + band] = energy / size;
      }
  }
  // Behind an odd number of frames came one more.
  energies.fill(0, count * bands);
  const own = ownLevel(energies);
  return {
    levels: scales.map((scale) => levelsOf(energies, count, scale.frames, scale.bands, own)),
    course: levelsOf(energies, count, 1, bands, own),
  };
}

/** The mean of all channels over so many frames, with silence around it. */
function meanFrom(channels: readonly Float32Array[], from: Frames, frames: Frames): Float32Array {
  const mean = new Float32Array(frames);
  for (const channel of channels) {
    const until = Math.min(channel.length, from + frames);
    for (let i = Math.max(0, from); i < until; i++) mean[i - from] = mean[i - from]! + channel[i]! / channels.length;
  }
  return mean;
}

/** The first frame of which something is heard; of silence, the very first. */
function beginningOf(channels: readonly Float32Array[]): Frames {
  let peak = 0;
  for (const channel of channels) for (let i = 0; i < channel.length; i++) peak = Math.max(peak, Math.abs(channel[i]!));
  if (peak === 0) return 0;
  let begin = Infinity;
  for (const channel of channels) {
    const until = Math.min(begin, channel.length);
    let i = 0;
    while (i < until && Math.abs(channel[i]!) <= beginning * peak) i++;
    if (i < until) begin = i;
  }
  return begin === Infinity ? 0 : begin;
}

/** The mean level of a sound, in dB, where every place counts by its energy: how loud it is where it is loud. */
function ownLevel(energies: Float64Array): Decibels {
  let sum = 0;
  let whole = 0;
  for (const energy of energies) {
    if (energy <= 1e-12) continue;
    sum += energy * 10 * Math.log10(energy);
    whole += energy;
  }
  return whole > 0 ? sum / whole : 0;
}

/** Mean levels of cells of so many frames and bands. */
function levelsOf(energies: Float64Array, count: number, byFrames: number, byBands: number, own: Decibels): Float32Array {
  const columns = bands / byBands;
  const rows = Math.ceil(count / byFrames);
  const levels = new Float32Array(rows * columns);
  for (let row = 0; row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      let sum = 0;
      const until = Math.min(count, (row + 1) * byFrames);
      for (let n = row * byFrames; n < until; n++)
        for (let band = column * byBands; band < (column + 1) * byBands; band++) sum += energies[n * bands + band]!;
      const mean = sum / (byFrames * byBands);
      levels[row * columns + column] = mean > 0 ? Math.max(floor, 10 * Math.log10(mean) - own) : floor;
    }
  }
  return levels;
}

/**
 * How far two sounds are from each other by ear, in dB: the root mean square difference of their mel-band levels (log-spectral distance, Gray & Markel 1976,
 * over mel bands), mean over three degrees of detail, each place counted by how far it stands out in the louder of both. It is 0 for the same sound,
 * symmetric, and independent of level. Sounds are laid over each other by their beginnings, and from there shifted by up to 100 ms to where their courses fit
 * best.
 */
export function timbreDistance(one: TimbrePrint, other: TimbrePrint): Decibels {
  const [a, b] = inOrder(one, other);
  const lag = bestLag(a.course, b.course);
  let sum = 0;
  for (const [s, scale] of scales.entries())
    sum += difference(a.levels[s]!, b.levels[s]!, bands / scale.bands, Math.round(lag / scale.frames));
  return sum / scales.length;
}

/** Always the same one first, so that both ways give the same. */
function inOrder(one: TimbrePrint, other: TimbrePrint): readonly [TimbrePrint, TimbrePrint] {
  const [a, b] = [one.levels[0]!, other.levels[0]!];
  if (a.length !== b.length) return a.length < b.length ? [one, other] : [other, one];
  let first = 0;
  while (first < a.length && a[first] === b[first]) first++;
  return first < a.length && a[first]! > b[first]! ? [other, one] : [one, other];
}

/** By how many frames the second course must be moved forwards to fit the first; as little as will do. */
function bestLag(a: Float32Array, b: Float32Array): number {
  let best = 0;
  let least = Infinity;
  for (let step = 0; step <= 2 * mostLag; step++) {
    const lag = step % 2 === 0 ? step / 2 : -(step + 1) / 2;
    const off = difference(a, b, 1, lag);
    if (off < least - 1e-9) {
      least = off;
      best = lag;
    }
  }
  return best;
}

/** The difference of two grids of levels, the second one `lag` rows later; beyond their ends both are silent. */
function difference(a: Float32Array, b: Float32Array, columns: number, lag: number): Decibels {
  const shift = lag * columns;
  const from = Math.max(0, shift);
  const to = Math.max(from, Math.min(a.length, b.length + shift));
  let sum = 0;
  let weights = 0;
  for (let i = from; i < to; i++) {
    const x = a[i]!;
    const y = b[i - shift]!;
    const off = x - y;
    // The larger of both without a branch, which nobody could foresee: four times as fast.
    const weight = (x + y + Math.abs(off)) / 2 - floor;
    sum += weight * off * off;
    weights += weight;
  }
  for (const [levels, begin, end] of [
    [a, 0, from],
    [a, to, a.length],
    [b, 0, from - shift],
    [b, to - shift, b.length],
  ] as const) {
    // Beside silence, what stands out is the difference.
    for (let i = Math.max(0, begin); i < Math.min(levels.length, end); i++) {
      const weight = levels[i]! - floor;
      sum += weight * weight * weight;
      weights += weight;
    }
  }
  return weights > 0 ? Math.sqrt(sum / weights) : 0;
}
