import { noise, residual, sine } from '../testing/signals';
import { extrapolate, predictionOf } from './linear-prediction';

const rate = 48_000;

describe('linear prediction', () => {
  it('finds the filter that a signal comes from', () => {
    // x[n] = 1.6 x[n-1] − 0.81 x[n-2] + noise
    const driven = Float32Array.from(noise(20_000, 4, -40));
    for (let n = 2; n < driven.length; n++) driven[n]! += 1.6 * driven[n - 1]! - 0.81 * driven[n - 2]!;
    const [first, second] = predictionOf(driven, 2);
    expect(first).toBeCloseTo(1.6, 1);
    expect(second).toBeCloseTo(-0.81, 1);
  });

  it('goes on with tones as they would have gone on', () => {
    const high = sine(1_710, 0.2, rate, -20);
    const whole = sine(230, 0.2, rate, -12).map((value, i) => value + high[i]!);
    const cut = whole.slice();
    cut.fill(0, 6_000);
    extrapolate(cut, 6_000, 1_000, 2_048, 64);
    expect(residual(whole, cut, 6_000, 7_000)).toBeLessThan(-30);
  });

  it('never grows, and is silent after silence', () => {
    const rough = noise(8_000, 9, -3);
    extrapolate(rough, 4_000, 4_000, 2_048, 64);
    expect(Math.max(...rough.subarray(4_000).map(Math.abs))).toBeLessThan(1);
    const silent = new Float32Array(4_000);
    extrapolate(silent, 2_000, 2_000, 2_048, 64);
    expect(Math.max(...silent)).toBe(0);
  });
});
