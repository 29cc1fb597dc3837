import type { Decibels, Frames, Hertz, Seconds } from '../../units';

/** Where the decay of low, middle and high is set and measured. */
export const decayBands = { low: 125, middle: 1_000, high: 6_300 } as const;
export const lowCorner: Hertz = 450;
export const highCorner: Hertz = 2_600;

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
