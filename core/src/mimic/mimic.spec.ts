import { effectCatalogue } from '../catalogue';
import { findPatchFault } from '../project/patch/patch-faults';
import { patchSchema } from '../project/patch/patch-schema';
import { noise } from '../testing/signals';
import { OriginalSound } from './distance';
import type { Mimicry } from './mimic';
import { mimic } from './mimic';

const sampleRate = 48_000;
const audioOf = (samples: Float32Array) => ({ sampleRate, channels: [samples] });
const seconds = (length: number, sample: (time: number) => number): Float32Array =>
  Float32Array.from({ length: Math.round(length * sampleRate) }, (_, i) => sample(i / sampleRate));

/** A bell of some modes after a tenth of a second of silence. */
const bell = seconds(1.6, (time) => {
  const since = time - 0.1;
  if (since < 0) return 0;
  return [
    [523, 0.3, 1.5],
    [1_274, 0.2, 0.9],
    [2_689, 0.1, 0.5],
    [4_011, 0.08, 0.3],
  ].reduce(
    (sum, [frequency, level, decay]) => sum + level! * Math.exp((-6.9 * since) / decay!) * Math.sin(2 * Math.PI * frequency! * since),
    0,
  );
});
const reed = seconds(1.5, (time) => {
  const swell = Math.min(1, time / 0.1, (1.5 - time) / 0.1);
  return [1, 2, 3, 4, 5, 6, 7].reduce((sum, h) => sum + (0.2 / h) * swell * Math.sin(2 * Math.PI * 196 * h * time), 0);
});
const white = noise(sampleRate);
const puff = seconds(0.8, (time) => 0.4 * Math.exp(-6 * time) * white[Math.round(time * sampleRate)]!);

describe('mimicking a recording', () => {
  const found = new Map<Float32Array, Mimicry>();
  const mimicryOf = (samples: Float32Array): Mimicry => {
    const known = found.get(samples) ?? mimic(audioOf(samples));
    found.set(samples, known);
    return known;
  };

  it.each([
    ['a bell', bell, /modes/, 5],
    ['a reed', reed, /harmonics/, 6],
    ['a puff', puff, /^noise/, 5],
  ])('comes near to %s with what it is made of', (_, samples, how, near) => {
    const found = mimicryOf(samples);
    expect(found.how).toMatch(how);
    expect(found.distance).toBeLessThan(near);
    expect(found.distance).toBeLessThan(found.ofNoise / 2);
    expect(patchSchema.safeParse(found.patch).success).toBe(true);
    expect(findPatchFault(found.patch, 'it', effectCatalogue)).toBeUndefined();
  });

  it('keeps the pitch and the modes', () => {
    const ofBell = mimicryOf(bell);
    expect(440 * 2 ** ((ofBell.notes[0]!.pitch - 69) / 12)).toBeCloseTo(523, 0);
    const numbers = String(ofBell.patch.parts[0]!.parameters['taken']).split(' ').map(Number);
    expect(numbers[3]).toBeCloseTo(12 * Math.log2(1_274 / 523), 1);
    const ofReed = mimicryOf(reed);
    expect(ofReed.notes[0]!.pitch).toBeCloseTo(55, 1);
  });

  it('refuses silence and what is next to nothing, in a sentence', () => {
    expect(() => mimic(audioOf(new Float32Array(sampleRate)))).toThrow('It is silent.');
    expect(() => mimic(audioOf(Float32Array.of(1, 0.5)))).toThrow('It is too short to be mimicked.');
  });

  it('can be cancelled, and comes to the same every time', () => {
    expect(() => mimic(audioOf(puff), () => false)).toThrow('It was cancelled.');
    expect(mimic(audioOf(puff))).toEqual(mimicryOf(puff));
  });
});

describe('the distance to an original', () => {
  it('is 0 for itself, whatever its level, and grows with what is done to it', () => {
    const original = new OriginalSound(audioOf(bell));
    expect(original.distanceTo(audioOf(bell))).toBe(0);
    expect(original.distanceTo(audioOf(bell.map((sample) => sample / 2)))).toBeLessThan(0.2);
    const shorter = bell.map((sample, i) => sample * Math.exp(-i / 48_000));
    const shortest = bell.map((sample, i) => sample * Math.exp(-i / 9_600));
    const near = original.distanceTo(audioOf(shorter));
    expect(near).toBeGreaterThan(0.5);
    expect(original.distanceTo(audioOf(shortest))).toBeGreaterThan(near);
    expect(() => original.distanceTo(audioOf(puff))).toThrow(RangeError);
  });
});
