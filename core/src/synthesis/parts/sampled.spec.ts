import { amplitudeAt, sine, stereo } from '../../testing/signals';
import { runSource } from '../../testing/synthesis';
import { readBetween } from '../../dsp/fractional-read';
import type { ParameterValues } from '../../project/parameters';
import { grains } from './grains';
import { take } from './take';

const sampleRate = 48_000;
const middleC = 440 * 2 ** ((60 - 69) / 12);
const tone = stereo(sine(1_000, 2, sampleRate, -6));
const level = 10 ** (-6 / 20);

describe('reading between samples', () => {
  it('finds what a sine has there, and the samples themselves', () => {
    for (const hertz of [100, 5_000, 15_000]) {
      const samples = sine(hertz, 0.1, sampleRate);
      let most = 0;
      for (let i = 0; i < 500; i++) {
        const place = 1_000 + i * 1.37;
        most = Math.max(most, Math.abs(readBetween(samples, place) - Math.sin((2 * Math.PI * hertz * place) / sampleRate)));
      }
      expect({ hertz, near: most < 0.005 }).toEqual({ hertz, near: true });
      expect(readBetween(samples, 1_234)).toBeCloseTo(samples[1_234]!, 6);
    }
    expect(readBetween(sine(100, 0.1, sampleRate), -100)).toBe(0);
  });
});

describe('a take', () => {
  it('is as it was at the C in the middle, and an octave up twice as high and half as long', () => {
    const plain = Float32Array.from(runSource(take, {}, middleC, sampleRate, 1, { source: tone })[0]);
    expect(amplitudeAt(plain, 1_000, sampleRate)).toBeCloseTo(level, 2);
    const high = Float32Array.from(runSource(take, {}, 2 * middleC, 1.5 * sampleRate, 1, { source: tone })[0]);
    expect(amplitudeAt(high, 2_000, sampleRate, 0, 0.9 * sampleRate)).toBeCloseTo(level, 2);
    expect(high.subarray(1.01 * sampleRate).every((sample) => sample === 0)).toBe(true);
  });

  it('goes round, to and fro, and backwards, within its part', () => {
    for (const way of ['round and round', 'to and fro']) {
      const long = Float32Array.from(runSource(take, { way, begin: 0.25, end: 0.5 }, middleC, 3 * sampleRate, 1, { source: tone })[0]);
      expect(amplitudeAt(long, 1_000, sampleRate, 2 * sampleRate, 2.4 * sampleRate)).toBeGreaterThan(0.2);
    }
    const rise = stereo(Float32Array.from({ length: 1_000 }, (_, i) => i / 1_000));
    const back = runSource(take, { begin: 1, end: 0 }, middleC, 900, 1, { source: rise })[0];
    expect(back[200]!).toBeGreaterThan(back[700]!);
  });

  it('is silent without a source', () => {
    expect(runSource(take, {}, middleC, 1_000)[0].every((sample) => sample === 0)).toBe(true);
  });
});

describe('grains', () => {
  it('keep the pitch of their source, follow the note, and come again', () => {
    const cloud = (frequency: number, values = {}): Float32Array =>
      Float32Array.from(
        runSource(grains, { size: 0.1, rate: 80, spray: 0.1, ...values }, frequency, 2 * sampleRate, 3, { source: tone })[0],
      );
    const plain = cloud(middleC);
    expect(amplitudeAt(plain, 1_000, sampleRate, sampleRate / 2, 1.5 * sampleRate)).toBeGreaterThan(0.02);
    const share = (samples: Float32Array, hertz: number): number => {
      const power = samples.reduce((sum, each) => sum + each * each, 0) / samples.length;
      let found = 0;
      for (let off = -10; off <= 10; off++) found += amplitudeAt(samples, hertz + off, sampleRate) ** 2 / 2;
      return found / power;
    };
    expect(share(plain, 1_000)).toBeGreaterThan(0.5);
    expect(share(cloud(middleC / 2), 500)).toBeGreaterThan(0.5);
    expect(cloud(middleC)).toEqual(plain);
  });

  it('do not click, however short and dense they are', () => {
    const ends: ParameterValues[] = [
      { size: 0.002, rate: 1_000 },
      { size: 2, rate: 1_000 },
      { size: 0.02, rate: 0.2 },
      { backwards: 1, pitches: 24 },
    ];
    for (const values of ends) {
      const low = stereo(sine(60, 2, sampleRate, -6));
      const samples = runSource(grains, values, middleC, sampleRate, 1, { source: low })[0];
      const step = samples.reduce((most, each, i) => (i ? Math.max(most, Math.abs(each - samples[i - 1]!)) : 0), 0);
      // A grain of 2 ms rises to its level within 48 frames.
      expect({ values, smooth: step < 0.12 }).toEqual({ values, smooth: true });
    }
  });

  it('lie as far left and right as they are told', () => {
    const [left, right] = runSource(grains, { apart: 0, rate: 100 }, middleC, sampleRate, 1, { source: stereo(sine(300, 2, sampleRate)) });
    expect(left).toEqual(right);
    const wide = runSource(grains, { apart: 1, rate: 100 }, middleC, sampleRate, 1, { source: stereo(sine(300, 2, sampleRate)) });
    expect(wide[0]).not.toEqual(wide[1]);
  });
});
