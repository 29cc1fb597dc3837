import type { Decibels, Frames, Hertz, Seconds } from '../units';

/** Where the decay of low, middle and high is set and measured. */
export const decayBands = { low: 125, middle: 1_000, high: 6_300 } as const;
const lowCorner: Hertz = 450;
const highCorner: Hertz = 2_600;

/** Gain and first-order shelves by which a delay line loses level on each round. */
export interface LineLoss {
  gain: number;
  lowShelf: number;
  highShelf: number;
}

/** Level in dB of the two shelves in series at a frequency; `low` and `high` are their gains in dB at DC and at infinity. */
function shelfLevel(frequency: Hertz, low: Decibels, high: Decibels, sampleRate: Hertz): Decibels {
  const w = (f: Hertz): number => Math.tan((Math.PI * f) / sampleRate);
  const lowRatio = w(frequency) / w(lowCorner);
  const highRatio = w(frequency) / w(highCorner);
  const a = 10 ** (low / 20);
  const b = 10 ** (high / 20);
  // (s + a c) / (s + c) falls from a to 1; (b s + c) / (s + c) goes from 1 to b.
  const lowPower = (lowRatio ** 2 + a * a) / (lowRatio ** 2 + 1);
  const highPower = ((b * highRatio) ** 2 + 1) / (highRatio ** 2 + 1);
  return 10 * Math.log10(lowPower * highPower);
}

/**
 * What a delay line must lose per round so that low, middle and high each fall by 60 dB in their time. Shelves reach into each other's
 * bands; a few rounds of correction at the three frequencies make up for it (after Schlecht & Habets, "Accurate Reverberation Time
 * Control in Feedback Delay Networks", 2017).
 */
export function lineLoss(length: Frames, times: readonly [low: Seconds, middle: Seconds, high: Seconds], sampleRate: Hertz): LineLoss {
  const wanted = times.map((time) => (-60 * length) / (time * sampleRate));
  let middle = wanted[1]!;
  let low = wanted[0]! - middle;
  let high = wanted[2]! - middle;
  for (let round = 0; round < 12; round++) {
    middle += wanted[1]! - (middle + shelfLevel(decayBands.middle, low, high, sampleRate));
    low += wanted[0]! - (middle + shelfLevel(decayBands.low, low, high, sampleRate));
    high += wanted[2]! - (middle + shelfLevel(decayBands.high, low, high, sampleRate));
  }
  return { gain: 10 ** (middle / 20), lowShelf: 10 ** (low / 20), highShelf: 10 ** (high / 20) };
}

/** One line of a feedback delay network with the filters of its loss. */
export class ReverbLine {
  private readonly line: Float64Array;
  private readonly mask: number;
  private position = 0;
  private lowState = 0;
  private highState = 0;
  private readonly lowG: number;
  private readonly highG: number;
  private gain = 0;
  private lowShelf = 1;
  private highShelf = 1;
  private target: LineLoss = { gain: 0, lowShelf: 1, highShelf: 1 };
  private fresh = true;

  constructor(longest: Frames, sampleRate: Hertz) {
    this.line = new Float64Array(2 ** Math.ceil(Math.log2(longest + 4)));
    this.mask = this.line.length - 1;
    const pole = (corner: Hertz): number => {
      const g = Math.tan((Math.PI * corner) / sampleRate);
      return g / (1 + g);
    };
    this.lowG = pole(lowCorner);
    this.highG = pole(highCorner);
  }

  reset(): void {
    this.line.fill(0);
    this.position = 0;
    this.lowState = this.highState = 0;
    this.fresh = true;
  }

  aim(loss: LineLoss): void {
    this.target = loss;
    if (!this.fresh) return;
    this.fresh = false;
    this.gain = loss.gain;
    this.lowShelf = loss.lowShelf;
    this.highShelf = loss.highShelf;
  }

  /** What comes out of the line, `delay` frames (3 or more, whole or not) after it went in, less its loss. */
  read(delay: number): number {
    const { line, mask, target } = this;
    const whole = delay | 0;
    const t = delay - whole;
    const at = this.position - whole;
    const here = line[at & mask]!;
    const sample = t === 0 ? here : here + (line[(at - 1) & mask]! - here) * t;
    this.gain += (target.gain - this.gain) * 0.001;
    this.lowShelf += (target.lowShelf - this.lowShelf) * 0.001;
    this.highShelf += (target.highShelf - this.highShelf) * 0.001;
    const v = (sample - this.lowState) * this.lowG;
    const low = v + this.lowState;
    this.lowState = low + v;
    const afterLow = sample + (this.lowShelf - 1) * low;
    const u = (afterLow - this.highState) * this.highG;
    const below = u + this.highState;
    this.highState = below + u;
    if (Math.abs(this.lowState) < 1e-25) this.lowState = 0;
    if (Math.abs(this.highState) < 1e-25) this.highState = 0;
    return (below + (afterLow - below) * this.highShelf) * this.gain;
  }

  write(sample: number): void {
    this.line[this.position] = Math.abs(sample) < 1e-25 ? 0 : sample;
    this.position = (this.position + 1) & this.mask;
  }
}
