import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, noise, sine } from '../../testing/signals';
import { unison } from './unison';

const rate = 48_000;
const rms = (samples: Float32Array): number => Math.sqrt(samples.reduce((sum, sample) => sum + sample ** 2, 0) / samples.length);
const decibels = (ratio: number): number => 20 * Math.log10(ratio);

describe('unison', () => {
  it('is about as loud as what it is made of, however many voices there are', () => {
    const input = noise(2 * rate, 4, -12);
    for (const voices of [2, 8, 50])
      for (const level of [0, 24]) {
        const output = runEffect(unison, [input, input], { values: { voices, level, delay: 0.08, pitch: 0.4 } });
        const power = output.reduce((sum, samples) => sum + rms(samples.subarray(rate)) ** 2 / 2, 0);
        expect(Math.abs(decibels(Math.sqrt(power) / rms(input)))).toBeLessThan(1.5);
      }
  });

  it('spreads voices as far in pitch as it says, one to each side', () => {
    const input = sine(1_000, 2, rate, -12);
    const [left, right] = runEffect(unison, [input, input], {
      values: { voices: 2, pitch: 2, drift: 0, delay: 0, level: 0, width: 1 },
    });
    const at = (samples: Float32Array, semitones: number): number => {
      // The two lie a little off the ends.
      let most = 0;
      for (let beside = -0.4; beside <= 0.4; beside += 0.01)
        most = Math.max(most, amplitudeAt(samples, 1_000 * 2 ** ((semitones + beside) / 12), rate, rate));
      return most;
    };
    const sides = [left!, right!].map((samples) => [at(samples, -2), at(samples, 2)]);
    // What is loud on one side is the other way round on the other.
    expect(sides[0]![0]! > sides[0]![1]!).not.toBe(sides[1]![0]! > sides[1]![1]!);
    for (const [low, high] of sides) expect(Math.max(low!, high!)).toBeGreaterThan(0.1);
    expect(amplitudeAt(left!, 1_000, rate, rate)).toBeLessThan(0.02);
  });

  it('comes as late as its delays are spread', () => {
    const click = new Float32Array(12_000);
    click[1_000] = 1;
    const arrivals = (delay: number): number[] => {
      const [output] = runEffect(unison, [click], { values: { voices: 12, pitch: 0, drift: 0, delay, level: 0 } });
      return [...output!.keys()].filter((i) => Math.abs(output![i]!) > 0.02);
    };
    const together = arrivals(0);
    const apart = arrivals(0.08);
    expect(together.at(-1)! - together[0]!).toBeLessThan(0.012 * rate);
    expect(apart.at(-1)! - apart[0]!).toBeGreaterThan(0.05 * rate);
    expect(apart.at(-1)! - apart[0]!).toBeLessThan(0.092 * rate);
  });

  it('drifts: what it makes of one tone is never twice the same', () => {
    const input = sine(400, 3, rate, -12);
    const steadiness = (drift: number): number => {
      const [output] = runEffect(unison, [input], { values: { voices: 2, pitch: 0, delay: 0, drift, level: 0 } });
      const levels = Array.from({ length: 20 }, (_, n) => rms(output!.subarray(0.5 * rate + n * 4_800, 0.5 * rate + (n + 1) * 4_800)));
      return Math.max(...levels) / Math.min(...levels);
    };
    expect(steadiness(0)).toBeLessThan(1.02);
    expect(steadiness(1)).toBeGreaterThan(1.3);
  });

  it('spreads formants', () => {
    const voice = new Float32Array(1.5 * rate);
    for (let p = 1; p * 120 < 5_000; p++)
      sine(120 * p, 1.5, rate, -20 - 10 * Math.log10(1 + ((p * 120 - 1_000) / 150) ** 2)).forEach((sample, i) => (voice[i]! += sample));
    const spread = (formant: number): number => {
      const [output] = runEffect(unison, [voice], { values: { voices: 16, formant, pitch: 0, drift: 0, delay: 0 } });
      let sum = 0;
      for (const frequency of [480, 600, 1_680, 1_920]) sum += amplitudeAt(output!, frequency, rate, rate / 2) ** 2;
      return sum;
    };
    expect(decibels(Math.sqrt(spread(10) / spread(0)))).toBeGreaterThan(3);
  });
});
