import type { Effect } from '../effect';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, residual, noise, sine } from '../../testing/signals';
import { harmony } from './harmony';
import { resolveValues } from '../../project/parameters';

const rate = 48_000;
/** Any values may be given to it. */
const asEffect = (effect: Effect): Effect => effect;
const silentOwn = { own: -60, level: 0, width: 0 };
const hertzOf = (note: number): number => 440 * 2 ** ((note - 69) / 12);
const level = -12;
const tone = 10 ** (level / 20);

/** A tone with five partials. */
function sung(note: number, duration: number): Float32Array {
  const samples = new Float32Array(duration * rate);
  for (let p = 1; p <= 5; p++)
    sine(p * hertzOf(note), duration, rate, level - 12 - 20 * Math.log10(p)).forEach((x, i) => (samples[i]! += x));
  return samples;
}

describe('harmony', () => {
  it('has its voices at their intervals, as loud as the sound', () => {
    const [output] = runEffect(harmony, [sine(440, 2, rate, level)], {
      values: { ...silentOwn, voices: 3, first: 7, second: -12, third: 3.5 },
    });
    for (const interval of [7, -12, 3.5])
      expect(amplitudeAt(output!, hertzOf(69 + interval), rate, rate, 1.9 * rate) / tone).toBeCloseTo(1, 1);
    expect(amplitudeAt(output!, 440, rate, rate, 1.9 * rate)).toBeLessThan(0.01 * tone);
  });

  it('has the chord that is chosen', () => {
    const [output] = runEffect(harmony, [sine(440, 2, rate, level)], { values: { ...silentOwn, by: 'chord', chord: 'minor', voices: 2 } });
    for (const interval of [3, 7]) expect(amplitudeAt(output!, hertzOf(69 + interval), rate, rate, 1.9 * rate) / tone).toBeCloseTo(1, 1);
  });

  it('goes along the scale with the pitch that is heard: a major third here, a minor third there', () => {
    const input = new Float32Array(4 * rate);
    input.set(sung(60, 2));
    input.set(sung(62, 2), 2 * rate);
    const values = { ...silentOwn, by: 'scale', root: 'C', scale: 'major', steps: 2, voices: 1, glide: 0 };
    const [output] = runEffect(harmony, [input], { values });
    const loudest = (from: number): number => {
      const levels = Array.from({ length: 12 }, (_, n) =>
        amplitudeAt(output!, hertzOf(60 + n), rate, Math.round(from * rate), Math.round((from + 1) * rate)),
      );
      return 60 + levels.indexOf(Math.max(...levels));
    };
    // E above C, F above D.
    expect(loudest(0.6)).toBe(64);
    expect(loudest(2.7)).toBe(65);
  });

  it('follows what sounds at once by bands', () => {
    // C3 below the split and A4 above it: in C major, a third above them are E3 and C5.
    const low = sine(hertzOf(48), 3, rate, level);
    const input = sine(hertzOf(69) * 2, 3, rate, level).map((sample, i) => sample + low[i]!);
    const values = { ...silentOwn, by: 'scale', root: 'C', scale: 'major', steps: 2, voices: 1, glide: 0, bands: 'two bands' };
    const [output] = runEffect(harmony, [input], { values });
    expect(amplitudeAt(output!, hertzOf(52), rate, rate, 2.9 * rate)).toBeGreaterThan(0.8 * tone);
    expect(amplitudeAt(output!, hertzOf(84), rate, rate, 2.9 * rate)).toBeGreaterThan(0.8 * tone);
  });

  it('has the sound itself as late as it says, at its own level', () => {
    const input = noise(20_000, 8, -12);
    for (const keepFormants of [false, true]) {
      const lag = asEffect(harmony).latency(resolveValues(harmony.parameters, { keepFormants }), rate);
      const [output] = runEffect(harmony, [input], { values: { level: -60, own: 0, keepFormants } });
      expect(residual(input.subarray(0, 20_000 - lag), output!.subarray(lag))).toBeLessThan(-120);
    }
  });
});
