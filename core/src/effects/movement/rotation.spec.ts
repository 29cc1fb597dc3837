import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, noise, residual, sine } from '../../testing/signals';
import { resolveValues } from '../../project/parameters';
import { rotation } from './rotation';

const rate = 48_000;
const decibels = (ratio: number): number => 20 * Math.log10(ratio);
/** As good as standing still, so that the angle alone says where the sound is. */
const still = { rate: 0.01, apart: 0, delay: 0, shade: 0, level: 0 };
const lag = rotation.latency(resolveValues(rotation.parameters, {}) as never, rate);

/** Levels of both ears for a tone from an angle in degrees, in dB against the tone. */
function levels(frequency: number, degrees: number, values: Readonly<Record<string, number>>): [number, number] {
  // The slow round goes on by 0.7° in the 0.2 s that are looked at.
  const input = sine(frequency, 0.3, rate, -12);
  const output = runEffect(rotation, [input, input], { values: { ...still, angle: degrees / 360, ...values } });
  const [left, right] = output.map((samples) => decibels(amplitudeAt(samples, frequency, rate, 4_800) / 10 ** (-12 / 20)));
  return [left!, right!];
}

describe('rotation', () => {
  it('lets both sides through as one, on time, while nothing of it is turned up', () => {
    const [left, right] = [noise(rate / 2, 1, -12), noise(rate / 2, 2, -12)];
    const output = runEffect(rotation, [left, right], { values: still });
    const mid = left.map((sample, i) => (sample + right[i]!) / 2);
    for (const ear of output) expect(residual(mid.subarray(0, -lag), ear.subarray(lag))).toBeLessThan(-100);
  });

  it.each([0, 45, 90, 135, 180, -90, -30])('keeps its power at %d degrees, and is all in one ear at the sides', (degrees) => {
    const [left, right] = levels(997, degrees, { level: 1 });
    expect(10 ** (left / 10) + 10 ** (right / 10)).toBeCloseTo(2, 2);
    const place = (Math.PI / 4) * (1 + Math.sin((degrees * Math.PI) / 180));
    expect(Math.abs(10 ** (right / 20) - Math.SQRT2 * Math.sin(place))).toBeLessThan(0.02);
  });

  it.each([
    [90, 1],
    [-90, 1],
    [30, 0.5],
    [180, 1],
  ])('from %d degrees the other ear is later by what Kuhn gives, times %d', (degrees, amount) => {
    const input = sine(400, 0.3, rate, -12);
    const [left, right] = runEffect(rotation, [input, input], { values: { ...still, angle: degrees / 360, delay: amount } });
    /** Phase in cycles. */
    const phase = (samples: Float32Array): number => {
      let [re, im] = [0, 0];
      for (let i = 4_800; i < 14_400; i++) {
        re += samples[i]! * Math.cos((2 * Math.PI * 400 * i) / rate);
        im += samples[i]! * Math.sin((2 * Math.PI * 400 * i) / rate);
      }
      return Math.atan2(im, re) / (2 * Math.PI);
    };
    const turns = phase(left!) - phase(right!);
    const later = (turns - Math.round(turns)) / 400;
    expect(Math.abs(later - amount * ((3 * 0.0875) / 343) * Math.sin((degrees * Math.PI) / 180))).toBeLessThan(1.5e-5);
  });

  it('shades the highs of the far ear by a tenth at 150 degrees, lets the near ear hear twice as much, and darkens what is behind', () => {
    const lows = levels(60, 90, { shade: 1 });
    for (const level of lows) expect(Math.abs(level)).toBeLessThan(0.4);
    const highs = 18_000;
    // 90° to the right: at the right ear itself; behind is half way round from the front, of which a side has half.
    expect(levels(highs, 90, { shade: 1 })[1]).toBeCloseTo(decibels(2 * 0.75), 0);
    // 60° to the left lies 150° from the right ear.
    expect(Math.abs(levels(highs, -60, { shade: 1 })[1] - decibels(0.1 * (1 - 0.5 * 0.25)))).toBeLessThan(1);
    const [front] = levels(highs, 0, { shade: 1 });
    const [behind] = levels(highs, 180, { shade: 1 });
    expect(front - behind).toBeCloseTo(6, 0);
    expect(levels(highs, 180, { shade: 0 })[0]).toBeCloseTo(0, 1);
  });

  it.each([0.5, 4, 20])('goes round %d times a second, and the other way where it is told to', (rounds) => {
    const input = new Float32Array(2 * rate).fill(0.5);
    for (const way of ['clockwise', 'anticlockwise']) {
      const values = { ...still, level: 1, rate: rounds, way };
      const [left, right] = runEffect(rotation, [input, input], { values });
      const at = Math.round((0.25 / rounds) * rate) + lag;
      const [near, far] = way === 'clockwise' ? [right!, left!] : [left!, right!];
      expect(near[at]!).toBeCloseTo(0.5 * Math.SQRT2, 2);
      expect(Math.abs(far[at]!)).toBeLessThan(0.01);
      let turns = 0;
      for (let i = lag + 1; i < near.length; i++) if (near[i]! >= 0.5 !== near[i - 1]! >= 0.5) turns++;
      expect(Math.abs(turns - 4 * rounds)).toBeLessThanOrEqual(1);
    }
  });

  it('places both sides apart: at its most, each in front of its own ear', () => {
    const silence = new Float32Array(rate / 2);
    const input = sine(997, 0.5, rate, -12);
    const [left, right] = runEffect(rotation, [input, silence], { values: { ...still, level: 1, apart: 1 } });
    expect(decibels(amplitudeAt(right!, 997, rate, 4_800) / amplitudeAt(left!, 997, rate, 4_800))).toBeLessThan(-25);
  });

  it('leaves a single channel as it is', () => {
    const input = noise(4_800, 4, -12);
    const [output] = runEffect(rotation, [input]);
    expect(residual(input.subarray(0, -lag), output!.subarray(lag))).toBeLessThan(-100);
  });
});
