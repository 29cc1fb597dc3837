import type { Frames } from '../units';
import type { ResponseSpectra } from './partitioned-convolution';
import { PartitionedConvolution, partitionFrames, responseSpectra } from './partitioned-convolution';

/** Frames of a partition of the late part. */
const latePartition: Frames = 4_096;
/** The early part is as long as the late part lags more. */
const earlyTaps: Frames = latePartition - partitionFrames;

/** An impulse response in the form that the convolution needs. */
export interface LongResponse {
  readonly early: ResponseSpectra;
  readonly late: ResponseSpectra;
}

export function longResponse(taps: Float64Array): LongResponse {
  return { early: responseSpectra(taps.subarray(0, earlyTaps)), late: responseSpectra(taps.subarray(earlyTaps), latePartition) };
}

/**
 * Convolution with long responses in partitions of two sizes (Gardner 1995): small ones for the beginning, so that the output lags by
 * `partitionFrames` only, and large ones, which cost a fraction, for all the rest.
 */
export class LongConvolution {
  private readonly early: PartitionedConvolution;
  private readonly late: PartitionedConvolution | undefined;

  constructor({ early, late }: LongResponse) {
    this.early = new PartitionedConvolution(early.re.length * partitionFrames);
    this.early.use(early, false);
    if (late.re.length === 0) return;
    this.late = new PartitionedConvolution(late.re.length * latePartition, latePartition);
    this.late.use(late, false);
  }

  /** Forgets the sound, not the response. */
  reset(): void {
    this.early.reset();
    this.late?.reset();
  }

  next(sample: number): number {
    const early = this.early.next(sample);
    return this.late ? early + this.late.next(sample) : early;
  }
}
