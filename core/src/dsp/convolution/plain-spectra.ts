import type { Frames } from '../../units';
import { RealFft } from '../fft';

/** The spectra of a response in parts of one partition. */
export interface PlainResponse {
  readonly kind: 'plain';
  readonly parts: number;
  readonly re: readonly Float64Array[];
  readonly im: readonly Float64Array[];
}

/** Transforms an impulse response part by part. */
export function plainResponse(taps: Float64Array, partition: Frames): PlainResponse {
  const fft = new RealFft(2 * partition);
  const parts = Math.ceil(taps.length / partition);
  const part = new Float64Array(2 * partition);
  const re = Array.from({ length: parts }, () => new Float64Array(fft.bins));
  const im = Array.from({ length: parts }, () => new Float64Array(fft.bins));
  for (let p = 0; p < parts; p++) {
    part.fill(0);
    part.set(taps.subarray(p * partition, (p + 1) * partition));
    fft.forward(part, re[p]!, im[p]!);
  }
  return { kind: 'plain', parts, re, im };
}

/** The latest spectra of a sound and their products with those of a response, in double precision: the reference for the compiled kernel. */
export class PlainSpectra {
  private readonly fft: RealFft;
  private readonly block: Float64Array;
  private readonly work: Float64Array;
  private readonly sumRe: Float64Array;
  private readonly sumIm: Float64Array;
  private readonly pastRe: Float64Array[];
  private readonly pastIm: Float64Array[];
  private newest = 0;

  /** @param parts partitions of the longest response */
  constructor(
    parts: number,
    private readonly partition: Frames,
  ) {
    this.fft = new RealFft(2 * partition);
    const { bins } = this.fft;
    this.block = new Float64Array(2 * partition);
    this.work = new Float64Array(2 * partition);
    this.sumRe = new Float64Array(bins);
    this.sumIm = new Float64Array(bins);
    this.pastRe = Array.from({ length: parts }, () => new Float64Array(bins));
    this.pastIm = Array.from({ length: parts }, () => new Float64Array(bins));
  }

  reset(): void {
    this.block.fill(0);
    for (const spectrum of [...this.pastRe, ...this.pastIm]) spectrum.fill(0);
    this.newest = 0;
  }

  /** Writes part of the next partition of the sound, from frame `at` of it on. */
  write(samples: Float32Array, at: Frames): void {
    this.block.set(samples, this.partition + at);
  }

  /** Takes the partition that was written. */
  push(): void {
    this.newest = this.newest === 0 ? this.pastRe.length - 1 : this.newest - 1;
    this.fft.forward(this.block, this.pastRe[this.newest]!, this.pastIm[this.newest]!);
    this.block.copyWithin(0, this.partition);
  }

  /** What the response makes of the partition that was pushed last. */
  convolve(response: PlainResponse, into: Float32Array): void {
    const { sumRe, sumIm, partition, pastRe, pastIm } = this;
    const { bins } = this.fft;
    sumRe.fill(0);
    sumIm.fill(0);
    for (let p = 0; p < Math.min(response.parts, pastRe.length); p++) {
      const past = (this.newest + p) % pastRe.length;
      const aRe = pastRe[past]!;
      const aIm = pastIm[past]!;
      const bRe = response.re[p]!;
      const bIm = response.im[p]!;
      for (let k = 0; k < bins; k++) {
        sumRe[k]! += aRe[k]! * bRe[k]! - aIm[k]! * bIm[k]!;
        sumIm[k]! += aRe[k]! * bIm[k]! + aIm[k]! * bRe[k]!;
      }
    }
    this.fft.inverse(sumRe, sumIm, this.work);
    // The first half is wrapped around; below the finest sample there is only rounding.
    for (let i = 0; i < partition; i++) {
      const sample = this.work[partition + i]!;
      into[i] = sample < 1e-20 && sample > -1e-20 ? 0 : sample;
    }
  }
}
