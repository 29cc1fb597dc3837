import type { Frames } from '../units';
import { RealFft } from './fft';

/** Frames of a partition, and the lag of a convolution. */
export const partitionFrames: Frames = 256;
const size = 2 * partitionFrames;
const bins = partitionFrames + 1;

/** The spectra of the parts of an impulse response. */
interface Response {
  readonly re: Float64Array[];
  readonly im: Float64Array[];
}

/**
 * Convolution in equal partitions in the frequency domain (Gardner 1995, uniform partitions with a frequency-domain delay line). Its
 * output lags by one partition. A changed response fades over from the old one within a partition.
 */
export class PartitionedConvolution {
  private readonly fft = new RealFft(size);
  private readonly input = new Float64Array(size);
  private readonly output = new Float64Array(partitionFrames);
  private readonly work = new Float64Array(size);
  private readonly sumRe = new Float64Array(bins);
  private readonly sumIm = new Float64Array(bins);
  private readonly pastRe: Float64Array[];
  private readonly pastIm: Float64Array[];
  private newest = 0;
  private at = 0;
  private response: Response | undefined;
  private former: Response | undefined;
  private readonly formerOutput = new Float64Array(partitionFrames);

  /** @param longest taps of the longest response */
  constructor(longest: Frames) {
    const parts = Math.max(1, Math.ceil(longest / partitionFrames));
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

  /** Takes another impulse response; while sound runs, the next partition fades over to it. */
  use(taps: Float64Array, fade: boolean): void {
    const parts = Math.min(this.pastRe.length, Math.ceil(taps.length / partitionFrames));
    const part = new Float64Array(size);
    const re: Float64Array[] = [];
    const im: Float64Array[] = [];
    for (let p = 0; p < parts; p++) {
      part.fill(0);
      part.set(taps.subarray(p * partitionFrames, (p + 1) * partitionFrames));
      re.push(new Float64Array(bins));
      im.push(new Float64Array(bins));
      this.fft.forward(part, re[p]!, im[p]!);
    }
    this.former = fade ? (this.former ?? this.response) : undefined;
    this.response = { re, im };
  }

  next(sample: number): number {
    const heard = this.output[this.at]!;
    this.input[partitionFrames + this.at] = sample;
    if (++this.at === partitionFrames) this.transform();
    return heard;
  }

  private transform(): void {
    this.at = 0;
    this.newest = this.newest === 0 ? this.pastRe.length - 1 : this.newest - 1;
    this.fft.forward(this.input, this.pastRe[this.newest]!, this.pastIm[this.newest]!);
    this.input.copyWithin(0, partitionFrames);
    this.convolve(this.response, this.output);
    if (!this.former) return;
    this.convolve(this.former, this.formerOutput);
    this.former = undefined;
    for (let i = 0; i < partitionFrames; i++) {
      const share = (i + 0.5) / partitionFrames;
      this.output[i] = this.formerOutput[i]! + (this.output[i]! - this.formerOutput[i]!) * share;
    }
  }

  private convolve(response: Response | undefined, into: Float64Array): void {
    if (!response) {
      into.fill(0);
      return;
    }
    const { sumRe, sumIm } = this;
    sumRe.fill(0);
    sumIm.fill(0);
    for (let p = 0; p < response.re.length; p++) {
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
    for (let i = 0; i < partitionFrames; i++) {
      const sample = this.work[partitionFrames + i]!;
      into[i] = sample < 1e-20 && sample > -1e-20 ? 0 : sample;
    }
  }
}
