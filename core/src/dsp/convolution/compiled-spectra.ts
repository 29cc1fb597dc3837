import type { Frames } from '../../units';
import type { KernelBlock, Kernels } from '../compiled/kernels';
import { putTurns } from '../compiled/turns';

/** The spectra of a response, one partition after another in the kernels' memory. */
export interface CompiledResponse {
  readonly kind: 'compiled';
  readonly parts: number;
  readonly spectra: KernelBlock;
}

/** Factors of the transforms of one partition size (see core/kernels/transform.ts). */
interface Factors {
  readonly twists: KernelBlock;
  readonly turns: KernelBlock;
}

const factorsBySize = new Map<Frames, Factors>();

/** Bytes of a spectrum: a complex number in single precision for each frame. */
const spectrumBytes = (partition: Frames): number => 8 * partition;

/** True for the sizes that the kernel transforms. */
export function isCompiledSize(partition: Frames): boolean {
  return partition >= 64 && Number.isInteger(Math.log2(partition) / 2);
}

function factorsOf(partition: Frames, kernels: Kernels): Factors {
  const known = factorsBySize.get(partition);
  if (known) return known;
  const twists = kernels.allocate(spectrumBytes(partition));
  const turns = kernels.allocate(spectrumBytes(partition));
  const samples = kernels.samples();
  putTurns(samples, twists.at / 4, partition, [0, 1, 2, 3], partition / 4, 1 / (4 * partition));
  let at = turns.at / 4;
  for (let length = partition / 4; length >= 16; length /= 4) at = putTurns(samples, at, length, [1, 2, 3], length / 4);
  const factors = { twists, turns };
  factorsBySize.set(partition, factors);
  return factors;
}

/** Transforms an impulse response part by part. */
export function compiledResponse(taps: Float64Array, partition: Frames, kernels: Kernels): CompiledResponse {
  const { twists, turns } = factorsOf(partition, kernels);
  const parts = Math.ceil(taps.length / partition);
  const spectra = kernels.allocate(Math.max(1, parts) * spectrumBytes(partition));
  const part = kernels.allocate(spectrumBytes(partition));
  const samples = kernels.samples();
  const from = part.at / 4;
  for (let p = 0; p < parts; p++) {
    // The way back multiplies by the size of the transform.
    for (let i = 0; i < partition; i++) samples[from + i] = (taps[p * partition + i] ?? 0) / partition;
    kernels.forward(part.at, part.at + 4 * partition, spectra.at + p * spectrumBytes(partition), twists.at, turns.at, partition);
  }
  kernels.release(part);
  return { kind: 'compiled', parts, spectra };
}

/** The latest spectra of a sound and their products with those of a response, in compiled single precision. */
export class CompiledSpectra {
  private readonly factors: Factors;
  /** The two latest partitions of the sound, in turns. */
  private readonly halves: KernelBlock;
  private readonly past: KernelBlock;
  private readonly sum: KernelBlock;
  private newest = 0;
  private later = 0;

  /** @param parts partitions of the longest response */
  constructor(
    private readonly parts: number,
    private readonly partition: Frames,
    private readonly kernels: Kernels,
  ) {
    this.factors = factorsOf(partition, kernels);
    this.halves = kernels.allocate(8 * partition);
    this.past = kernels.allocate(parts * spectrumBytes(partition));
    this.sum = kernels.allocate(spectrumBytes(partition) + 4 * partition);
  }

  reset(): void {
    const { halves, past, parts, partition, result } = this;
    const samples = this.kernels.samples();
    samples.fill(0, result / 4, result / 4 + partition);
    samples.fill(0, halves.at / 4, halves.at / 4 + 2 * partition);
    samples.fill(0, past.at / 4, past.at / 4 + 2 * parts * partition);
    this.newest = this.later = 0;
  }

  /** Writes part of the next partition of the sound, from frame `at` of it on. */
  write(frames: Float32Array, at: Frames): void {
    this.kernels.samples().set(frames, this.half(this.later) / 4 + at);
  }

  /** Takes the partition that was written. */
  push(): void {
    const { kernels, past, partition, factors, later } = this;
    this.newest = this.newest === 0 ? this.parts - 1 : this.newest - 1;
    const into = past.at + this.newest * spectrumBytes(partition);
    kernels.forward(this.half(1 - later), this.half(later), into, factors.twists.at, factors.turns.at, partition);
    this.later = 1 - later;
  }

  private half(which: number): number {
    return this.halves.at + 4 * which * this.partition;
  }

  /** Works out what the response makes of the partition that was pushed last; `result` tells where that is. */
  convolve(response: CompiledResponse): void {
    const { kernels, past, sum, parts, partition, factors } = this;
    kernels.accumulate(past.at, parts, this.newest, response.spectra.at, Math.min(response.parts, parts), sum.at, partition);
    kernels.inverse(sum.at, this.result, factors.twists.at, factors.turns.at, partition);
  }

  /** Byte address of the partition that was worked out last. */
  get result(): number {
    return this.sum.at + spectrumBytes(this.partition);
  }

  /** Copies it. */
  read(into: Float32Array): void {
    const from = this.result / 4;
    into.set(this.kernels.samples().subarray(from, from + this.partition));
  }
}
