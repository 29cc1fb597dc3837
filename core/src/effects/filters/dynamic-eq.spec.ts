import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, sine } from '../../testing/signals';
import { dynamicEq, dynamicReach } from './dynamic-eq';

const rate = 48_000;
const band = { band3Frequency: 2_000, band3Q: 2, band3Threshold: -40, band3Range: -10, release: 0.5, attack: 0.01 };
const gain = (frequency: number, level: number, values: Record<string, number | boolean> = band): number => {
  const [output] = runEffect(dynamicEq, [sine(frequency, 1, rate, level)], { values });
  return 20 * Math.log10(amplitudeAt(output!, frequency, rate, 24_000, 48_000)) - level;
};

describe('dynamic EQ', () => {
  it('leaves alone what is below the threshold, moves by its range far above it, and halfway in between', () => {
    expect(gain(2_000, -50)).toBeCloseTo(0, 2);
    expect(gain(2_000, -40 + dynamicReach + 8)).toBeCloseTo(-10, 1);
    // The follower reads a sine a little below its peak.
    expect(Math.abs(gain(2_000, -40 + dynamicReach / 2) + 5)).toBeLessThan(0.5);
    expect(gain(2_000, -20, { ...band, band3Range: 9 })).toBeCloseTo(9, 1);
  });

  it('works in its band alone', () => {
    expect(Math.abs(gain(200, -10, { ...band, band3Threshold: -20 }))).toBeLessThan(0.2);
    expect(gain(2_000, -20, { ...band, band3On: false })).toBeCloseTo(0, 6);
  });

  it('listens to a key', () => {
    const input = sine(2_000, 1, rate, -50);
    const block = { channels: [sine(2_000, 1_024 / rate, rate, -10)], frames: 1_024 };
    const [output] = runEffect(dynamicEq, [input], { values: band, context: { keys: { key: block } } });
    expect(20 * Math.log10(amplitudeAt(output!, 2_000, rate, 24_000, 48_000)) + 50).toBeCloseTo(-10, 0);
  });
});
