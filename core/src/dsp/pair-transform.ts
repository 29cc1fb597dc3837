import type { Frames } from '../units';
import type { KernelBlock, Kernels } from './compiled/kernels';
import { getKernels } from './compiled/kernels';
import { putTurns } from './compiled/turns';
import { RealFft } from './fft';

/**
 * Short-time spectra of two channels at once: left and right as one complex signal. Z[k] and Z[size − k] together hold bin k of both: what turns
 * Z[k] by an angle, and Z[size − k] by its opposite, turns bin k of both channels; |Z[k]|² + |Z[size − k]|² is twice the power of both.
 *
 * Spectra lie in `memory` from where `allocate` says: groups of four real parts and their four imaginary parts, the bins in an order of
 * their own. Bin k's real part is `places[k]` behind the beginning, its imaginary part 4 behind that. Single precision: errors are near -140 dB.
 */
export interface PairTransform {
  readonly size: Frames;
  /** Where bins 0 to size − 1 are. */
  readonly places: Int32Array;
  /** The memory that all spectra of this transform lie in; the view is stale after the next `allocate` of anything. */
  memory(): Float32Array;
  /** Room for a spectrum, or for so many samples; returns where in the memory it begins. */
  allocate(samples?: number): number;
  /** Takes the windowed samples from `start` on, which must all be there; one channel where there is no `right`. */
  forward(left: Float32Array, right: Float32Array | undefined, start: Frames, into: number): void;
  /** Puts samples, times the size, in the place of their spectrum: sample i of the left is at `(i >> 2) · 8 + (i & 3)`, that of the right 4 behind it. */
  inverse(at: number): void;
  /** The kernels whose memory this is, for more work on spectra, and the byte address of a table of where bins are, in bytes; undefined where there are none. */
  readonly compiled: { readonly kernels: Kernels; readonly places: number } | undefined;
}

/** A transform of `size` samples, a power of two of at least 64, under a window: compiled where that is to be had. */
export function pairTransform(size: Frames, window: Float64Array): PairTransform {
  const kernels = getKernels();
  return kernels ? new CompiledPairs(size, window, kernels) : new PlainPairs(size, window);
}

/** Where sample or bin i lies in groups of four. */
const grouped = (i: number): number => ((i >> 2) << 3) | (i & 3);

class CompiledPairs implements PairTransform {
  readonly places: Int32Array;
  private readonly window: KernelBlock;
  private readonly input: KernelBlock;
  private readonly turns: KernelBlock;
  private readonly halves: KernelBlock;
  /** Kept, so that nobody else is given them. */
  private readonly blocks: KernelBlock[] = [];
  readonly compiled: { readonly kernels: Kernels; readonly places: number };

  constructor(
    readonly size: Frames,
    window: Float64Array,
    private readonly kernels: Kernels,
  ) {
    this.window = kernels.allocate(4 * size);
    this.input = kernels.allocate(8 * size);
    this.turns = kernels.allocate(8 * size);
    this.halves = kernels.allocate(4 * size);
    const samples = kernels.samples();
    samples.set(window, this.window.at / 4);
    putTurns(samples, this.halves.at / 4, size, [1], size / 2);
    let at = this.turns.at / 4;
    for (let length = Math.log2(size) % 2 === 0 ? size : size / 2; length >= 16; length /= 4)
      at = putTurns(samples, at, length, [1, 2, 3], length / 4);
    this.places = this.findPlaces(window);
    const table = this.allocate(size);
    kernels.integers().set(
      this.places.map((place) => 4 * place),
      table,
    );
    this.compiled = { kernels, places: 4 * table };
  }

