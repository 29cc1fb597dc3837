import { decayTime } from '../../testing/decay-time';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, largest, noise, sine } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { delay } from './delay';
import { airAbsorption, distance } from './distance';
import { reverb } from './reverb';
import { reverseDelay } from './reverse-delay';
import { shimmer } from './shimmer';

const rate = 48_000;

describe('reverb', () => {
  it.each([
    [0.8, 1.3, 0.6, 0.5],
    [2.5, 1.3, 0.6, 1],
    [4, 1.1, 0.1, 1.6],
    [0.6, 1.1, 0.3, 0.8],
    [0.6, 1, 0.3, 2],
    [3, 0.2, 1.5, 0.4],
    [1.5, 2, 0.2, 0.1],
  ])('decays in %f s in the middle, %f of that below, %f above, at size %f, within 5 %%', (decay, low, high, size) => {
    const input = new Float32Array(Math.round(decay * Math.max(1.1, low, high) * 1.3 * rate));
    input[0] = 1;
    const sides = runEffect(reverb, [input, input], { values: { decay, low, high, size, early: 0, preDelay: 0, modulation: 0 } });
    for (const [frequency, wanted] of [
      [125, decay * low],
      [1_000, decay],
      [4_000, decay * high],
      [8_000, decay * high],
    ] as const)
      expect({ frequency, off: Math.abs(decayTime(sides, frequency) / wanted - 1) > 0.05 }).toEqual({ frequency, off: false });
  });

  it('begins after its pre-delay, and holds on for ever when it is frozen', () => {
    const input = new Float32Array(2 * rate);
    input[0] = 1;
    const [left] = runEffect(reverb, [input, input], { values: { preDelay: 0.1, early: 1 } });
    expect(left!.subarray(0, 4_790).every((sample) => Math.abs(sample) < 1e-9)).toBe(true);
    expect(Math.max(...left!.subarray(4_790, 6_000).map(Math.abs))).toBeGreaterThan(0.01);
    const burst = new Float32Array(3 * rate);
    burst.set(noise(9_600, 4, -12));
    const [held] = runEffect(reverb, [burst, burst], { change: { at: 14_336, values: { freeze: true } } });
    const level = (from: number): number => Math.sqrt(held!.subarray(from, from + 24_000).reduce((sum, sample) => sum + sample ** 2, 0));
    expect(level(110_000) / level(40_000)).toBeGreaterThan(0.9);
  });

  it('keeps what lies on the sides: nothing of an anti-phase sound is lost, and left and right come back from their own side first', () => {
    const input = noise(rate, 6, -12);
    const level = (samples: Float32Array, from = 0, to = samples.length): number => {
      let sum = 0;
      for (let i = from; i < to; i++) sum += samples[i]! ** 2;
      return Math.sqrt(sum / (to - from));
    };
    const run = (left: Float32Array, right: Float32Array): Float32Array[] => runEffect(reverb, [left, right], { values: { early: 0 } });
    const inPhase = run(input, input);
    const antiPhase = run(
      input,
      input.map((sample) => -sample),
    );
    for (const side of [0, 1]) expect(20 * Math.log10(level(antiPhase[side]!) / level(inPhase[side]!))).toBeCloseTo(0, 0);
    expect(antiPhase[0]).not.toEqual(antiPhase[1]);

    const click = new Float32Array(rate);
    click[0] = 1;
    const [near, far] = run(click, new Float32Array(rate)) as [Float32Array, Float32Array];
    // The first echoes of the left come from the left; later the room is everywhere.
    const first = Math.round((0.012 + 0.8 * 0.05) * rate);
    expect(level(near, 0, first)).toBeGreaterThan(3 * level(far, 0, first));
    expect(Math.abs(20 * Math.log10(level(near, 0.4 * rate) / level(far, 0.4 * rate)))).toBeLessThan(2);
  });

  it('makes the sides different and keeps mono silent at width 0', () => {
    const input = noise(9_600, 5, -12);
    const [left, right] = runEffect(reverb, [input, input], { values: { width: 0 } });
    expect(left).toEqual(right);
    const [wideLeft, wideRight] = runEffect(reverb, [input, input]);
    expect(wideLeft).not.toEqual(wideRight);
  });
});

describe('delay', () => {
  it('repeats after its time, each time as much softer as the feedback says', () => {
    const input = new Float32Array(rate);
    input[0] = 1;
    const values = { time: 0.2, feedback: 0.5, lowCut: 20, highCut: 20_000, echo: 1 };
    const [output] = runEffect(delay, [input], { values });
    expect(output![0]).toBe(1);
    for (let n = 1; n < 5; n++) expect(output![n * 9_600]).toBeCloseTo(0.5 ** (n - 1), 5);
    expect(output!.filter((sample) => Math.abs(sample) > 1e-6)).toHaveLength(5);
  });

  it('goes from side to side when it is crossed', () => {
    const input = new Float32Array(rate);
    input[0] = 1;
    const values = { time: 0.1, feedback: 0.5, lowCut: 20, highCut: 20_000, echo: 1, crossed: true };
    const [left, right] = runEffect(delay, [input, input.map(() => 0)], { values });
    expect([left![4_800], right![4_800]]).toEqual([1, 0]);
    expect([left![9_600], right![9_600]]).toEqual([0, 0.5]);
    expect([left![14_400], right![14_400]]).toEqual([0.25, 0]);
  });
});

