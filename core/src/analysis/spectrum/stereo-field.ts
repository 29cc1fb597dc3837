import type { Frames, Hertz, Seconds } from '../../units';

const memory: Seconds = 0.6;
/** Directions from out of phase on the left over left, middle and right to out of phase on the right. */
export const fieldDirections = 37;

/**
 * How the energy of two channels lies between them. The direction of a frame is the angle between what both channels have in common and
 * what they do not: 0 in the middle, 45° on one side alone, beyond that out of phase, 90° where they cancel in mono.
 */
export class StereoField {
  private readonly energy = new Float64Array(fieldDirections);

  constructor(private readonly sampleRate: Hertz) {}

  process(left: Float32Array, right: Float32Array, frames: Frames): void {
    const { energy } = this;
    const keep = Math.exp(-frames / (memory * this.sampleRate));
    for (let d = 0; d < fieldDirections; d++) energy[d]! *= keep;
    for (let i = 0; i < frames; i++) {
      const l = left[i]!;
      const r = right[i]!;
      const power = l * l + r * r;
      if (power === 0) continue;
      const middle = l + r;
      // Which way the wave swings does not matter.
      const angle = middle >= 0 ? Math.atan2(r - l, middle) : Math.atan2(l - r, -middle);
      energy[Math.round((angle / Math.PI + 0.5) * (fieldDirections - 1))]! += power;
    }
  }

  /** Energy by direction from left to right, the largest as 1; nothing after silence. */
  read(): Float32Array | undefined {
    const most = this.energy.reduce((largest, energy) => Math.max(largest, energy), 0);
    return most < 1e-9 ? undefined : Float32Array.from(this.energy, (energy) => energy / most);
  }
}
