import type { Frames } from '../units';
import { RealFft } from './fft';

/** Frames of a partition unless something else is asked for, and the lag of a convolution. */
export const partitionFrames: Frames = 256;

/** The spectra of the parts of an impulse response; several convolutions can use the same. */
export interface ResponseSpectra {
  readonly re: readonly Float64Array[];
  readonly im: readonly Float64Array[];
}

/** Transforms an impulse response, part by part of `partition` frames. */
export function responseSpectra(taps: Float64Array, partition = partitionFrames): ResponseSpectra {
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
  return { re, im };
}

/**
 * Convolution in equal partitions in the frequency domain (Gardner 1995, uniform partitions with a frequency-domain delay line). Its
 * output lags by one partition. A changed response fades over from the old one within a partition.
 */
export class PartitionedConvolution {
  private readonly fft: RealFft;
  private readonly input: Float64Array;
  private readonly output: Float64Array;
  private readonly work: Float64Array;
  private readonly sumRe: Float64Array;
  private readonly sumIm: Float64Array;
  private readonly pastRe: Float64Array[];
  private readonly pastIm: Float64Array[];
  private newest = 0;
  private at = 0;
  private response: ResponseSpectra | undefined;
  private former: ResponseSpectra | undefined;
  private readonly formerOutput: Float64Array;

  /**
   * @param longest taps of the longest response
   * @param partition frames of a partition, a power of two; larger ones cost less and lag more
   */
  constructor(
    longest: Frames,
    private readonly partition = partitionFrames,
  ) {
    this.fft = new RealFft(2 * partition);
    const { bins } = this.fft;
    const parts = Math.max(1, Math.ceil(longest / partition));
    this.input = new Float64Array(2 * partition);
    this.work = new Float64Array(2 * partition);
    this.output = new Float64Array(partition);
    this.formerOutput = new Float64Array(partition);
    this.sumRe = new Float64Array(bins);
    this.sumIm = new Float64Array(bins);
    this.pastRe = Array.from({ length: parts }, () => new Float64Array(bins));
    this.pastIm = Array.from({ length: parts }, () => new Float64Array(bins));
  }

  /** Forgets the sound, not the response. */
  reset(): void {
    this.input.fill(0);
    this.output.fill(0);
    for (const spectrum of [...this.pastRe, ...this.pastIm]) spectrum.fill(0);
    this.newest = this.at = 0;
    this.former = undefined;
  }

  /** Takes another response, no longer than the longest; while sound runs, the next partition fades over to it. */
  use(response: ResponseSpectra, fade: boolean): void {
    this.former = fade ? (this.former ?? this.response) : undefined;
    this.response = response;
  }

  next(sample: number): number {
    const heard = this.output[this.at]!;
    this.input[this.partition + this.at] = sample;
    if (++this.at === this.partition) this.transform();
    return heard;
  }

  private transform(): void {
    this.at = 0;
    this.newest = this.newest === 0 ? this.pastRe.length - 1 : this.newest - 1;
    this.fft.forward(this.input, this.pastRe[this.newest]!, this.pastIm[this.newest]!);
    this.input.copyWithin(0, this.partition);
    this.convolve(this.response, this.output);
    if (!this.former) return;
    this.convolve(this.former, this.formerOutput);
    this.former = undefined;
    for (let i = 0; i < this.partition; i++) {
      const share = (i + 0.5) / this.partition;
      this.output[i] = this.formerOutput[i]! + (this.output[i]! - this.formerOutput[i]!) * share;
    }
  }

  private convolve(response: ResponseSpectra | undefined, into: Float64Array): void {
    if (!response) {
      into.fill(0);
      return;
    }
    const { sumRe, sumIm, partition } = this;
    const { bins } = this.fft;
    sumRe.fill(0);
    sumIm.fill(0);
    for (let p = 0; p < Math.min(response.re.length, this.pastRe.length); p++) {
      const past = (this.newest + p) % this.pastRe.length;
      const aRe = this.pastRe[past]!;
      const aIm = this.pastIm[past]!;
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
