import type { Frames, Ratio } from '../units';
import type { KernelBlock, Kernels } from './compiled/kernels';
import { getKernels } from './compiled/kernels';
import { kaiser, sinc } from './kaiser';

/** Samples to each side that shape the values between two of them. */
export const interSampleReach: Frames = 24;
const taps: Frames = 2 * interSampleReach;
/** Places from one sample to the next that are looked at. */
const places = 8;
/** Kaiser's β: the filter is flat within 0.015 dB up to 22 kHz at 48 kHz, up to 20 kHz at 44.1 kHz. */
const beta = 6;
/** Frames that are read at once. */
const run: Frames = 128;
/** The kernel works on eight values at a time, and may write and read so many beyond the last. */
const overhang: Frames = 8;

/**
 * Where a band-limited signal reaches a height, it reaches this part of it at the nearest of its samples and the values half-way between them, and that part with the
 * values at the quarters, too: near its top it falls no faster than the steepest sine (Bernstein's inequality), that is, by cos π/4 and cos π/8. A little less here, for
 * filters are not ideal.
 */
const atHalves: Ratio = 0.65;
const atQuarters: Ratio = 0.9;

/**
 * Both hold for the highest places of a signal. Beside what is far higher, a small peak can be steeper than a sine of its own height: where samples reach so many times what
 * matters, everything is read closely.
 */
const farHigher: Ratio = 5;
/** What matters where everything does. */
const everything = -1;

/** Weights of the samples around `fraction` of the way from one to the next: a windowed sinc, as in ITU-R BS.1770-5 annex 2, of greater length. */
function interpolator(fraction: Ratio): Float64Array {
  const weights = Float64Array.from({ length: taps }, (_, tap) => {
    const x = tap - interSampleReach + 1 - fraction;
    return sinc(x) * kaiser(x / interSampleReach, beta);
  });
  const sum = weights.reduce((whole, weight) => whole + weight, 0);
  return weights.map((weight) => weight / sum);
}

let rows: readonly Float64Array[] | undefined;
const weightRows = (): readonly Float64Array[] => (rows ??= Array.from({ length: places - 1 }, (_, n) => interpolator((n + 1) / places)));

/**
 * Reads how high one channel goes, at its samples and between them, as it comes: eight places from each sample to the next and a parabola through the highest three. A sine
 * of up to 20 kHz at 44.1 kHz or more is read within 0.02 dB, wherever its samples lie.
 */
export class InterSampleReader {
  private readonly reading: Reading;
  /** The highest sample lately, and for how many more frames it is near. */
  private highest = 0;
  private near: Frames = 0;

  /** @param compiled false for the reference in plain TypeScript */
  constructor(compiled = true) {
    const kernels = compiled ? getKernels() : undefined;
    this.reading = kernels ? new CompiledReading(kernels) : new PlainReading();
  }

  reset(): void {
    this.reading.reset();
    this.highest = this.near = 0;
  }

  /**
   * Takes in the samples from `from` to `to`. Into `peaks`, from 0 on, goes for each of them the greatest magnitude from the sample that came `interSampleReach` before it to
   * the one behind that, the first of both included. What does not matter is read less closely: where the peak is certainly not above `matters`, what is given isn't either.
   * @param late gets the samples that came `interSampleReach` before
   */
  read(samples: Float32Array, from: Frames, to: Frames, matters: number, peaks: Float32Array, late?: Float32Array): void {
    for (let start = from; start < to; start += run) {
      const frames = Math.min(run, to - start);
      const closely = this.highestNear(samples, start, frames) > matters * farHigher;
      this.reading.read(samples, start, frames, closely ? everything : matters, peaks, start - from, late);
    }
  }

  /** The highest magnitude of the next samples and of those that shape what lies between them. */
  private highestNear(samples: Float32Array, from: Frames, frames: Frames): number {
    let highest = 0;
    for (let i = from; i < from + frames; i++) highest = Math.max(highest, Math.abs(samples[i]!));
    if (this.near <= 0 || highest >= this.highest) {
      this.highest = highest;
      this.near = taps + run;
    } else this.near -= frames;
    return this.highest;
  }
}

interface Reading {
  reset(): void;
  read(samples: Float32Array, from: Frames, frames: Frames, matters: number, peaks: Float32Array, into: Frames, late?: Float32Array): void;
}

