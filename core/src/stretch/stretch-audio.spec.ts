import { frameCount } from '../audio/audio';
import { Cancelled } from '../cancelled';
import { amplitudeAt, largest, mono, noise, residual, sine } from '../testing/signals';
import { chooseMethod } from './choose-method';
import { findAttacks } from './find-attacks';
import type { StretchMethod, StretchOptions } from './stretch-audio';
import { stretchAudio } from './stretch-audio';
import { TimeMap } from './time-map';

const rate = 48_000;
const methods: readonly StretchMethod[] = ['hits', 'tones', 'texture', 'vast'];

function stretched(channels: readonly Float32Array[], ratio: number, options: StretchOptions): readonly Float32Array[] {
  const frames = channels[0]!.length;
  const map = new TimeMap(Float64Array.of(0, frames), Float64Array.of(0, frames * ratio));
  const attacks = options.method === 'hits' || options.method === 'vast' ? findAttacks({ sampleRate: rate, channels }) : [];
  return stretchAudio({ sampleRate: rate, channels }, map, { from: 0, to: Math.round(frames * ratio) }, { attacks, ...options }).channels;
}

/** What is left beside a tone of this frequency, in dB below it. */
function spurious(samples: Float32Array, frequency: number, from: number, to: number): number {
  const [s, c] = [0, 1].map((quarter) =>
    Float32Array.from({ length: to - from }, (_, i) => Math.sin((2 * Math.PI * frequency * (from + i)) / rate + (quarter * Math.PI) / 2)),
  ) as [Float32Array, Float32Array];
  const dot = (a: Float32Array, b: Float32Array): number => a.reduce((sum, value, i) => sum + value * b[i]!, 0);
  const part = samples.subarray(from, to);
  const [ss, cc, sc, xs, xc] = [dot(s, s), dot(c, c), dot(s, c), dot(part, s), dot(part, c)];
  const determinant = ss * cc - sc * sc;
  const [a, b] = [(xs * cc - xc * sc) / determinant, (xc * ss - xs * sc) / determinant];
  return residual(
    s.map((value, i) => a * value + b * c[i]!),
    part,
  );
}

/** Standard deviation of the levels of pieces of 20 ms, in dB. */
function flutter(samples: Float32Array, from = 4_800, to = samples.length - 4_800): number {
  const levels: number[] = [];
  for (let at = from; at + 960 <= to; at += 480) {
    let sum = 0;
    for (let i = at; i < at + 960; i++) sum += samples[i]! ** 2;
    levels.push(10 * Math.log10(sum / 960 + 1e-12));
  }
  const mean = levels.reduce((a, b) => a + b, 0) / levels.length;
  return Math.sqrt(levels.reduce((a, level) => a + (level - mean) ** 2, 0) / levels.length);
}

describe('stretching tones', () => {
  // Reached: -84 to -143 dB; the floor asks for 1 cent and 0.5 dB, which -60 dB beside the tone leaves far behind.
  it.each([0.25, 0.5, 1.37, 2, 4])('keeps the frequency and the level of a steady sine at %f', (ratio) => {
    for (const [frequency, method] of [
      [110, 'tones'],
      [3_001, 'tones'],
      [997, 'hits'],
    ] as const) {
      const out = stretched([sine(frequency, 3, rate, -6)], ratio, { method })[0]!;
      expect(out).toHaveLength(Math.round(3 * rate * ratio));
      const [from, to] = [Math.round(out.length * 0.3), Math.round(out.length * 0.7)];
      expect(spurious(out, frequency, from, to)).toBeLessThan(-60);
      expect(20 * Math.log10(amplitudeAt(out, frequency, rate, from, to))).toBeCloseTo(-6, 2);
    }
  });

  it('keeps the phase between channels of a panned tone within a tenth of a degree', () => {
    const [left, right] = stretched([sine(500, 2, rate, -6), sine(500, 2, rate, -14, -Math.PI / 3)], 2.3, { method: 'tones' });
    const shift = Array.from({ length: 96 }, (_, n) => n);
    // A tone of 500 Hz repeats after 96 samples: the right one, turned by 60 degrees, lies 16 behind.
    const at = 60_000;
    expect(largest(0, shift.length, (n) => right![at + n + 16]! / 10 ** (-8 / 20) - left![at + n]!)).toBeLessThan(0.001);
  });

  it('stretches 200 times by the vast method without warble', () => {
    const tone = sine(440, 0.5, rate, -6);
    const span = { from: 0, to: 5 * rate };
    const out = stretchAudio(mono(tone), TimeMap.even(200), span, { method: 'vast' }).channels[0]!;
    expect(flutter(out, 4_800, 5 * rate)).toBeLessThan(0.1);
  });
});

