import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, noise, residual, sine } from '../../testing/signals';
import { centring } from '../image/centring';
import { stereoImage } from '../image/stereo-image';
import { trim } from '../image/trim';
import { filter } from '../filters/filter';
import { resonator } from '../filters/resonator';
import { tiltEq } from '../filters/tilt-eq';
import { analoguePower, tilt } from '../../dsp/filters/analogue';
import { detune } from './detune';
import { dispersion } from './dispersion';
import { flanger } from './flanger';
import { haas } from './haas';
import { tremolo } from './tremolo';

const rate = 48_000;
const power = (samples: Float32Array, from = 0): number => samples.subarray(from).reduce((sum, sample) => sum + sample ** 2, 0);
const decibels = (ratio: number): number => 20 * Math.log10(ratio);

describe('dispersion', () => {
  it('keeps every level and delays its own frequency most', () => {
    const input = new Float32Array(rate);
    input[0] = 1;
    const [output] = runEffect(dispersion, [input], { values: { frequency: 900, width: 1, stages: 32 } });
    expect(power(output!)).toBeCloseTo(1, 3);
    for (const frequency of [100, 900, 5_000, 15_000]) {
      const [tone] = runEffect(dispersion, [sine(frequency, 0.6, rate, -6)], { values: { frequency: 900, width: 1, stages: 32 } });
      expect(Math.abs(decibels(amplitudeAt(tone!, frequency, rate, 19_200) / 10 ** (-6 / 20)))).toBeLessThan(0.05);
    }
  });
});

describe('detune', () => {
  it('moves left and right apart by its spread', () => {
    const input = sine(1_000, 1, rate, -6);
    const [left, right] = runEffect(detune, [input, input], { values: { pitch: 0, spread: 1, window: 0.08, blend: 1 } });
    const up = 1_000 * 2 ** (1 / 12);
    const down = 1_000 / 2 ** (1 / 12);
    expect(amplitudeAt(left!, up, rate, 12_000)).toBeGreaterThan(3 * amplitudeAt(left!, down, rate, 12_000));
    expect(amplitudeAt(right!, down, rate, 12_000)).toBeGreaterThan(3 * amplitudeAt(right!, up, rate, 12_000));
  });
});

describe('flanger', () => {
  it('is a comb: teeth where the delay is a whole number of periods, holes between', () => {
    const level = (frequency: number): number => {
      const [output] = runEffect(flanger, [sine(frequency, 0.5, rate, -12)], { values: { delay: 0.002, depth: 0, feedback: 0 } });
      return decibels(amplitudeAt(output!, frequency, rate, 4_800) / 10 ** (-12 / 20));
    };
    expect(level(500)).toBeCloseTo(decibels(1.4), 1);
    expect(level(1_000)).toBeCloseTo(decibels(1.4), 1);
    expect(level(750)).toBeLessThan(-30);
  });
});

describe('tremolo', () => {
  it('moves the level by its depth, both sides against each other when they are apart', () => {
    const input = new Float32Array(rate).fill(0.5);
    const [left] = runEffect(tremolo, [input, input], { values: { rate: 4, depth: 1, apart: 1 } });
    expect(Math.max(...left!)).toBeCloseTo(0.5, 2);
    expect(Math.min(...left!.subarray(2_400))).toBeLessThan(0.02);
  });

  it.each(['sine', 'triangle'])('keeps the power of both sides together as the sound goes across: %s', (shape) => {
    const input = new Float32Array(rate).fill(0.5);
    for (const depth of [0.4, 1]) {
      const [left, right] = runEffect(tremolo, [input, input], { values: { rate: 2, depth, apart: 1, shape } });
      let [least, most] = [Infinity, 0];
      for (let i = 4_800; i < rate; i++) {
        const both = (left![i]! ** 2 + right![i]! ** 2) / 0.25;
        [least, most] = [Math.min(least, both), Math.max(most, both)];
      }
      expect(least).toBeCloseTo(2 - depth, 2);
      expect(most).toBeCloseTo(2 - depth, 2);
    }
  });
});

describe('haas', () => {
  it('delays one side only, in whole and in broken frames', () => {
    const input = noise(9_600, 5, -12);
    const [left, right] = runEffect(haas, [input, input], { values: { delay: 0.01 } });
    expect(left).toEqual(input);
    expect(residual(input.subarray(0, 9_000), right!.subarray(480, 9_480), 100)).toBeLessThan(-120);
    const [early, late] = runEffect(haas, [input, input], { values: { delay: -0.01 } });
    expect(late).toEqual(input);
    expect(residual(input.subarray(0, 9_000), early!.subarray(480, 9_480), 100)).toBeLessThan(-120);
  });
});