/** Rows of weights in the kernels' memory, the same for all readers. */
let sharedRows: { readonly kernels: Kernels; readonly block: KernelBlock } | undefined;

function compiledRows(kernels: Kernels): KernelBlock {
  if (sharedRows?.kernels !== kernels) {
    const block = kernels.allocate(4 * taps * (places - 1));
    for (const [n, row] of weightRows().entries()) kernels.samples().set(row, block.at / 4 + n * taps);
    sharedRows = { kernels, block };
  }
  return sharedRows.block;
}

class CompiledReading implements Reading {
  private readonly rows: KernelBlock;
  /** One sample, a window and what comes behind it; then the values half-way, and the peaks. */
  private readonly block: KernelBlock;
  private readonly halves: number;
  private readonly output: number;

  constructor(private readonly kernels: Kernels) {
    this.rows = compiledRows(kernels);
    const input = taps + run + overhang;
    this.block = kernels.allocate(4 * (input + 2 * (run + overhang)));
    this.halves = this.block.at + 4 * input;
    this.output = this.halves + 4 * (run + overhang);
  }

  reset(): void {
    const start = this.block.at / 4;
    this.kernels.samples().fill(0, start, start + taps);
  }

  read(samples: Float32Array, from: Frames, frames: Frames, matters: number, peaks: Float32Array, into: Frames, late?: Float32Array): void {
    const { kernels, block, halves, output } = this;
    const memory = kernels.samples();
    const start = block.at / 4;
    memory.set(samples.subarray(from, from + frames), start + taps);
    kernels.peaksBetween(block.at, this.rows.at, halves, output, frames, matters * atHalves, matters * atQuarters);
    peaks.set(memory.subarray(output / 4, output / 4 + frames), into);
    late?.set(memory.subarray(start + interSampleReach, start + interSampleReach + frames), into);
    memory.copyWithin(start, start + frames, start + frames + taps);
  }
}

/** As the kernel does it, for where there is none. */
class PlainReading implements Reading {
  private readonly input = new Float32Array(taps + run);

  reset(): void {
    this.input.fill(0, 0, taps);
  }

  read(samples: Float32Array, from: Frames, frames: Frames, matters: number, peaks: Float32Array, into: Frames, late?: Float32Array): void {
    const { input } = this;
    for (let i = 0; i < frames; i++) input[taps + i] = samples[from + i]!;
    for (let i = 0; i < frames; i++) peaks[into + i] = peakPlain(input, i + 1, matters);
    if (late) for (let i = 0; i < frames; i++) late[into + i] = input[interSampleReach + i]!;
    input.copyWithin(0, frames, frames + taps);
  }
}

/** The greatest magnitude in the middle interval of the window that begins at `window`. */
function peakPlain(input: Float32Array, window: number, matters: number): number {
  const weights = weightRows();
  const valueAt = (eighth: number): number => {
    if (eighth < 0) return valueOf(weights[places - 2]!, input, window - 1);
    return eighth % places === 0 ? input[window + interSampleReach - 1 + eighth / places]! : valueOf(weights[eighth - 1]!, input, window);
  };
  const half = valueAt(places / 2);
  let peak = Math.max(Math.abs(valueAt(0)), Math.abs(half));
  const next = Math.abs(valueAt(places));
  if (Math.max(peak, next) <= matters * atHalves) return peak;
  peak = Math.max(peak, Math.abs(valueAt(places / 4)), Math.abs(valueAt((3 * places) / 4)));
  if (Math.max(peak, next) <= matters * atQuarters) return peak;
  for (let eighth = 0; eighth < places; eighth++)
    peak = Math.max(peak, top(valueAt(eighth - 1), eighth === places / 2 ? half : valueAt(eighth), valueAt(eighth + 1)));
  return peak;
}

function valueOf(weights: Float64Array, input: Float32Array, window: number): number {
  let sum = 0;
  for (let tap = 0; tap < taps; tap++) sum += weights[tap]! * input[window + tap]!;
  return sum;
}

/** The top of the parabola through three values at equal distances, as a magnitude, where the middle one is the highest; otherwise 0. */
function top(before: number, at: number, after: number): number {
  const sign = at < 0 ? -1 : 1;
  const [left, height, right] = [before * sign, at * sign, after * sign];
  if (height < left || height < right) return 0;
  const curve = left - 2 * height + right;
  return curve < 0 ? height - (left - right) ** 2 / (8 * curve) : height;
}
