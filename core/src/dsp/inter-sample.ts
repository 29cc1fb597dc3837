import type { Frames } from '../units';
import { kaiser, sinc } from './kaiser';

/** Samples to each side that shape the value between two of them. */
export const interSampleReach: Frames = 12;
export const interSampleTaps: Frames = 2 * interSampleReach;

/** Interpolation filter for `fraction` of a sample, as in BS.1770-5 annex 2 but with twice the length, which reads closer. */
function interpolator(fraction: number): Float64Array {
  const phase = new Float64Array(interSampleTaps);
  let sum = 0;
  for (let tap = 0; tap < interSampleTaps; tap++) {
    const x = tap - interSampleReach + 1 - fraction;
    phase[tap] = sinc(x) * kaiser(x / interSampleReach, 6);
    sum += phase[tap]!;
  }
  return phase.map((value) => value / sum);
}

const firstQuarter = interpolator(0.25);
const half = interpolator(0.5);
const lastQuarter = interpolator(0.75);

/** The latest samples of one channel, 4x oversampled: what meters and limiters of true peak look at. */
export class InterSampleReader {
  private readonly history = new Float64Array(2 * interSampleTaps);
  private position = 0;

  reset(): void {
    this.history.fill(0);
    this.position = 0;
  }

  push(sample: number): void {
    // Every sample is stored twice, so that the latest ones always lie in one piece.
    this.history[this.position] = sample;
    this.history[this.position + interSampleTaps] = sample;
    if (++this.position === interSampleTaps) this.position = 0;
  }

  /** The sample that was pushed `interSampleReach` samples before the next one. */
  late(): number {
    return this.history[this.position + interSampleReach - 1]!;
  }

  /** Magnitude of the sample that was pushed `interSampleReach` samples before the next one. */
  magnitude(): number {
    return Math.abs(this.late());
  }

  /** The largest magnitude a quarter, a half and three quarters of the way from that sample to the one behind it. */
  between(): number {
    const { history } = this;
    let a = 0;
    let b = 0;
    let c = 0;
    for (let tap = 0, at = this.position; tap < interSampleTaps; tap++, at++) {
      const value = history[at]!;
      a += firstQuarter[tap]! * value;
      b += half[tap]! * value;
      c += lastQuarter[tap]! * value;
    }
    return Math.max(Math.abs(a), Math.abs(b), Math.abs(c));
  }
}
