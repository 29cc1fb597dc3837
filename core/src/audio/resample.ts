import { getKernels } from '../dsp/compiled/kernels';
import type { Frames, Hertz, Ratio } from '../units';
import type { Audio } from './audio';
import { copyPadded, frameCount } from './audio';
import type { ExactPhases } from './exact-phases';
import { exactPhases, interpolateExactly } from './exact-phases';
import { halfTaps, kernel, prototypeDensity, prototypeKernel } from './sinc-kernel';

/**
 * Kernel positions stored per sample for ratios without a small common period. Linear interpolation between them leaves errors below
 * -118 dB, and the table still fits into a processor's second-level cache, which decides its speed.
 */
const tableDensity = 1024;
const longestExactPeriod = 2048;

/** Length after playing `frames` at `speed`: every output frame lies inside the input. */
export function resampledLength(frames: Frames, speed: Ratio): Frames {
  return frames === 0 ? 0 : Math.max(1, Math.round(frames / speed));
}

/**
 * Converts to another sampling rate without changing pitch or length in seconds.
 * @param sampleRate the new rate in Hz, above 0; throws RangeError otherwise.
 */
export function convertSampleRate(audio: Audio, sampleRate: Hertz): Audio {
  if (!(sampleRate > 0)) throw new RangeError(`The sampling rate ${sampleRate} Hz is not above 0.`);
  if (sampleRate === audio.sampleRate) return audio;
  return convertPart(audio, sampleRate, 0, resampledLength(frameCount(audio), audio.sampleRate / sampleRate));
}

/** Like convertSampleRate, but gives `length` frames from frame `start` of the input on, shaped by what lies around them. */
export function convertPart(audio: Audio, sampleRate: Hertz, start: Frames, length: Frames): Audio {
  return { ...resampleBy(audio, audio.sampleRate, sampleRate, start, length), sampleRate };
}

/**
 * How a conversion goes from one rate to another: inputs per output, outputs after which it comes to a whole input again (1 where that is
 * too far), and inputs on either side that an output may depend on.
 */
export function rateSteps(from: Hertz, to: Hertz): { readonly step: Ratio; readonly period: Frames; readonly reach: Frames } {
  if (!(from > 0 && to > 0)) throw new RangeError(`The sampling rates ${from} and ${to} Hz are not above 0.`);
  const step = from / to;
  return { step, period: smallPeriod(from, to) || 1, reach: Math.ceil(halfTaps * Math.max(1, step)) + 8 };
}

/**
 * Plays the frames from `start` (which may lie between frames) on, `frames` of them, faster or slower so that pitch follows speed, like a tape machine. What lies
 * outside the part still shapes its edges, so that a part sounds as it does within the whole.
 * @param speed 2 is an octave up in half the time; above 0, throws RangeError otherwise.
 */
export function changeSpeed(audio: Audio, speed: Ratio, start: Frames = 0, frames: Frames = frameCount(audio) - start): Audio {
  if (!(speed > 0) || !Number.isFinite(speed)) throw new RangeError(`The speed ${speed} is not above 0.`);
  return resampleBy(audio, speed, 1, start, resampledLength(frames, speed));
}

/**
 * Plays a recording at places that move as they like, so that pitch follows whatever speed they have: `places[i]` is where, in frames that
 * need not be whole, output frame `i` is read. Outside the recording is silence. What a place's speed would alias is removed there.
 */
export function playAlong(audio: Audio, places: Float64Array): Audio {
  const outputs = audio.channels.map(() => new Float32Array(places.length));
  const table = kernelTable(1);
  for (let i = 0; i < places.length; i++) {
    const place = places[i]!;
    const speed = places.length < 2 ? 1 : i === 0 ? places[1]! - place : place - places[i - 1]!;
    const band = speed > 1 ? 1 / speed : speed < -1 ? -1 / speed : 1;
    for (let c = 0; c < outputs.length; c++) {
      const input = audio.channels[c]!;
      // Nothing to remove below the recording's own speed: then every place has its weights ready in a row.
      outputs[c]![i] = band === 1 ? valueByRows(input, place, table) : valueAt(input, place, band);
    }
  }
  return { sampleRate: audio.sampleRate, channels: outputs };
}

/** The input at a place between its samples, by two neighbouring rows of a kernel table. */
function valueByRows(input: Float32Array, position: number, { rows, density, taps }: KernelTable): number {
  const whole = Math.floor(position);
  const place = (position - whole) * density;
  const row = place | 0;
  const base = whole - taps / 2 + 1;
  const from = base < 0 ? -base : 0;
  const to = base + taps > input.length ? input.length - base : taps;
  let lower = 0;
  let upper = 0;
  for (let tap = from, k = row * taps + from; tap < to; tap++, k++) {
    const sample = input[base + tap]!;
    lower += sample * rows[k]!;
    upper += sample * rows[k + taps]!;
  }
  return lower + (upper - lower) * (place - row);
}

/** The input at a place between its samples, band-limited: the kernel's table is read in even steps to both sides of the place. */
function valueAt(input: Float32Array, place: number, band: number): number {
  const table = prototypeKernel();
  const step = band * prototypeDensity;
  const end = table.length - 1;
  const behind = place < 0 ? 0 : (place | 0) + 1;
  let sum = 0;
  let at = behind < input.length ? behind - 1 : input.length - 1;
  for (let x = (place - at) * step; at >= 0 && x < end; at--, x += step) {
    const index = x | 0;
    const low = table[index]!;
    sum += input[at]! * (low + (table[index + 1]! - low) * (x - index));
  }
  at = behind;
  for (let x = (at - place) * step; at < input.length && x < end; at++, x += step) {
    const index = x | 0;
    const low = table[index]!;
    sum += input[at]! * (low + (table[index + 1]! - low) * (x - index));
  }
  return sum * band;
}

