import type { Decibels, Frames, Hertz } from '../../units';
import { maxBlock } from '../block';
import { Glide } from '../glide';
import { CutoffGlide } from './simple-filters';

const glideFrames: Frames = 512;
const tiny = 1e-30;

/**
 * A shelf of first order that lifts the highs before something is done with them, and its exact inverse for after it: with nothing between, the
 * two together change nothing. Both in topology-preserving form (Zavalishin 2012); the inverse solves the same equations for the input.
 */
export class Emphasis {
  private readonly gain = new Glide(glideFrames);
  private readonly cutoff = new CutoffGlide();
  /** Per frame: how far the low-pass goes, and by how much what it leaves is lifted. */
  private readonly takes = new Float64Array(maxBlock);
  private readonly lifts = new Float64Array(maxBlock);
  private readonly befores: Float64Array;
  private readonly afters: Float64Array;
  private frequency: Hertz = 0;
  /** True for blocks in which it changes nothing. */
  private idle = true;

  constructor(
    channels: number,
    private readonly sampleRate: Hertz,
  ) {
    this.befores = new Float64Array(channels);
    this.afters = new Float64Array(channels);
  }

  reset(): void {
    this.gain.reset();
    this.cutoff.reset();
    this.befores.fill(0);
    this.afters.fill(0);
  }

  /**
   * Sets it for the next block.
   *
   * @param gain of the shelf
   * @param frequency where half of it is reached, in decibels
   */
  aim(gain: Decibels, frequency: Hertz, frames: Frames): void {
    this.gain.aim(gain);
    this.cutoff.aim(frequency);
    this.idle = !this.gain.moving && this.gain.current === 0;
    if (this.idle) return;
    for (let i = 0; i < frames; i++) {
      const lift = 10 ** (this.gain.next() / 20);
      if (this.cutoff.moving) this.frequency = this.cutoff.next() || this.frequency;
      const g = Math.tan(Math.PI * Math.min(0.49, (this.frequency * Math.sqrt(lift)) / this.sampleRate));
      this.takes[i] = g / (1 + g);
      this.lifts[i] = (lift - 1) / (1 + g);
    }
  }

  /** Lifts the highs of a channel, in place. */
  before(channel: number, samples: Float32Array, frames: Frames): void {
    if (this.idle) return;
    const { takes, lifts } = this;
    let state = this.befores[channel]!;
    for (let i = 0; i < frames; i++) {
      const input = samples[i]!;
      samples[i] = input + (input - state) * lifts[i]!;
      state += 2 * (input - state) * takes[i]!;
    }
    this.befores[channel] = Math.abs(state) < tiny ? 0 : state;
  }

  /** Takes the lift back, in place. */
  after(channel: number, samples: Float32Array, frames: Frames): void {
    if (this.idle) return;
    const { takes, lifts } = this;
    let state = this.afters[channel]!;
    for (let i = 0; i < frames; i++) {
      const output = (samples[i]! + state * lifts[i]!) / (1 + lifts[i]!);
      samples[i] = output;
      state += 2 * (output - state) * takes[i]!;
    }
    this.afters[channel] = Math.abs(state) < tiny ? 0 : state;
  }
}
