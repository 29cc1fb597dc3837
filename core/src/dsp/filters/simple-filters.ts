import type { Frames, Hertz, Ratio, Seconds } from '../../units';
import { Glide } from '../glide';

/** How much of its old value a smoother keeps from frame to frame, so that it covers 63 % of a step in `time`. */
export function smoothing(time: Seconds, sampleRate: Hertz): Ratio {
  return time <= 0 ? 0 : Math.exp(-1 / (time * sampleRate));
}

/** Values below this are silence; filters that decay must not crawl through denormal numbers. */
const tiny = 1e-30;

/** A first-order low-pass in topology-preserving form (Zavalishin 2012), for feedback paths and followers; high = input - low. */
export class OnePole {
  private state = 0;
  private gain = 1;
  /** What the state keeps of itself and takes of the input: the recursion in as few steps that wait for each other as can be. */
  private keeps = -1;
  private takes = 2;

  /** @param frequency cut-off, -3 dB; at or above Nyquist nothing is taken away */
  tune(frequency: Hertz, sampleRate: Hertz): void {
    const g = Math.tan((Math.PI * Math.min(frequency, sampleRate / 2)) / sampleRate);
    this.gain = frequency >= sampleRate / 2 ? 1 : g / (1 + g);
    this.keeps = 1 - 2 * this.gain;
    this.takes = 2 * this.gain;
  }

  reset(): void {
    this.state = 0;
  }

  low(input: number): number {
    if (this.gain === 1) {
      // Goes on from here without a jump when it is tuned lower.
      this.state = input;
      return input;
    }
    const output = this.state + (input - this.state) * this.gain;
    this.state = this.state * this.keeps + input * this.takes;
    if (Math.abs(this.state) < tiny) this.state = 0;
    return output;
  }

  high(input: number): number {
    return this.gain === 1 ? 0 : input - this.low(input);
  }

  /**
   * What `high` leaves of what `low` leaves of samples, times a gain for each frame, in place. Going on together, neither waits for the other; `high` must be
   * tuned below Nyquist.
   */
  static band(low: OnePole, high: OnePole, samples: Float32Array, gains: Float64Array, from: Frames, to: Frames): void {
    const isOpen = low.gain === 1;
    const { gain, keeps, takes } = low;
    const { gain: highGain, keeps: highKeeps, takes: highTakes } = high;
    let first = low.state;
    let second = high.state;
    for (let i = from; i < to; i++) {
      const input = samples[i]!;
      const dark = isOpen ? input : first + (input - first) * gain;
      first = isOpen ? input : first * keeps + input * takes;
      samples[i] = (dark - (second + (dark - second) * highGain)) * gains[i]!;
      second = second * highKeeps + dark * highTakes;
    }
    low.state = Math.abs(first) < tiny ? 0 : first;
    high.state = Math.abs(second) < tiny ? 0 : second;
  }
}

/**
 * A second-order filter in topology-preserving state-variable form (Zavalishin 2012), for filters that move while they sound. After
 * `next`, its three outputs are there at once.
 */
export class StateVariableFilter {
  low = 0;
  band = 0;
  high = 0;
  private first = 0;
  private second = 0;
  private g = 0;
  private k = 1;
  private scale = 1;

  /** @param q resonance; 0.7071 is Butterworth */
  tune(frequency: Hertz, q: Ratio, sampleRate: Hertz): void {
    this.g = Math.tan(Math.PI * Math.min(0.49, frequency / sampleRate));
    this.k = 1 / q;
    this.scale = 1 / (1 + this.g * (this.g + this.k));
  }

  reset(): void {
    this.first = this.second = this.low = this.band = this.high = 0;
  }

  next(input: number): void {
    const { g, k } = this;
    this.high = (input - (k + g) * this.first - this.second) * this.scale;
    const band = g * this.high;
    this.band = band + this.first;
    this.first = band + this.band;
    const low = g * this.band;
    this.low = low + this.second;
    this.second = low + this.low;
    if (Math.abs(this.first) < tiny) this.first = 0;
    if (Math.abs(this.second) < tiny) this.second = 0;
  }

  /** What is low of many samples, in place. */
  lowAll(samples: Float64Array, frames: Frames): void {
    const { g, k, scale } = this;
    let { first, second, low, band, high } = this;
    for (let i = 0; i < frames; i++) {
      high = (samples[i]! - (k + g) * first - second) * scale;
      const moved = g * high;
      band = moved + first;
      first = moved + band;
      const passed = g * band;
      low = passed + second;
      second = passed + low;
      if (Math.abs(first) < tiny) first = 0;
      if (Math.abs(second) < tiny) second = 0;
      samples[i] = low;
    }
    this.first = first;
    this.second = second;
    this.low = low;
    this.band = band;
    this.high = high;
  }

  /** The band-passed signal with 0 dB at its centre. */
  get peak(): number {
    return this.band * this.k;
  }
}

/** Frames between two retunings while a cut-off moves; short enough that the steps stay below hearing. */
const retuneEvery: Frames = 8;

/** A cut-off frequency that glides to changed values, in octaves, and says when filters are to be tuned anew. */
export class CutoffGlide {
  private readonly octave: Glide;
  private countdown = 0;
  private tuned = NaN;

  constructor(frames: Frames = 1_024) {
    this.octave = new Glide(frames);
  }

  reset(): void {
    this.octave.reset();
    this.countdown = 0;
    this.tuned = NaN;
  }

  aim(frequency: Hertz): void {
    this.octave.aim(Math.log2(frequency));
  }

  /** False when nothing is to be tuned until the next aim. */
  get moving(): boolean {
    return this.octave.moving || this.octave.current !== this.tuned;
  }

  /** Goes on by one frame; the frequency to tune to, or 0 when it still holds. */
  next(): Hertz {
    const octave = this.octave.next();
    if (this.countdown-- > 0) return 0;
    this.countdown = retuneEvery - 1;
    if (octave === this.tuned) return 0;
    this.tuned = octave;
    return 2 ** octave;
  }
}

/** Follows the magnitude of a signal: up with one time constant, down with another. */
export class Follower {
  level = 0;
  private up = 0;
  private down = 0;

  tune(attack: Seconds, release: Seconds, sampleRate: Hertz): void {
    this.up = smoothing(attack, sampleRate);
    this.down = smoothing(release, sampleRate);
  }

  reset(): void {
    this.level = 0;
  }

  next(input: number): number {
    const magnitude = Math.abs(input);
    const keep = magnitude > this.level ? this.up : this.down;
    this.level = magnitude + (this.level - magnitude) * keep;
    if (this.level < tiny) this.level = 0;
    return this.level;
  }
}

/** Largest magnitude of a frame over all channels. */
export function frameLevel(channels: readonly Float32Array[], count: number, frame: Frames): number {
  let level = 0;
  for (let c = 0; c < count; c++) {
    const sample = channels[c]![frame]!;
    const magnitude = Math.abs(sample);
    if (magnitude > level) level = magnitude;
  }
  return level;
}
