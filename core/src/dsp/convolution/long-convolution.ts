import type { Frames } from '../../units';
import { CompiledLongConvolution } from './compiled-long-convolution';
import type { CompiledResponse } from './compiled-spectra';
import { getKernels } from '../compiled/kernels';
import type { ResponseSpectra } from './partitioned-convolution';
import { PartitionedConvolution, partitionFrames, responseSpectra } from './partitioned-convolution';

/**
 * Larger partitions for what comes later in a response. The sums over them cost less, their transforms more; and what is summed over must
 * come from memory, which is slower than the numbers themselves. So each is for responses that have many of the next smaller ones.
 */
const laterPartitions: readonly { readonly size: Frames; readonly fromTaps: Frames }[] = [
  { size: 4_096, fromTaps: 0 },
  { size: 16_384, fromTaps: 48_000 },
];

/** A stretch of an impulse response in partitions of one size. */
interface Stretch<Spectra = ResponseSpectra> {
  readonly partition: Frames;
  readonly spectra: Spectra;
}

/** An impulse response in the form that the convolution needs. */
export type LongResponse = readonly Stretch[];

/** @param first size of the first partitions, a power of four: how much the convolution lags. Longer ones make it quicker. */
export function longResponse(taps: Float64Array, first = partitionFrames): LongResponse {
  const later = laterPartitions.filter(({ size, fromTaps }) => size > first && taps.length > fromTaps);
  const sizes = [first, ...later.map(({ size }) => size)];
  // A stretch begins as much later as its output lags more.
  const starts = sizes.map((size) => size - first);
  return sizes
    .map((partition, i) => ({ partition, spectra: responseSpectra(taps.subarray(starts[i], starts[i + 1]), partition) }))
    .filter(({ spectra }, i) => i === 0 || spectra.parts > 0);
}

/**
 * Convolution with long responses in partitions of several sizes (Gardner 1995): small ones for the beginning, so that the output lags by
 * one of them only, and larger and larger ones, which cost a fraction, for all the rest.
 */
export class LongConvolution {
  /** What comes out from `at` on was worked out before what comes in there. */
  readonly output: Float32Array;
  readonly input: Float32Array;
  private place: Frames = 0;
  private readonly stretches: CompiledLongConvolution | PlainLongConvolution;

  /** @param size of the first partitions of the response, in frames */
  constructor(
    response: LongResponse,
    readonly size = partitionFrames,
  ) {
    this.output = new Float32Array(size);
    this.input = new Float32Array(size);
    const kernels = getKernels();
    this.stretches =
      kernels && isCompiled(response) ? new CompiledLongConvolution(response, size, kernels) : new PlainLongConvolution(response);
  }

  /** Where the next frame lies in `output` and `input`. */
  get at(): Frames {
    return this.place;
  }

  /** Forgets the sound, not the response. */
  reset(): void {
    this.stretches.reset();
    this.output.fill(0);
    this.place = 0;
  }

  /** Takes frames that were written into `input` from `at` on, at most up to its end. */
  advance(frames: Frames): void {
    this.place += frames;
    if (this.place < this.size) return;
    this.place = 0;
    this.stretches.run(this.input, this.output);
  }

  next(sample: number): number {
    const heard = this.output[this.place]!;
    this.input[this.place] = sample;
    this.advance(1);
    return heard;
  }
}

function isCompiled(response: LongResponse): response is readonly Stretch<CompiledResponse>[] {
  return response.every(({ spectra }) => spectra.kind === 'compiled');
}

/** The same without compiled kernels. */
class PlainLongConvolution {
  private readonly stretches: readonly PartitionedConvolution[];

  constructor(response: LongResponse) {
    this.stretches = response.map(({ partition, spectra }) => {
      const convolution = new PartitionedConvolution(spectra.parts * partition, partition);
      convolution.use(spectra, 0);
      return convolution;
    });
  }

  reset(): void {
    for (const stretch of this.stretches) stretch.reset();
  }

  run(input: Float32Array, output: Float32Array): void {
    output.fill(0);
    for (const stretch of this.stretches) {
      stretch.write(input);
      stretch.addNext(output);
    }
  }
}
