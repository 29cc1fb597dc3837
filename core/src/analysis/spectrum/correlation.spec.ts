import { noise } from '../../testing/signals';
import { CorrelationMeter } from './correlation';

function correlation(left: Float32Array, right: Float32Array): number | undefined {
  const meter = new CorrelationMeter(48_000);
  meter.process(left, right, left.length);
  return meter.value;
}

describe('correlation', () => {
  const a = noise(96_000, 1);
  const b = noise(96_000, 2);

  it('is 1 for the same, -1 for the opposite, near 0 for strangers, whatever the levels', () => {
    expect(
      correlation(
        a,
        a.map((sample) => sample * 0.1),
      ),
    ).toBeCloseTo(1, 9);
    expect(
      correlation(
        a,
        a.map((sample) => -sample),
      ),
    ).toBeCloseTo(-1, 9);
    expect(Math.abs(correlation(a, b)!)).toBeLessThan(0.03);
    // Two thirds of the power in common: the formula gives 1 / √(1 + 1/2)² = 2/3 for equal sides.
    const shared = a.map((sample, i) => sample + b[i]! * Math.SQRT1_2);
    const other = a.map((sample, i) => sample - b[i]! * Math.SQRT1_2);
    expect(correlation(shared, other)).toBeCloseTo((1 - 0.5) / (1 + 0.5), 1);
  });

  it('says nothing while a side is silent', () => {
    expect(correlation(a, new Float32Array(a.length))).toBeUndefined();
  });
});