function resampleBy(audio: Audio, numerator: number, denominator: number, start: Frames, length: Frames): Audio {
  const step = numerator / denominator;
  const period = Number.isInteger(start) ? smallPeriod(numerator, denominator) : 0;
  const interpolated = period ? byExactPhases(exactPhases(step, period)) : byTable(kernelTable(step), step);
  return { sampleRate: audio.sampleRate, channels: audio.channels.map((input) => interpolated(input, start, length)) };
}

/** Number of output samples after which the kernel phases repeat, or 0 when that is too long to be worth storing. */
function smallPeriod(numerator: number, denominator: number): number {
  if (!Number.isInteger(numerator) || !Number.isInteger(denominator)) return 0;
  let a = numerator;
  let b = denominator;
  while (b) [a, b] = [b, a % b];
  const period = denominator / a;
  return period <= longestExactPeriod ? period : 0;
}

type Interpolate = (input: Float32Array, start: Frames, length: Frames) => Float32Array;

const byExactPhases =
  (phases: ExactPhases): Interpolate =>
  (input, start, length) =>
    interpolateExactly(input, phases, start, length);

const byTable =
  (table: KernelTable, step: Ratio): Interpolate =>
  (input, start, length) =>
    interpolateFast(input, table, step, start, length);

/** Kernel weights phase by phase, so that one output sample reads two neighbouring rows. */
export interface KernelTable {
  readonly rows: Float64Array;
  readonly density: number;
  /** Weights per row, a multiple of 8. */
  readonly taps: number;
}

let fullBandTable: KernelTable | undefined;

/** The table for a speed; for speeds up to 1 it does not depend on the speed and is made once. */
export function kernelTable(step: number): KernelTable {
  if (step > 1) return makeKernelTable(1 / step);
  return (fullBandTable ??= makeKernelTable(1));
}

function makeKernelTable(band: number): KernelTable {
  const reach = 4 * Math.ceil(halfTaps / band / 4);
  const taps = 2 * reach;
  const density = Math.max(64, Math.round(tableDensity * band));
  const rows = new Float64Array((density + 1) * taps);
  for (let row = 0; row <= density; row++) {
    for (let tap = 0; tap < taps; tap++) rows[row * taps + tap] = kernel(tap - reach + 1 - row / density, band);
  }
  return { rows, density, taps };
}

/** Output frames per call of the compiled kernel; keeps its memory small whatever the length. */
const chunkFrames: Frames = 16_384;

/** The compiled kernel where there is one, the reference elsewhere. */
function interpolateFast(input: Float32Array, table: KernelTable, step: number, start: Frames, length: Frames): Float32Array {
  const kernels = getKernels();
  if (!kernels) return interpolate(input, table, step, start, length);
  const { rows, density, taps } = table;
  const inputFrames = Math.ceil(chunkFrames * step) + taps + 4;
  const block = kernels.allocate((rows.length + inputFrames + chunkFrames) * 4);
  const memory = kernels.samples();
  const rowsAt = block.at / 4;
  memory.set(rows, rowsAt);
  const inputAt = rowsAt + rows.length;
  const outputAt = inputAt + inputFrames;
  const output = new Float32Array(length);
  const first = Math.floor(start);
  for (let done = 0; done < length; done += chunkFrames) {
    const count = Math.min(chunkFrames, length - done);
    const place = start - first + done * step;
    const whole = Math.floor(place);
    copyPadded(input, first - taps / 2 + 1 + whole, memory.subarray(inputAt, outputAt));
    kernels.interpolate(inputAt * 4, rowsAt * 4, outputAt * 4, taps, density, step, place - whole, count);
    output.set(memory.subarray(outputAt, outputAt + count), done);
  }
  kernels.release(block);
  return output;
}

/**
 * One output sample after another in plain double precision: two rows of the table, each weighing the same inputs, blended. Four sums
 * run side by side. The reference for the compiled kernel.
 */
export function interpolate(
  source: Float32Array,
  { rows, density, taps }: KernelTable,
  step: number,
  start: Frames,
  length: Frames,
): Float32Array {
  const input = new Float64Array(Math.ceil(length * step) + 2 * taps);
  const first = Math.floor(start);
  copyPadded(source, first - taps / 2 + 1, input);
  const output = new Float32Array(length);
  for (let i = 0; i < length; i++) {
    const position = start - first + i * step;
    const base = Math.floor(position);
    const place = (position - base) * density;
    const row = Math.floor(place);
    let lowerEven = 0;
    let upperEven = 0;
    let lowerOdd = 0;
    let upperOdd = 0;
    for (let tap = 0, k = row * taps; tap < taps; tap += 2, k += 2) {
      const even = input[base + tap]!;
      const odd = input[base + tap + 1]!;
      lowerEven += even * rows[k]!;
      upperEven += even * rows[k + taps]!;
      lowerOdd += odd * rows[k + 1]!;
      upperOdd += odd * rows[k + taps + 1]!;
    }
    const lower = lowerEven + lowerOdd;
    output[i] = lower + (upperEven + upperOdd - lower) * (place - row);
  }
  return output;
}
