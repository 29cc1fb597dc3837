import type { Frames, Hertz, Ratio, Seconds } from '../../units';
import { voiceStep } from '../part';

/** ln(1000): a level falls by 60 dB in its decay time. */
const sixtyDecibels = Math.log(1_000);
const tiny = 1e-20;

/**
 * Resonators of two poles side by side, each exact in frequency and decay: y(n) = 2 r cos θ y(n − 1) − r² y(n − 2) + g x(n), scaled so that a unit impulse sets
 * off a sine of the mode's own amplitude (modal synthesis: Adrien 1991; Cook, Real Sound Synthesis, 2002).
 */
export class ModalBank {
  private readonly first: Float64Array;
  private readonly second: Float64Array;
  private readonly gain: Float64Array;
  private readonly one: Float64Array;
  private readonly two: Float64Array;
  private readonly input = new Float64Array(voiceStep);
  /** Sum of what the modes are at. */
  loudest = 0;

  constructor(
    private readonly size: number,
    private readonly sampleRate: Hertz,
  ) {
    this.first = new Float64Array(size);
    this.second = new Float64Array(size);
    this.gain = new Float64Array(size);
    this.one = new Float64Array(size);
    this.two = new Float64Array(size);
  }

  reset(): void {
    this.one.fill(0);
    this.two.fill(0);
  }

  /** @param decay time in which the mode falls by 60 dB */
  tune(mode: number, frequency: Hertz, decay: Seconds, amplitude: Ratio): void {
    const radius = Math.exp(-sixtyDecibels / (decay * this.sampleRate));
    const angle = (2 * Math.PI * frequency) / this.sampleRate;
    // What lies too near to half the rate cannot be heard, and what hardly swings is no sound.
    const audible = frequency < 0.47 * this.sampleRate && frequency > 1;
    this.first[mode] = audible ? 2 * radius * Math.cos(angle) : 0;
    this.second[mode] = audible ? -radius * radius : 0;
    this.gain[mode] = audible ? Math.sin(angle) * amplitude : 0;
  }

  /** Takes what sets the modes off, and gives back how they ring; `driven` is false where the input is silent. */
  process(samples: Float64Array, from: Frames, to: Frames, driven: boolean): void {
    const { input } = this;
    if (driven) for (let i = from; i < to; i++) input[i] = samples[i]!;
    samples.fill(0, from, to);
    this.loudest = 0;
    for (let m = 0; m < this.size; m++) {
      const first = this.first[m]!;
      const second = this.second[m]!;
      const gain = this.gain[m]!;
      let one = this.one[m]!;
      let two = this.two[m]!;
      // Who only rings needs no input; most of the time nobody strikes.
      if (driven) {
        for (let i = from; i < to; i++) {
          const now = first * one + second * two + gain * input[i]!;
          two = one;
          one = now;
          samples[i] = samples[i]! + now;
        }
      } else if (one !== 0 || two !== 0) {
        for (let i = from; i < to; i++) {
          const now = first * one + second * two;
          two = one;
          one = now;
          samples[i] = samples[i]! + now;
        }
      }
      const ring = Math.abs(one) + Math.abs(two);
      this.loudest += ring;
      this.one[m] = ring < tiny ? 0 : one;
      this.two[m] = ring < tiny ? 0 : two;
    }
  }
}
