import type { Decibels, Frames, Hertz } from '../units';
import type { BusCompressor } from './conduct-data';

/** Turned down by less than this, it is not turned down. */
const nothing: Decibels = 1e-4;

/**
 * The compressor of a bus: turns both sides down alike by what the louder one passes the threshold by, along a straight line with a corner; its gain goes
 * there within its attack, and back within its release (the smooth branching detector in decibels of D. Giannoulis, M. Massberg and J. D. Reiss, “Digital
 * Dynamic Range Compressor Design”, J. AES 60(6), 2012).
 */
export class BusCompression {
  /** By how much it turns down now. */
  private down: Decibels = 0;

  constructor(private readonly sampleRate: Hertz) {}

  run({ threshold, ratio, attack, release, gain }: BusCompressor, left: Float32Array, right: Float32Array, frames: Frames): void {
    const slope = 1 - 1 / ratio;
    // How much of the way is gone in a frame, down and back up.
    const falls = 1 - Math.exp(-1 / (attack * this.sampleRate));
    const rises = 1 - Math.exp(-1 / (release * this.sampleRate));
    for (let i = 0; i < frames; i++) {
      const over = 20 * Math.log10(Math.max(Math.abs(left[i]!), Math.abs(right[i]!))) - threshold;
      const goal = over > 0 ? over * slope : 0;
      this.down += (goal - this.down) * (goal > this.down ? falls : rises);
      if (goal === 0 && this.down < nothing) this.down = 0;
      const factor = Math.pow(10, (gain - this.down) / 20);
      left[i] = left[i]! * factor;
      right[i] = right[i]! * factor;
    }
  }
}
