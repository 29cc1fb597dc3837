import type { Frames, Hertz, Seconds } from '../../units';

const memory: Seconds = 0.4;
/** Below this power there is nothing to compare. */
const quietest = 1e-10;

/** How much two channels have in common over the last moments: 1 is mono, 0 nothing, below 0 they cancel when they are added up. */
export class CorrelationMeter {
  private readonly keep: number;
  private cross = 0;
  private left = 0;
  private right = 0;

  constructor(sampleRate: Hertz) {
    this.keep = Math.exp(-1 / (memory * sampleRate));
  }

  process(left: Float32Array, right: Float32Array, frames: Frames): void {
    const { keep } = this;
    for (let i = 0; i < frames; i++) {
      const l = left[i]!;
      const r = right[i]!;
      this.cross = this.cross * keep + l * r;
      this.left = this.left * keep + l * l;
      this.right = this.right * keep + r * r;
    }
  }

  /** Correlation coefficient without removal of a mean; undefined while either side is silent. */
  get value(): number | undefined {
    const most = Math.min(this.left, this.right);
    return most < quietest ? undefined : this.cross / Math.sqrt(this.left * this.right);
  }
}