describe('reverse delay', () => {
  it('gives back what was heard the other way round', () => {
    // A rising tone comes back falling: count crossings early and late in the answer.
    const length = 0.4;
    const input = new Float32Array(rate);
    for (let i = 0; i < 19_200; i++) input[i] = 0.5 * Math.sin(2 * Math.PI * (300 + 1_500 * (i / 19_200)) * (i / rate));
    const [output] = runEffect(reverseDelay, [input], { values: { length, feedback: 0, blend: 1 } });
    const crossings = (from: number, to: number): number => {
      let count = 0;
      for (let i = from; i < to; i++) if (output![i]! < 0 !== output![i + 1]! < 0) count++;
      return count;
    };
    expect(crossings(21_600, 24_000)).toBeGreaterThan(crossings(33_600, 36_000) * 1.3);
  });

  it.each([0.1, 0.2999, 0.4])('goes over to a length of %f s without a jump, and is as even as before', (length) => {
    const input = new Float32Array(2 * rate).fill(0.5);
    const values = { length: 0.25, feedback: 0, blend: 1 };
    const [output] = runEffect(reverseDelay, [input], { values, change: { at: 60_000, values: { length } } });
    // Both heads add up to the whole once the line is full: in the old length, and in the new.
    expect(largest(30_000, 60_000, (i) => output![i]! - 0.5)).toBeLessThan(1e-6);
    if (length < 0.4) expect(largest(80_000, 96_000, (i) => output![i]! - 0.5)).toBeLessThan(1e-3);
    const steepest = (Math.PI * 0.5) / (0.1 * rate);
    expect(largest(60_000, 96_000, (i) => output![i]! - output![i - 1]!)).toBeLessThan(steepest);
  });
});

describe('distance', () => {
  it('takes from ISO 9613-1 how much air absorbs', () => {
    // Table 1 of the standard, in dB per kilometre at one atmosphere: 10 °C and 70 %, 20 °C and 50 %.
    expect(airAbsorption(1_000, 10, 0.7) * 1_000).toBeCloseTo(3.66, 1);
    expect(airAbsorption(4_000, 10, 0.7) * 1_000).toBeCloseTo(32.8, 0);
    expect(airAbsorption(1_000, 20, 0.5) * 1_000).toBeCloseTo(4.66, 1);
    expect(airAbsorption(8_000, 20, 0.5) * 1_000).toBeCloseTo(105, -1);
  });

  it('halves the level with every doubling, and dulls the top', () => {
    const level = (away: number, frequency: number): number => {
      const values = { distance: away, near: 1, level: 1, air: 1 };
      const [output] = runEffect(distance, [sine(frequency, 0.3, rate, -6)], { values });
      return 20 * Math.log10(amplitudeAt(output!, frequency, rate, 9_600) / decibelsToGain(-6));
    };
    expect(level(8, 200)).toBeCloseTo(-18.06, 1);
    expect(level(400, 8_000) - level(400, 200)).toBeLessThan(-6);
  });
});

describe('shimmer', () => {
  /** Level of a frequency in dB, over one second (Goertzel, Hann window). */
  function levelAt(samples: Float32Array, frequency: number, from: number): number {
    let [re, im] = [0, 0];
    for (let i = 0; i < rate; i++) {
      const sample = samples[from + i]! * (0.5 - 0.5 * Math.cos((2 * Math.PI * i) / rate));
      re += sample * Math.cos((2 * Math.PI * frequency * i) / rate);
      im += sample * Math.sin((2 * Math.PI * frequency * i) / rate);
    }
    return 10 * Math.log10(re * re + im * im + 1e-12);
  }
  /** … around a frequency: the shifter and the swing spread a tone a little. */
  const around = (samples: Float32Array, frequency: number, from: number): number =>
    Math.max(...Array.from({ length: 41 }, (_, n) => levelAt(samples, frequency + n - 20, from)));
  const tone = new Float32Array(6 * rate);
  tone.set(sine(440, 1.5, rate, -12));

  it('hears an anti-phase sound', () => {
    const input = noise(rate, 6, -12);
    const [left] = runEffect(shimmer, [input, input.map((sample) => -sample)]);
    expect(Math.max(...left!.map(Math.abs))).toBeGreaterThan(0.01);
  });

  it('answers a tone an octave up, then two; without climb it does not', () => {
    const values = { decay: 2, size: 1, climb: 0.7, tone: 12_000 };
    const [climbing] = runEffect(shimmer, [tone, tone], { values });
    const [still] = runEffect(shimmer, [tone, tone], { values: { ...values, climb: 0 } });
    for (const octave of [880, 1_760]) {
      expect(around(climbing!, octave, 2 * rate)).toBeGreaterThan(around(still!, octave, 2 * rate) + 30);
      // What rings beside the octaves is far softer.
      expect(around(climbing!, octave, 2 * rate)).toBeGreaterThan(around(climbing!, octave * 1.2, 2 * rate) + 15);
    }
  });

  it.each([-12, 0, 0.1, 0.5, 12])('does not run away at full climb, moved by %f semitones', (pitch) => {
    const loud = new Float32Array(14 * rate);
    loud.set(noise(4 * rate, 8));
    const output = runEffect(shimmer, [loud, loud], { values: { climb: 0.95, decay: 8, size: 0.5, pitch } });
    const level = (from: number): number => Math.sqrt(output[0]!.subarray(from, from + rate).reduce((sum, x) => sum + x * x, 0) / rate);
    expect(output[0]!.reduce((most, x) => Math.max(most, Math.abs(x)), 0)).toBeLessThan(8);
    expect(level(12.9 * rate)).toBeLessThan(level(4.5 * rate));
  });
});
