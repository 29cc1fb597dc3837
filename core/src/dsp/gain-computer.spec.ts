import fc from 'fast-check';
import { GainComputer } from './gain-computer';
import type { Press } from './gain-computer';
import { createRandom, seedOf } from './random';

const settings: fc.Arbitrary<Press> = fc.record({
  threshold: fc.double({ min: -60, max: 0, noNaN: true }),
  slope: fc.double({ min: 0, max: 0.975, noNaN: true }),
  knee: fc.constantFrom(0, 0.5, 6, 36),
  attack: fc.double({ min: 0, max: 0.9999, noNaN: true }),
  release: fc.double({ min: 0, max: 0.99999, noNaN: true }),
  lift: fc.double({ min: -12, max: 36, noNaN: true }),
});

function noise(length: number, seed: number, level: number): Float32Array {
  const random = createRandom(seedOf('gains', seed));
  return Float32Array.from({ length }, () => level * (2 * random.next() - 1));
}

describe('GainComputer', () => {
  test('gives the same gains compiled and plain, in runs of any length, to a millionth of a decibel', () => {
    fc.assert(
      fc.property(settings, fc.array(fc.integer({ min: 1, max: 128 }), { minLength: 1, maxLength: 6 }), fc.nat(), (press, runs, seed) => {
        const compiled = new GainComputer();
        const plain = new GainComputer(false);
        let farthest = 0;
        for (const [n, frames] of runs.entries()) {
          const channels = [noise(frames, seed + n, 1), noise(frames, seed - n - 1, 0.7)];
          for (const computer of [compiled, plain]) {
            computer.measure(channels, frames);
            computer.press(frames, press);
          }
          for (let i = 0; i < frames; i++) farthest = Math.max(farthest, Math.abs(20 * Math.log10(compiled.values[i]! / plain.values[i]!)));
          farthest = Math.max(farthest, Math.abs(compiled.deepest - plain.deepest), Math.abs(compiled.reduction - plain.reduction));
        }
        expect(farthest).toBeLessThan(2e-6);
      }),
    );
  });

  test.each([true, false])('follows the static curve at once where it is to (compiled: %s)', (isCompiled) => {
    const computer = new GainComputer(isCompiled);
    // -6, -20, -30 and -70 dB at a threshold of -30 dB, 4:1, with a knee of 10 dB.
    const steps = [-6, -20, -30, -70];
    computer.measure([Float32Array.from(steps, (level) => 10 ** (level / 20))], 4);
    computer.press(4, { threshold: -30, slope: 0.75, knee: 10, attack: 0, release: 0, lift: 0 });
    const gains = Array.from(computer.values.subarray(0, 4), (gain) => 20 * Math.log10(gain));
    const wanted = [-24 * 0.75, -10 * 0.75, (-0.75 * 5 ** 2) / 20, 0];
    gains.forEach((gain, i) => expect(gain).toBeCloseTo(wanted[i]!, 5));
    expect(computer.deepest).toBeCloseTo(18, 5);
  });

  test.each([true, false])('reads what is no number, and silence, as silence (compiled: %s)', (isCompiled) => {
    const computer = new GainComputer(isCompiled);
    computer.measure([Float32Array.of(NaN, 0, 1e-30, 1)], 4);
    computer.press(4, { threshold: -20, slope: 0.5, knee: 0, attack: 0, release: 0, lift: 0 });
    expect(Array.from(computer.values.subarray(0, 4), (gain) => Math.round(2_000 * Math.log10(gain)) / 100 || 0)).toEqual([0, 0, 0, -10]);
  });
});
