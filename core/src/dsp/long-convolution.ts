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
  /** What comes out from `at` on was worked out before what comes in there. */
  readonly output = new Float32Array(partitionFrames);
  readonly input = new Float32Array(partitionFrames);
  private place: Frames = 0;
  private readonly early: PartitionedConvolution;
  private readonly late: PartitionedConvolution | undefined;

  constructor({ early, late }: LongResponse) {
    this.early = new PartitionedConvolution(early.parts * partitionFrames);
    this.early.use(early, false);
    if (late.parts === 0) return;
    this.late = new PartitionedConvolution(late.parts * latePartition, latePartition);
    this.late.use(late, false);
  }

  /** Where the next frame lies in `output` and `input`. */
  get at(): Frames {
    return this.place;
  }

  /** Forgets the sound, not the response. */
  reset(): void {
    this.early.reset();
    this.late?.reset();
    this.output.fill(0);
    this.place = 0;
  }

  /** Takes frames that were written into `input` from `at` on, at most up to its end. */
  advance(frames: Frames): void {
    this.place += frames;
    if (this.place < partitionFrames) return;
    this.place = 0;
    this.output.fill(0);
    this.early.write(this.input);
    this.early.addNext(this.output);
    this.late?.write(this.input);
    this.late?.addNext(this.output);
  }

  next(sample: number): number {
    const heard = this.output[this.place]!;
    this.input[this.place] = sample;
    this.advance(1);
    return heard;
  }
}