describe('stretching hits', () => {
  const clicks = new Float32Array(2 * rate);
  const places = [12_000, 30_000, 48_000, 66_000];
  for (const place of places) clicks[place] = 0.9;

  // Reached: to the sample, and nothing before; the floor is 5 ms and -30 dB.
  it.each([0.25, 0.5, 2, 4])('keeps clicks in their places, with nothing before them, at %f', (ratio) => {
    const out = stretched([clicks], ratio, { method: 'hits' })[0]!;
    for (const place of places) {
      const at = Math.round(place * ratio);
      expect(Math.abs(out[at]!)).toBeGreaterThan(0.85);
      expect(largest(at - 3_000, at, (i) => out[i]!)).toBeLessThan(0.001);
    }
  });

  it('leaves an attack as it is: its first 5 ms are those of the recording, its first 20 ms nearly so', () => {
    const random = noise(rate, 3);
    const drum = Float32Array.from({ length: rate }, (_, i) => {
      const t = i / rate - 0.3;
      return t < 0 ? 0 : 0.6 * Math.exp(-12 * t) * Math.sin(2 * Math.PI * 70 * t) + 0.3 * Math.exp(-50 * t) * random[i]!;
    });
    const [attack] = findAttacks(mono(drum));
    expect(Math.abs(attack! - 0.3 * rate)).toBeLessThan(48);
    for (const ratio of [0.5, 2, 4]) {
      const out = stretched([drum], ratio, { method: 'hits' })[0]!;
      const at = Math.round(attack! * ratio);
      expect(residual(drum.subarray(attack), out.subarray(at), 0, 240)).toBeLessThan(-70);
      expect(residual(drum.subarray(attack), out.subarray(at), 0, 960)).toBeLessThan(-35);
    }
  });
});

describe('stretching noise', () => {
  it.each([
    ['texture', 2, 0.1],
    ['texture', 4, 0.1],
    ['vast', 20, 0.2],
  ] as const)('keeps the level and the restlessness of noise, by %s at %f', (method, ratio, most) => {
    const sound = noise(2 * rate, 5, -6);
    const out = stretched([sound], ratio, { method })[0]!;
    const power = (x: Float32Array): number => 10 * Math.log10(x.reduce((sum, value) => sum + value * value, 0) / x.length);
    expect(Math.abs(power(out) - power(sound))).toBeLessThan(0.3);
    expect(Math.abs(flutter(out) - flutter(sound))).toBeLessThan(most);
  });

  it('gives all channels the same places: a sound that is the same on both sides stays so', () => {
    const sound = noise(rate, 6, -6);
    for (const method of methods) {
      const [left, right] = stretched([sound, sound], 1.7, { method });
      expect(residual(left!, right!)).toBeLessThan(-100);
    }
  });
});

describe('any stretch', () => {
  it('is as long as was asked for, of silence, of a sample, of eight channels', () => {
    for (const method of methods) {
      for (const ratio of [0.25, 1, 3.3]) {
        expect(stretched([new Float32Array(1_000)], ratio, { method })[0]).toEqual(new Float32Array(Math.round(1_000 * ratio)));
        const one = stretched([Float32Array.of(0.5)], ratio, { method })[0]!;
        expect(one).toHaveLength(Math.round(ratio));
        expect(one.every(Number.isFinite)).toBe(true);
      }
      const many = Array.from({ length: 8 }, (_, c) => noise(5_000, c, -6));
      const out = stretched(many, 1.5, { method });
      expect(out).toHaveLength(8);
      expect(frameCount({ sampleRate: rate, channels: out })).toBe(7_500);
    }
  });

  it('by 1 and without wear is the sound itself where phases are kept', () => {
    const sound = noise(rate, 7, -6);
    for (const method of ['hits', 'tones'] as const)
      expect(residual(sound, stretched([sound], 1, { method, attacks: [9_000, 30_000] })[0]!)).toBeLessThan(-100);
  });

  it('is damaged by wear, more and more, and no quieter for it', () => {
    const tone = sine(300, 2, rate, -6);
    const damage = [0, 0.3, 1].map((wear) => {
      const out = stretched([tone], 2, { method: 'tones', wear })[0]!;
      const level = 10 * Math.log10(out.subarray(rate, 3 * rate).reduce((sum, value) => sum + value * value, 0) / rate / 2) + 9.03;
      expect(Math.abs(level)).toBeLessThan(2);
      return spurious(out, 300, rate, 3 * rate);
    });
    expect(damage[1]! - damage[0]!).toBeGreaterThan(20);
    expect(damage[2]! - damage[1]!).toBeGreaterThan(3);
  });
});

describe('the method', () => {
  const attacks = new Float32Array(2 * rate);
  const random = noise(2 * rate, 8);
  for (const place of [10_000, 40_000, 70_000])
    for (let i = 0; i < 12_000; i++) attacks[place + i]! += 0.5 * Math.exp(-i / 1_500) * random[place + i]!;
  it.each([
    ['hits', attacks],
    ['tones', sine(180, 2, rate, -12).map((value, i) => value + 0.3 * Math.sin((2 * Math.PI * 411 * i) / rate))],
    ['texture', noise(2 * rate, 9, -12)],
  ])('is chosen by what a sound is: %s', (expected, sound) => {
    expect(chooseMethod(mono(sound)).method).toBe(expected);
  });
});

describe('a stretch under way', () => {
  it.each(methods)('by “%s” tells how much is done, and ends when it is told to', (method) => {
    const input = noise(3 * rate, 2, -12);
    for (const at of [0.5, 1.4, 2.2]) input[at * rate] = 1;
    const told: number[] = [];
    const progress = (share: number): boolean => told.push(share) > 0;
    stretched([input], 2, { method, progress });
    expect(told.length).toBeGreaterThan(2);
    expect([...told].sort((a, b) => a - b)).toEqual(told);
    expect(told[0]).toBeGreaterThanOrEqual(0);
    expect(told.at(-1)).toBeGreaterThan(0.7);
    expect(told.at(-1)).toBeLessThanOrEqual(1);
    expect(() => stretched([input], 2, { method, progress: () => false })).toThrow(Cancelled);
  });
});
