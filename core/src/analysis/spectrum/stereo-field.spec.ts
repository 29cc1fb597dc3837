import { noise } from '../../testing/signals';
import { fieldDirections, StereoField } from './stereo-field';

const rate = 48_000;
const middle = (fieldDirections - 1) / 2;

/** The field of a sound whose sides are `left` and `right` times the same noise. */
function fieldOf(left: number, right: number): Float32Array {
  const field = new StereoField(rate);
  const samples = noise(4_800, 3);
  field.process(
    samples.map((sample) => sample * left),
    samples.map((sample) => sample * right),
    4_800,
  );
  return field.read()!;
}

describe('stereo field', () => {
  it.each([
    ['in the middle', 1, 1, middle],
    ['on the left', 1, 0, middle / 2],
    ['on the right', 0, 1, middle * 1.5],
    // tan of the angle is (r - l) / (r + l): 1/3 is 18.4°.
    ['half right', 1, 2, middle + Math.round((18.43 / 180) * (fieldDirections - 1))],
  ])('shows what lies %s there and nowhere else', (_, left, right, place) => {
    const field = fieldOf(left, right);
    expect(field[place]).toBe(1);
    expect(field.reduce((sum, energy) => sum + energy, 0)).toBe(1);
  });

  it('shows what cancels in mono at its ends', () => {
    const field = fieldOf(1, -1);
    expect(field[0]! + field[fieldDirections - 1]!).toBeGreaterThanOrEqual(1);
    expect(field.subarray(1, -1).every((energy) => energy === 0)).toBe(true);
  });

  it('forgets, and knows nothing of silence', () => {
    const field = new StereoField(rate);
    expect(field.read()).toBeUndefined();
    field.process(noise(480, 1), new Float32Array(480), 480);
    for (let i = 0; i < 100; i++) field.process(noise(4_800, i), noise(4_800, i), 4_800);
    expect(field.read()![middle]).toBe(1);
    expect(field.read()![middle / 2]).toBeLessThan(1e-5);
  });
});