  /** An impulse one sample behind the beginning tells which bin is where by its angle. */
  private findPlaces(window: Float64Array): Int32Array {
    const { size } = this;
    const at = this.allocate();
    const impulse = new Float32Array(size);
    impulse[1] = 1 / window[1]!;
    this.forward(impulse, undefined, 0, at);
    const memory = this.memory();
    const places = new Int32Array(size);
    for (let i = 0; i < size; i++) {
      const place = grouped(i);
      const turn = -Math.atan2(memory[at + place + 4]!, memory[at + place]!) / (2 * Math.PI);
      places[(Math.round(turn * size) + size) % size] = place;
    }
    this.kernels.release(this.blocks.pop()!);
    return places;
  }

  memory(): Float32Array {
    return this.kernels.samples();
  }

  allocate(samples = 2 * this.size): number {
    const block = this.kernels.allocate(4 * samples);
    this.blocks.push(block);
    return block.at / 4;
  }

  forward(left: Float32Array, right: Float32Array | undefined, start: Frames, into: number): void {
    const { kernels, size, input } = this;
    const samples = kernels.samples();
    const at = input.at / 4;
    samples.set(left.subarray(start, start + size), at);
    if (right) samples.set(right.subarray(start, start + size), at + size);
    else samples.fill(0, at + size, at + 2 * size);
    kernels.forwardPair(input.at, input.at + 4 * size, this.window.at, 4 * into, this.halves.at, this.turns.at, size);
  }

  inverse(at: number): void {
    const { kernels, size } = this;
    kernels.inversePair(4 * at, this.halves.at, this.turns.at, size);
  }
}

/** The same in plain double precision; what is stored is single. */
export class PlainPairs implements PairTransform {
  readonly compiled = undefined;
  readonly places: Int32Array;
  private stored = new Float32Array(0);
  private readonly fft: RealFft;
  private readonly frames: readonly Float64Array[];
  private readonly re: readonly Float64Array[];
  private readonly im: readonly Float64Array[];

  constructor(
    readonly size: Frames,
    private readonly window: Float64Array,
  ) {
    this.fft = new RealFft(size);
    const pair = (length: number): Float64Array[] => [new Float64Array(length), new Float64Array(length)];
    this.frames = pair(size);
    this.re = pair(this.fft.bins);
    this.im = pair(this.fft.bins);
    this.places = Int32Array.from({ length: size }, (_, k) => grouped(k));
  }

  memory(): Float32Array {
    return this.stored;
  }

  allocate(samples = 2 * this.size): number {
    const at = this.stored.length;
    const grown = new Float32Array(at + samples);
    grown.set(this.stored);
    this.stored = grown;
    return at;
  }

  forward(left: Float32Array, right: Float32Array | undefined, start: Frames, into: number): void {
    const { size, window, frames, fft, re, im, stored, places } = this;
    [left, right].forEach((channel, c) => {
      for (let i = 0; i < size; i++) frames[c]![i] = channel ? channel[start + i]! * window[i]! : 0;
      fft.forward(frames[c]!, re[c]!, im[c]!);
    });
    for (let k = 0; k <= size / 2; k++) {
      const at = into + places[k]!;
      const mirrored = into + places[(size - k) % size]!;
      stored[mirrored] = re[0]![k]! + im[1]![k]!;
      stored[mirrored + 4] = re[1]![k]! - im[0]![k]!;
      stored[at] = re[0]![k]! - im[1]![k]!;
      stored[at + 4] = im[0]![k]! + re[1]![k]!;
    }
  }

  inverse(at: number): void {
    const { size, frames, fft, re, im, stored, places } = this;
    for (let k = 0; k <= size / 2; k++) {
      const one = at + places[k]!;
      const other = at + places[(size - k) % size]!;
      re[0]![k] = (stored[one]! + stored[other]!) / 2;
      im[0]![k] = (stored[one + 4]! - stored[other + 4]!) / 2;
      re[1]![k] = (stored[one + 4]! + stored[other + 4]!) / 2;
      im[1]![k] = (stored[other]! - stored[one]!) / 2;
    }
    frames.forEach((frame, c) => {
      fft.inverse(re[c]!, im[c]!, frame);
      for (let i = 0; i < size; i++) stored[at + grouped(i) + 4 * c] = size * frame[i]!;
    });
  }
}
