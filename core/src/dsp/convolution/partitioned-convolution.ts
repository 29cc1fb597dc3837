import type { Frames } from '../../units';
import type { CompiledResponse } from './compiled-spectra';
import { compiledResponse, CompiledSpectra, isCompiledSize } from './compiled-spectra';
import { getKernels } from '../compiled/kernels';
import type { PlainResponse } from './plain-spectra';
import { plainResponse, PlainSpectra } from './plain-spectra';

/** Frames of a partition unless something else is asked for, and the lag of a convolution. */
export const partitionFrames: Frames = 256;

/** The spectra of the parts of an impulse response; several convolutions can use the same. */
export type ResponseSpectra = CompiledResponse | PlainResponse;

const kernelsFor = (partition: Frames): ReturnType<typeof getKernels> => (isCompiledSize(partition) ? getKernels() : undefined);

/** Transforms an impulse response, part by part of `partition` frames. */
export function responseSpectra(taps: Float64Array, partition = partitionFrames): ResponseSpectra {
  const kernels = kernelsFor(partition);
  return kernels ? compiledResponse(taps, partition, kernels) : plainResponse(taps, partition);
}

/**
 * Convolution in equal partitions in the frequency domain (Gardner 1995, uniform partitions with a frequency-domain delay line). Its
 * output lags by one partition. A changed response fades over from the old one within as many partitions as is asked for.
 */
export class PartitionedConvolution {
  private readonly input: Float32Array;
  private readonly output: Float32Array;
  private readonly formerOutput: Float32Array;
  private readonly spectra: CompiledSpectra | PlainSpectra;
  private at = 0;
  private response: ResponseSpectra | undefined;
  /** What is faded over from, and for how many more partitions of how many. */
  private former: ResponseSpectra | undefined;
  private fading = 0;
  private fade = 0;

  /**
   * @param longest taps of the longest response
   * @param partition frames of a partition, a power of two; larger ones cost less and lag more
   */
  constructor(
    longest: Frames,
    private readonly partition = partitionFrames,
  ) {
    this.input = new Float32Array(partition);
    this.output = new Float32Array(partition);
    this.formerOutput = new Float32Array(partition);
    const parts = Math.max(1, Math.ceil(longest / partition));
    const kernels = kernelsFor(partition);
    this.spectra = kernels ? new CompiledSpectra(parts, partition, kernels) : new PlainSpectra(parts, partition);
  }

  /** Forgets the sound, not the response. */
  reset(): void {
    this.spectra.reset();
    this.output.fill(0);
    this.at = 0;
    this.former = undefined;
  }

  /**
   * Takes another response, no longer than the longest.
   * @param fade number of partitions, from the next on, that fade over to it; 0 for at once. A fade that is not over yet jumps to its end.
   */
  use(response: ResponseSpectra, fade: number): void {
    this.former = fade > 0 ? this.response : undefined;
    this.fade = this.fading = fade;
    this.response = response;
  }

  /** Takes samples, as many at a time as fill partitions up exactly, and no others by `next`. */
  write(samples: Float32Array): void {
    this.spectra.write(samples, this.at);
    this.at += samples.length;
    if (this.at === this.partition) this.transform();
  }

  /** Adds what comes out in the frames that `write` will take next. */
  addNext(output: Float32Array): void {
    const { output: own, at } = this;
    const frames = output.length;
    for (let i = 0; i < frames; i++) output[i] = output[i]! + own[at + i]!;
  }

  next(sample: number): number {
    const heard = this.output[this.at]!;
    this.input[this.at] = sample;
    if (++this.at === this.partition) {
      this.spectra.write(this.input, 0);
      this.transform();
    }
    return heard;
  }

  private transform(): void {
    this.at = 0;
    this.spectra.push();
    this.convolve(this.response, this.output);
    if (!this.former) return;
    this.convolve(this.former, this.formerOutput);
    const length = this.fade * this.partition;
    const done = (this.fade - this.fading) * this.partition;
    for (let i = 0; i < this.partition; i++) {
      const share = (done + i + 0.5) / length;
      this.output[i] = this.formerOutput[i]! + (this.output[i]! - this.formerOutput[i]!) * share;
    }
    if (--this.fading === 0) this.former = undefined;
  }

  private convolve(response: ResponseSpectra | undefined, into: Float32Array): void {
    const { spectra } = this;
    if (response?.kind === 'compiled' && spectra instanceof CompiledSpectra) {
      spectra.convolve(response);
      spectra.read(into);
    } else if (response?.kind === 'plain' && spectra instanceof PlainSpectra) spectra.convolve(response, into);
    else into.fill(0);
  }
}
