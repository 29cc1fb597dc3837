import { mono, noise, sine, stereo } from '../testing/signals';
import { findAttacks } from './find-attacks';
import { measureStrain } from './strain';
import type { StretchOptions } from './stretch-audio';
import { stretchAudio } from './stretch-audio';
import { TimeMap } from './time-map';

const rate = 48_000;
const even = TimeMap.even(2);
const strainOf = (samples: Float32Array, options: Omit<StretchOptions, 'attacks'>, ratio = 2) => {
  const audio = mono(samples);
  const map = TimeMap.even(ratio);
  const attacks = options.method === 'hits' ? findAttacks(audio) : [];
  const result = stretchAudio(audio, map, { from: 0, to: samples.length * ratio }, { ...options, attacks });
  return measureStrain(audio, result, map, () => 1);
};

const sum = (a: Float32Array, b: Float32Array): Float32Array => a.map((value, i) => value + b[i]!);

const hits = new Float32Array(2 * rate);
const random = noise(2 * rate, 3);
for (const place of [9_000, 30_000, 60_000, 80_000])
  for (let i = 0; i < 9_000; i++) hits[place + i]! += 0.6 * Math.exp(-i / 900) * random[place + i]!;

describe('the strain of a stretch', () => {
  it('is none where nothing was done', () => {
    const sound = mono(hits.map((value, i) => value + 0.1 * Math.sin(i / 20)));
    const strain = measureStrain(sound, sound, TimeMap.even(1), () => 1);
    expect(strain.amount).toBe(0);
    expect(strain.reason).toBeUndefined();
    expect(strain.moments.every(({ amount }) => amount === 0)).toBe(true);
  });

  it('tells smeared attacks, where they are, and that keeping them mends it', () => {
    const smeared = strainOf(hits, { method: 'tones' });
    expect(smeared.reason).toBe('smeared attacks');
    expect(smeared.smear).toBeGreaterThan(6);
    const where = smeared.moments.filter(({ amount }) => amount > 0.2).map(({ time }) => time);
    for (const place of [30_000, 60_000]) expect(where.some((time) => Math.abs(time - (2 * place) / rate) < 0.2)).toBe(true);
    expect(strainOf(hits, { method: 'hits' }).smear).toBeLessThan(4);
  });

  it('tells flutter of a tone whose level was made to waver, but not the life of the original', () => {
    const tone = sine(400, 2, rate, -12);
    const alive = tone.map((value, i) => value * (1 + 0.6 * Math.sin((2 * Math.PI * 9 * i) / rate)));
    const wavering = sine(400, 4, rate, -12).map((value, i) => value * (1 + 0.6 * Math.sin((2 * Math.PI * 9 * i) / rate)));
    expect(measureStrain(mono(tone), mono(wavering), even, () => 1)).toMatchObject({ reason: 'flutter' });
    expect(measureStrain(mono(alive), mono(wavering), even, () => 1).amount).toBe(0);
    expect(strainOf(tone, { method: 'tones' }).amount).toBe(0);
  });

  it('tells tones that were lost and such that were not there; a shift moves them all', () => {
    const pair = sum(sine(500, 2, rate, -12), sine(1_200, 2, rate, -12));
    const third = sum(sine(500, 4, rate, -12), sine(2_100, 4, rate, -12));
    const strain = measureStrain(mono(pair), mono(third), even, () => 1);
    expect(strain.lost).toBeCloseTo(-3, 0);
    expect(strain.invented).toBeCloseTo(-3, 0);
    const up = sum(sine(750, 4, rate, -12), sine(1_800, 4, rate, -12));
    expect(measureStrain(mono(pair), mono(up), even, () => 1.5).amount).toBe(0);
    expect(measureStrain(mono(pair), mono(up), even, () => 1).reason).toBe('lost tones');
  });

  it('tells an image that has moved', () => {
    const sound = noise(rate, 5, -6);
    const wide = stereo(sound);
    const moved = { sampleRate: rate, channels: [sound, sound.map((value) => value / 3)] };
    expect(measureStrain(wide, moved, TimeMap.even(1), () => 1)).toMatchObject({ reason: 'image' });
    expect(measureStrain(wide, moved, TimeMap.even(1), () => 1).image).toBeCloseTo(20 * Math.log10(3), 1);
  });

  it('rises with wear, and finds little in noise that was stretched as noise', () => {
    const sound = noise(2 * rate, 6, -12);
    expect(strainOf(sound, { method: 'texture' }).amount).toBeLessThan(0.2);
    const tone = sine(300, 2, rate, -12).map((value, i) => value + 0.05 * random[i]!);
    const amounts = [0, 0.5, 1].map((wear) => strainOf(tone, { method: 'tones', wear }).amount);
    expect(amounts[2]!).toBeGreaterThan(amounts[0]! + 0.1);
  });

  it('of silence and of one sample is none', () => {
    expect(strainOf(new Float32Array(rate), { method: 'hits' }).amount).toBe(0);
    expect(strainOf(Float32Array.of(0.5), { method: 'tones' }).amount).toBe(0);
  });
});
