import type { Frames } from '../../units';
import { DelayLine } from '../delay-line';
import type { LongResponse } from './long-convolution';
import { LongConvolution } from './long-convolution';
import { partitionFrames } from './partitioned-convolution';

/**
 * A convolution whose output can go back into it. It is as quick as partitions of its lag make it. What goes back must be known earlier
 * than that: where that begins, it goes over to short partitions without a seam, keeps its lag, and stays so until it is reset.
 */
export class LoopableConvolution {
  private running: LongConvolution;
  /** What came in, as far as the response reaches back; only where partitions are not short anyway. */
  private readonly history: Float32Array | undefined;
  private written: Frames = 0;
  /** Makes the output of short partitions as late as that of the long ones. */
  private lateness: DelayLine | undefined;

  /**
   * @param response what is convolved with, for first partitions of a size
   * @param lag frames by which what is heard lags: `partitionFrames`, or a larger power of four
   */
  constructor(
    private readonly response: (first: Frames) => LongResponse,
    private readonly taps: Frames,
    private readonly lag: Frames,
  ) {
    this.running = new LongConvolution(response(lag), lag);
    if (lag > partitionFrames) this.history = new Float32Array(2 ** Math.ceil(Math.log2(taps + lag)));
  }

  /** Where the next frame lies in `output` and `input`, which are `size` frames long. */
  get at(): Frames {
    return this.running.at;
  }

  get size(): Frames {
    return this.running.size;
  }

  get input(): Float32Array {
    return this.running.input;
  }

  /** What may go back in: it lags by `size`. */
  get output(): Float32Array {
    return this.running.output;
  }

  /** Forgets the sound, not the response. */
  reset(): void {
    if (this.lateness) this.running = new LongConvolution(this.response(this.lag), this.lag);
    else this.running.reset();
    this.lateness = undefined;
    this.history?.fill(0);
    this.written = 0;
  }

  /** From now on, output goes back in. */
  hurry(): void {
    const { history, lag, taps, written, response } = this;
    if (!history || this.lateness) return;
    this.lateness = new DelayLine(lag - partitionFrames, 1);
    this.running = new LongConvolution(response(partitionFrames), partitionFrames);
    const sample = new Float32Array(1);
    const block = { channels: [sample], frames: 1 };
    for (let n = Math.max(0, written - taps - lag); n < written; n++) {
      sample[0] = this.running.next(history[n & (history.length - 1)]!);
      this.lateness.process(block);
    }
  }

  /** Writes what is heard of the next frames, late by the lag, into `target` from `from` on. To be called before `advance`. */
  hear(target: Float32Array, from: Frames, frames: Frames): void {
    const { output, at } = this.running;
    target.set(output.subarray(at, at + frames), from);
    this.lateness?.process({ channels: [target.subarray(from, from + frames)], frames });
  }

  /** Takes frames that were written into `input` from `at` on, at most up to its end. */
  advance(frames: Frames): void {
    const { history, running } = this;
    if (history && !this.lateness) {
      const start = this.written & (history.length - 1);
      const whole = Math.min(frames, history.length - start);
      history.set(running.input.subarray(running.at, running.at + whole), start);
      history.set(running.input.subarray(running.at + whole, running.at + frames), 0);
      this.written += frames;
    }
    running.advance(frames);
  }
}