describe('stereo image', () => {
  it('keeps the mono sum, whatever it does to the sides', () => {
    const [a, b] = [noise(9_600, 1, -12), noise(9_600, 2, -12)];
    const [left, right] = runEffect(stereoImage, [a, b], { values: { width: 1.8, monoBelow: 300 } });
    const sum = (x: Float32Array, y: Float32Array): Float32Array => x.map((sample, i) => sample + y[i]!);
    expect(residual(sum(a, b), sum(left!, right!))).toBeLessThan(-120);
  });

  it('takes the side away at width 0 and below its frequency', () => {
    const [left, right] = runEffect(stereoImage, [noise(4_800, 1), noise(4_800, 2)], { values: { width: 0 } });
    expect(left).toEqual(right);
    const low = sine(40, 1, rate, -12);
    const [one, other] = runEffect(stereoImage, [low, low.map((sample) => -sample)], { values: { width: 1, monoBelow: 400 } });
    expect(amplitudeAt(one!, 40, rate, 24_000)).toBeLessThan(10 ** (-12 / 20) * 0.02);
    expect(power(other!, 24_000)).toBeLessThan(power(low, 24_000) * 0.001);
  });
});

describe('centring', () => {
  it('turns a lopsided image so that both sides weigh the same, and keeps its energy', () => {
    const source = noise(3 * rate, 3, -12);
    const [left, right] = runEffect(centring, [source, source.map((sample) => sample * 0.3)], { values: { time: 0.3 } });
    const from = 2 * rate;
    expect(Math.abs(10 * Math.log10(power(left!, from) / power(right!, from)))).toBeLessThan(0.3);
    expect((power(left!, from) + power(right!, from)) / (power(source, from) * 1.09)).toBeCloseTo(1, 2);
  });
});

describe('trim', () => {
  it('turns level and polarity, and takes DC away', () => {
    const input = sine(440, 0.5, rate, -12).map((sample) => sample + 0.2);
    const [left] = runEffect(trim, [input, input], { values: { gain: -6, flipLeft: true, blockDc: false } });
    expect(
      residual(
        input.map((sample) => -sample * 10 ** (-6 / 20)),
        left!,
      ),
    ).toBeLessThan(-120);
    const [blocked] = runEffect(trim, [new Float32Array(rate).fill(0.5)], { values: { blockDc: true } });
    expect(Math.abs(blocked![rate - 1]!)).toBeLessThan(1e-4);
  });
});

describe('filter', () => {
  it.each([
    ['12', 12],
    ['24', 24],
    ['48', 48],
  ])('falls by %s dB per octave', (slope, expected) => {
    const level = (frequency: number): number => {
      const [output] = runEffect(filter, [sine(frequency, 0.3, rate)], {
        values: { kind: 'low pass', frequency: 500, resonance: Math.SQRT1_2, slope },
      });
      return decibels(amplitudeAt(output!, frequency, rate, 4_800));
    };
    expect(Math.abs(level(2_000) - level(4_000) - expected)).toBeLessThan(0.12 * expected);
    expect(Math.abs(level(50))).toBeLessThan(0.2);
  });

  it('holes at its notch and peaks at its band', () => {
    const level = (kind: string): number => {
      const [output] = runEffect(filter, [sine(1_000, 0.3, rate)], { values: { kind, frequency: 1_000, resonance: 2, slope: '12' } });
      return decibels(amplitudeAt(output!, 1_000, rate, 4_800));
    };
    expect(level('band pass')).toBeCloseTo(0, 1);
    expect(level('notch')).toBeLessThan(-50);
  });
});

describe('tilt', () => {
  it('is within 0.1 dB of the analogue tilt', () => {
    for (const frequency of [60, 400, 900, 5_000, 15_000]) {
      const [output] = runEffect(tiltEq, [sine(frequency, 0.5, rate, -12)], { values: { tilt: 12, pivot: 900 } });
      const heard = decibels(amplitudeAt(output!, frequency, rate, 9_600) / 10 ** (-12 / 20));
      expect(Math.abs(heard - 10 * Math.log10(analoguePower(tilt(900, 12), frequency)))).toBeLessThan(0.1);
    }
  });
});

describe('resonator', () => {
  it('rings at its root for its decay', () => {
    const input = new Float32Array(2 * rate);
    input[0] = 1;
    const [output] = runEffect(resonator, [input], { values: { root: 220, chord: 'single', decay: 1, damping: 20_000 } });
    const at = (from: number): number => amplitudeAt(output!, 220, rate, from, from + 4_800);
    expect(Math.abs(decibels(at(28_800) / at(4_800)) + 30)).toBeLessThan(2);
    expect(amplitudeAt(output!, 220, rate, 4_800, 14_400)).toBeGreaterThan(5 * amplitudeAt(output!, 330, rate, 4_800, 14_400));
  });
});
