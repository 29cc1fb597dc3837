import type { Hertz } from '../../units';

const sections = 4;
const dampings = Array.from({ length: sections }, (_, n) => 2 * Math.cos(((2 * n + 1) * Math.PI) / 16));
const tiny = 1e-30;

/** Butterworth low-pass of eighth order in topology-preserving state-variable form (Zavalishin 2012): 48 dB per octave, and nothing at half the rate. */
export class SteepLowPass {
  private readonly states = new Float64Array(2 * sections);
  private readonly scales = new Float64Array(sections);
  private readonly slopes = new Float64Array(sections);
  private g = 0;

  reset(): void {
    this.states.fill(0);
  }

  tune(frequency: Hertz, sampleRate: Hertz): void {
    const g = (this.g = Math.tan(Math.PI * Math.min(0.4995, frequency / sampleRate)));
    for (let n = 0; n < sections; n++) {
      this.slopes[n] = dampings[n]! + g;
      this.scales[n] = 1 / (1 + g * (g + dampings[n]!));
    }
  }

  next(sample: number): number {
    const { states, scales, slopes, g } = this;
    for (let n = 0; n < sections; n++) {
      const first = states[2 * n]!;
      const second = states[2 * n + 1]!;
      const rise = g * (sample - slopes[n]! * first - second) * scales[n]!;
      const band = rise + first;
      const turn = g * band;
      const low = turn + second;
      const nextFirst = rise + band;
      const nextSecond = turn + low;
      states[2 * n] = Math.abs(nextFirst) < tiny ? 0 : nextFirst;
      states[2 * n + 1] = Math.abs(nextSecond) < tiny ? 0 : nextSecond;
      sample = low;
    }
    return sample;
  }
}
