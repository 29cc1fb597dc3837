import fc from 'fast-check';
import { mono, sine } from '../testing/signals';
import { nearestZeroCrossing } from './zero-crossings';

describe('the nearest zero crossing', () => {
  it('of a sine lies at a whole number of half periods', () => {
    const audio = mono(sine(200, 1, 48_000));
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.98, noNaN: true }), (time) => {
        const found = nearestZeroCrossing(audio, time, 0.005);
        expect(Math.abs(found * 400 - Math.round(time * 400))).toBeLessThan(0.001);
      }),
    );
  });

  it('is the moment itself where the wave keeps its sign', () => {
    expect(nearestZeroCrossing(mono(new Float32Array(4_800).fill(0.3)), 0.05, 0.01)).toBe(0.05);
    expect(nearestZeroCrossing(mono(sine(20, 1, 48_000)), 0.0125, 0.005)).toBe(0.0125);
  });

  it('goes by all channels together', () => {
    const left = sine(200, 1, 48_000);
    const audio = { sampleRate: 48_000, channels: [left, left.map((sample) => 0.5 - sample)] };
    expect(nearestZeroCrossing(audio, 0.5012, 0.004)).toBe(0.5012);
  });
});
