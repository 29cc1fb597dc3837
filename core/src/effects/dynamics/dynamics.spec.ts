import { TruePeakMeter } from '../../analysis/true-peak';
import { runEffect } from '../../testing/run-effect';
import { noise, residual, sine } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { gate } from './gate';
import { limiter } from './limiter';
import { transientShaper } from './transient-shaper';

const rate = 48_000;
const decibels = (value: number): number => 20 * Math.log10(value);

describe('gate', () => {
  const steady = (level: number, frames: number): number[] => Array.from({ length: frames }, () => decibelsToGain(level));

  it('opens at its threshold, and closes only below the hysteresis', () => {
    const values = { threshold: -30, hysteresis: 6, range: -40, attack: 0.001, hold: 0, release: 0.01 };
    const input = Float32Array.from([...steady(-31, 9_600), ...steady(-29, 9_600), ...steady(-34, 9_600), ...steady(-37, 9_600)]);
    const [output] = runEffect(gate, [input], { values });
    const reduction = (at: number): number => decibels(output![at]! / input[at]!);
    expect(reduction(9_500)).toBeCloseTo(-40, 1);
    expect(reduction(19_100)).toBeCloseTo(0, 1);
    expect(reduction(28_700)).toBeCloseTo(0, 1);
    expect(reduction(38_300)).toBeCloseTo(-40, 1);
  });

  it('stays open for its hold', () => {
    const values = { threshold: -30, hysteresis: 0, range: -60, hold: 0.1, release: 0.005 };
    const input = Float32Array.from([...steady(-20, 4_800), ...steady(-60, 14_400)]);
    const [output] = runEffect(gate, [input], { values });
    const reduction = (time: number): number =>
      decibels(output![4_800 + Math.round(time * rate)]! / input[4_800 + Math.round(time * rate)]!);
    expect(reduction(0.09)).toBeCloseTo(0, 1);
    expect(reduction(0.2)).toBeLessThan(-55);
  });

  it('expands by its ratio below the threshold, no further than its range', () => {
    const values = { mode: 'expander', threshold: -30, ratio: 3, range: -24, release: 0.02 };
    for (const level of [-20, -36, -40, -60]) {
      const [output] = runEffect(gate, [Float32Array.from(steady(level, 14_400))], { values });
      const expected = level >= -30 ? 0 : Math.max(-24, (level + 30) * 2);
      expect(decibels(output![14_399]!) - level).toBeCloseTo(expected, 1);
    }
  });
});

describe('limiter', () => {
  const square = (frequency: number): Float32Array => sine(frequency, 0.5, rate).map((sample) => Math.sign(sample));
  /** Peaks between samples 3 dB above the samples themselves. */
  const between = sine(rate / 4, 0.5, rate, 0, Math.PI / 4);

  it.each([
    ['noise', noise(24_000, 7)],
    ['a square', square(997)],
    ['peaks between samples', between],
    ['single samples', Float32Array.from({ length: 24_000 }, (_, i) => (i % 2_000 === 0 ? 1 : 0))],
  ])('keeps %s below its ceiling in true peak', (_, input) => {
    for (const gain of [0, 12, 30]) {
      const [output] = runEffect(limiter, [input], { values: { gain, ceiling: -1 } });
      const meter = new TruePeakMeter();
      meter.process(output!, 0, output!.length);
      meter.finish();
      expect(decibels(meter.peak)).toBeLessThan(-1 + 0.1);
    }
  });

  it('changes nothing below the ceiling, only comes later', () => {
    const input = sine(1_000, 0.3, rate, -12);
    const [output] = runEffect(limiter, [input], { values: { gain: 0, ceiling: -1 } });
    const lag = limiter.latency(limiter.presets[0]!.values as never, rate);
    expect(residual(input.subarray(0, 12_000), output!.subarray(lag, lag + 12_000))).toBeLessThan(-120);
  });

  it('turns both sides down together', () => {
    const loud = sine(300, 0.3, rate, 0);
    const soft = sine(300, 0.3, rate, -20);
    const [left, right] = runEffect(limiter, [loud, soft], { values: { gain: 12, ceiling: -3 } });
    for (let i = 3_000; i < 12_000; i += 97) if (Math.abs(left![i]!) > 0.1) expect(right![i]! / left![i]!).toBeCloseTo(0.1, 4);
  });
});

describe('transient shaper', () => {
  /** Knocks with a quick rise and a fall over 60 ms. */
  const knocks = (level: number): Float32Array =>
    Float32Array.from({ length: rate }, (_, i) => decibelsToGain(level) * Math.exp(-(i % 12_000) / 2_900) * Math.sin(i * 0.05));
  const peakOf = (samples: Float32Array): number => Math.max(...samples.subarray(12_000).map(Math.abs));
  const tailOf = (samples: Float32Array): number => Math.max(...samples.subarray(12_000 + 7_000, 24_000 - 100).map(Math.abs));

  it('brings attacks up and leaves tails, by as much at every level', () => {
    const lifts = [0, -30].map((level) => {
      const input = knocks(level);
      const [output] = runEffect(transientShaper, [input], { values: { attack: 12, sustain: 0 } });
      expect(Math.abs(decibels(tailOf(output!) / tailOf(input)))).toBeLessThan(1);
      return decibels(peakOf(output!) / peakOf(input));
    });
    expect(lifts[0]).toBeGreaterThan(3);
    expect(Math.abs(lifts[0]! - lifts[1]!)).toBeLessThan(0.5);
  });

  it('shortens what follows the attack', () => {
    const input = knocks(-6);
    const [output] = runEffect(transientShaper, [input], { values: { attack: 0, sustain: -18, length: 0.4 } });
    expect(decibels(tailOf(output!) / tailOf(input))).toBeLessThan(-6);
    expect(Math.abs(decibels(peakOf(output!) / peakOf(input)))).toBeLessThan(2);
  });
});
