import type { Decibels, Frames } from '../../units';
import { gainToDecibels } from '../../units';

/** Sample peak, mean square and mean of a recording that comes piece by piece. */
export class LevelMeter {
  private readonly sums: Float64Array;
  private readonly squares: Float64Array;
  private peak = 0;
  private frames: Frames = 0;

  constructor(channelCount: number) {
    this.sums = new Float64Array(channelCount);
    this.squares = new Float64Array(channelCount);
  }

  process(channels: readonly Float32Array[]): void {
    channels.forEach((channel, c) => {
      let sum = 0;
      let square = 0;
      let { peak } = this;
      for (let i = 0; i < channel.length; i++) {
        const sample = channel[i]!;
        const magnitude = Math.abs(sample);
        if (magnitude > peak) peak = magnitude;
        sum += sample;
        square += sample * sample;
      }
      this.peak = peak;
      this.sums[c]! += sum;
      this.squares[c]! += square;
    });
    this.frames += channels[0]?.length ?? 0;
  }

  /** Largest sample magnitude over all channels, in dBFS. */
  get samplePeak(): Decibels {
    return gainToDecibels(this.peak);
  }

  /** Root mean square over all samples of all channels, in dBFS (a full-scale sine reads -3.01). */
  get rms(): Decibels {
    const count = this.frames * this.squares.length;
    return count > 0 ? gainToDecibels(Math.sqrt(this.squares.reduce((sum, square) => sum + square, 0) / count)) : -Infinity;
  }

  /** Mean of all samples of the channel whose mean is farthest from 0; full scale is 1. */
  get dcOffset(): number {
    if (this.frames === 0) return 0;
    return this.sums.reduce((most, sum) => (Math.abs(sum) > Math.abs(most) ? sum : most), 0) / this.frames;
  }
}
