import { measureTruePeak } from '../../analysis/loudness/true-peak';
import { Oversampler } from '../../dsp/oversampler';
import { harmonicsOf } from '../../testing/harmonics';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, largest, mono, noise, residual, sine, softEnds } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { clipper } from '../dynamics/clipper';
import { bandDrive } from './band-drive';
import { crusher } from './crusher';
import { drive } from './drive';
import { frequencyShifter } from './frequency-shifter';
import { grit } from './grit';
import { harmonicBuilder } from './harmonic-builder';
import { ringModulator } from './ring-modulator';
import { subWeight } from './sub-weight';

const rate = 48_000;

describe('drive pitched down later', () => {
  it.each(['soft', 'warm', 'hard', 'fold', 'rectify'])('holds no aliases up to half the rate with the curve “%s”', (curve) => {
    // An odd fraction of the rate: aliases fall between harmonics, wherever they are.
    const frequency = 5_000 + 250 / 3;
    const [output] = runEffect(drive, [sine(frequency, 1, rate)], { values: { curve, drive: 24, output: 0 } });
    const reference = Math.max(...[1, 2, 3].map((n) => lineLevel(output!, n * frequency)));
    for (let harmonic = 5; harmonic < 40; harmonic++) {
      const beyond = harmonic * frequency;
      const folded = Math.abs(beyond - rate * Math.round(beyond / rate));
      if (Math.abs(folded / frequency - Math.round(folded / frequency)) * frequency < 100) continue;
      expect(lineLevel(output!, folded) - reference).toBeLessThan(-80);
    }
  });
});

describe('drive', () => {
  it.each(['soft', 'warm', 'hard', 'fold', 'rectify'])('adds no aliases above -80 dB at +24 dB with the curve “%s”', (curve) => {
    // 5 kHz and a bit: aliases fall beside the harmonics, not onto them.
    const frequency = 5_000 + 250 / 3;
    const [output] = runEffect(drive, [sine(frequency, 0.5, rate)], { values: { curve, drive: 24, output: 0 } });
    const { loudest, others } = harmonicsOf(output!.subarray(7_200, 7_200 + 14_400), frequency, rate);
    // The rectifier takes the fundamental away; a sine of full scale stands for it.
    const reference = curve === 'rectify' ? harmonicsOf(sine(frequency, 0.3, rate), frequency, rate).loudest : loudest;
    expect(20 * Math.log10(others / reference)).toBeLessThan(-80);
  });

  it('is the curve itself far below Nyquist', () => {
    const [output] = runEffect(drive, [sine(50, 1, rate, -6)], { values: { curve: 'soft', drive: 12, output: 0 } });
    const input = sine(50, 1, rate, -6);
    const expected = input.map((sample) => Math.tanh(sample * decibelsToGain(12)));
    const late = new Float32Array(rate);
    late.set(expected.subarray(0, rate - Oversampler.latency), Oversampler.latency);
    // The high-pass against DC turns the lowest partial by a few degrees; its magnitude is what counts.
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 50, rate, 24_000) / amplitudeAt(late, 50, rate, 24_000)))).toBeLessThan(0.15);
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 150, rate, 24_000) / amplitudeAt(late, 150, rate, 24_000)))).toBeLessThan(0.15);
  });

  it('leaves quiet sounds alone', () => {
    const input = sine(440, 0.5, rate, -60);
    const [output] = runEffect(drive, [input], { values: { curve: 'soft', drive: 0, output: 0 } });
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 440, rate, 12_000) / decibelsToGain(-60)))).toBeLessThan(0.05);
  });
});

/** Amplitudes of the first partials of 50 Hz, of a drive and of what its curve should make of the same sine. */
function partials(values: Readonly<Record<string, string | number>>, curve: (x: number) => number): [number, number][] {
  const input = sine(50, 1, rate, -6);
  const [output] = runEffect(drive, [input], { values: { output: 0, ...values } });
  const expected = input.map(curve);
  return [1, 2, 3, 4, 5].map((n) => [amplitudeAt(output!, 50 * n, rate, 24_000), amplitudeAt(expected, 50 * n, rate, 24_000)]);
}

describe('bias of a drive', () => {
  it.each([-1, -0.3, 0.5, 1])('shifts the sound along the curve by %d and back', (bias) => {
    for (const [ours, expected] of partials({ curve: 'soft', drive: 12, bias }, (x) => Math.tanh(x * decibelsToGain(12) + bias)))
      // The high-pass against DC lies close below.
      expect(Math.abs(ours - expected)).toBeLessThan(0.02 * Math.max(expected, 0.02));
  });

  it.each(['soft', 'warm', 'hard', 'fold', 'rectify', 'drawn'])(
    'leaves silence silent with the curve “%s”, from the first frame on',
    (curve) => {
      for (const bias of [-1, -0.37, 0.61, 1]) {
        const [output] = runEffect(drive, [new Float32Array(4_800)], { values: { curve, bias, output: 12 } });
        expect(Math.max(...output!.map(Math.abs))).toBe(0);
      }
    },
  );
});

describe('emphasis of a drive', () => {
  it.each([-24, -7, 15, 24])('of %d dB changes nothing where the curve is straight', (emphasis) => {
    for (const emphasisAt of [100, 2_500, 10_000]) {
      const input = noise(rate / 2, 5, -50);
      const values = { curve: 'hard', drive: 0, output: 0 };
      const [plain] = runEffect(drive, [input], { values });
      const [emphasised] = runEffect(drive, [input], { values: { ...values, emphasis, emphasisAt } });
      expect(residual(plain!.subarray(2_000), emphasised!.subarray(2_000))).toBeLessThan(-100);
    }
  });

  it('drives the highs harder: their own harmonics come up, those of the lows do not', () => {
    const third = (frequency: number, emphasis: number): number => {
      const values = { curve: 'soft', drive: 0, output: 0, emphasis, emphasisAt: 1_000 };
      const [output] = runEffect(drive, [sine(frequency, 0.5, rate, -12)], { values });
      return 20 * Math.log10(amplitudeAt(output!, 3 * frequency, rate, 12_000));
    };
    expect(third(5_000, 12)).toBeGreaterThan(third(5_000, 0) + 12);
    expect(Math.abs(third(60, 12) - third(60, 0))).toBeLessThan(1);
  });
});

describe('drawn curve of a drive', () => {
  const points = 33;
  const place = (i: number): number => (2 * i) / (points - 1) - 1;
  /** Straight between the points, level beyond them. */
  const along = (heights: readonly number[], x: number): number => {
    const at = Math.max(0, Math.min(points - 1, ((x + 1) / 2) * (points - 1)));
    const i = Math.min(points - 2, Math.floor(at));
    return heights[i]! + (heights[i + 1]! - heights[i]!) * (at - i);
  };
  const heights = Array.from({ length: points }, (_, i) => Math.round(100 * Math.sin(2.2 * place(i) + 0.8 * place(i) ** 2)));
  const text = heights.join(' ');

  it('is what is drawn, straight between its points and level beyond them', () => {
    for (const [gain, bias] of [
      [0, 0],
      [6, 0],
      [18, 0.4],
    ] as const) {
      const curve = (x: number): number => along(heights, x * decibelsToGain(gain) + bias) / 100;
      for (const [ours, expected] of partials({ curve: 'drawn', drawn: text, drive: gain, bias }, curve))
        expect(Math.abs(ours - expected)).toBeLessThan(0.02 * Math.max(expected, 0.02));
    }
  });

  it('is straight until it is drawn', () => {
    const input = noise(rate / 2, 3, -12);
    const [output] = runEffect(drive, [input], { values: { curve: 'drawn', drive: 0, output: 0 } });
    const [hard] = runEffect(drive, [input], { values: { curve: 'hard', drive: 0, output: 0 } });
    expect(residual(hard!.subarray(2_000), output!.subarray(2_000))).toBeLessThan(-100);
  });

  it('adds no aliases above -80 dB at +24 dB', () => {
    const frequency = 5_000 + 250 / 3;
    const values = { curve: 'drawn', drawn: text, drive: 24, output: 0 };
    const [output] = runEffect(drive, [sine(frequency, 0.5, rate)], { values });
    const { loudest, others } = harmonicsOf(output!.subarray(7_200, 7_200 + 14_400), frequency, rate);
    expect(20 * Math.log10(others / loudest)).toBeLessThan(-80);
  });

  it('fades over while it is drawn on', () => {
    const input = sine(180, 0.4, rate, -12);
    const changed = heights.map((height) => Math.max(-100, Math.min(100, height * 1.3))).join(' ');
    const change = { at: 9_600, values: { drawn: changed } };
    const [output] = runEffect(drive, [input], { values: { curve: 'drawn', drawn: text }, change });
    const kink = (from: number, to: number): number => largest(from, to, (i) => output![i - 1]! - 2 * output![i]! + output![i + 1]!);
    expect(kink(9_500, 10_400)).toBeLessThan(2 * Math.max(kink(4_800, 9_400), kink(12_000, 18_000)));
  });
});

describe('clipper', () => {
  it('keeps a loud low tone below its ceiling, but for the ripple of its filters', () => {
    const [output] = runEffect(clipper, [sine(100, 0.5, rate, -3)], { values: { gain: 12, ceiling: -6 } });
    const peak = Math.max(...output!.subarray(4_800).map(Math.abs));
    expect(20 * Math.log10(peak)).toBeLessThan(-6 + 1.1);
    expect(20 * Math.log10(peak)).toBeGreaterThan(-6.1);
  });

  it('passes what stays below', () => {
    const input = sine(900, 0.3, rate, -30);
    const [output] = runEffect(clipper, [input], { values: { gain: 0, ceiling: -1 } });
    expect(
      residual(input.subarray(2_000, 12_000), output!.subarray(2_000 + Oversampler.latency, 12_000 + Oversampler.latency)),
    ).toBeLessThan(-60);
  });
});

describe('band drive', () => {
  it('leaves what lies outside its band', () => {
    const input = sine(100, 0.5, rate, -20);
    const [output] = runEffect(bandDrive, [input], { values: { frequency: 6_000, width: 2, drive: 24 } });
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 100, rate, 12_000) / decibelsToGain(-20)))).toBeLessThan(0.3);
    const inside = runEffect(bandDrive, [sine(6_000, 0.5, rate, -6)], { values: { frequency: 6_000, width: 2, drive: 24 } })[0]!;
    expect(amplitudeAt(inside, 18_000, rate, 12_000)).toBeGreaterThan(0.02);
  });
});

describe('crusher', () => {
  it('rounds to the steps of its bits and holds for the time of its rate', () => {
    const [output] = runEffect(crusher, [sine(100, 0.2, rate, -1)], { values: { bits: 4, rate: 4_800 } });
    expect(largest(0, output!.length, (i) => output![i]! * 8 - Math.round(output![i]! * 8))).toBeLessThan(1e-6);
    let changes = 0;
    for (let i = 1; i < output!.length; i++) if (output![i] !== output![i - 1]) changes++;
    expect(changes).toBeLessThanOrEqual(960);
  });

  it.each([2, 8, 12])(
    'dithers %d bits: whatever the level, the error is 0 in the mean and a quarter of a step squared in power',
    (bits) => {
      const step = 2 ** (1 - bits);
      for (const part of [0.05, 0.31, 0.5, 0.77, 1]) {
        const level = step * (part + (bits > 2 ? 3 : 0));
        const [output] = runEffect(crusher, [new Float32Array(4 * rate).fill(level)], { values: { bits, rate, dither: 1 } });
        const errors = output!.map((sample) => (sample - level) / step);
        const mean = errors.reduce((sum, error) => sum + error, 0) / errors.length;
        const power = errors.reduce((sum, error) => sum + error * error, 0) / errors.length;
        // Five times the standard error of so many draws.
        expect(Math.abs(mean)).toBeLessThan((5 * 0.5) / Math.sqrt(4 * rate));
        expect(Math.abs(power - 0.25)).toBeLessThan(0.005);
      }
    },
  );

  it('dithers no silence', () => {
    const input = new Float32Array(rate);
    input.set(noise(4_800, 3, -12));
    const [output] = runEffect(crusher, [input], { values: { bits: 1, dither: 1, before: 100, after: 100, rate: 100 } });
    const end = 4_800 + crusher.tail({ bits: 1, rate: 100, jitter: 0, dither: 1, before: 100, after: 100 }, rate, {});
    expect(Math.max(...output!.subarray(end).map(Math.abs))).toBeLessThan(1e-3);
  });

  it.each(['before', 'after'])('cuts the highs %s it by 24 dB per octave, and not at all at the top of the dial', (which) => {
    const gain = (frequency: number, cutoff: number): number => {
      const [output] = runEffect(crusher, [sine(frequency, 0.5, rate, -1)], { values: { bits: 16, rate, [which]: cutoff } });
      return 20 * Math.log10(amplitudeAt(output!, frequency, rate, 12_000) / decibelsToGain(-1));
    };
    for (const cutoff of [200, 3_000, 9_000]) {
      // Butterworth: 1 / (1 + (f / fc)^8).
      for (const ratio of [0.5, 1, 2]) expect(Math.abs(gain(ratio * cutoff, cutoff) + 10 * Math.log10(1 + ratio ** 8))).toBeLessThan(0.2);
    }
    for (const frequency of [1_000, 12_000, 19_500]) expect(Math.abs(gain(frequency, 20_000))).toBeLessThan(0.01);
  });

  it('does not alias what the filter before has taken away', () => {
    const alias = (before: number): number => {
      const [output] = runEffect(crusher, [sine(9_000, 0.5, rate, -6)], { values: { bits: 16, rate: 12_000, before } });
      return 20 * Math.log10(amplitudeAt(output!, 3_000, rate, 12_000));
    };
    expect(alias(20_000)).toBeGreaterThan(-20);
    expect(alias(2_000)).toBeLessThan(alias(20_000) - 45);
  });
});

/** Level in dB of a line in a recording from 0.1 s on, through a window of whose neighbours nothing above -90 dB is seen (Blackman–Harris). */
function lineLevel(samples: Float32Array, frequency: number): number {
  const [from, weights] = [4_800, [0.35875, -0.48829, 0.14128, -0.01168]];
  const count = samples.length - from;
  let [re, im] = [0, 0];
  for (let i = 0; i < count; i++) {
    const window = weights.reduce((sum, weight, n) => sum + weight * Math.cos((2 * Math.PI * n * i) / count), 0);
    re += samples[from + i]! * window * Math.cos((2 * Math.PI * frequency * i) / rate);
    im += samples[from + i]! * window * Math.sin((2 * Math.PI * frequency * i) / rate);
  }
  return 20 * Math.log10((2 * Math.hypot(re, im)) / (count * weights[0]!));
}

describe('clipper that holds its ceiling', () => {
  it.each([-36, -6, 0])('lets nothing above %i dB, read between samples', (ceiling) => {
    for (const [input, gain] of [
      [noise(rate, 9, 0), 18],
      [sine(997, 1, rate, 0), 36],
      [noise(rate, 9, 0), 0],
    ] as const)
      for (const edge of ['hard', 'soft']) {
        const [output] = runEffect(clipper, [input], { values: { gain, ceiling, edge, hold: true } });
        // What is cut off at once rings, too.
        expect(measureTruePeak(mono(softEnds(output!, rate)))).toBeLessThan(ceiling + 0.1);
      }
    // Without it, what is cut off rings above the ceiling.
    const [free] = runEffect(clipper, [noise(rate, 9, 0)], { values: { gain: 18, ceiling, edge: 'hard' } });
    expect(measureTruePeak(mono(free!))).toBeGreaterThan(ceiling + 2);
  });
});

describe('ring modulator', () => {
  it('replaces a tone by its sum and its difference with the carrier', () => {
    const [output] = runEffect(ringModulator, [sine(1_000, 0.5, rate, -6)], { values: { frequency: 250, shape: 'sine', depth: 1 } });
    const level = (frequency: number): number => 20 * Math.log10(amplitudeAt(output!, frequency, rate, 4_800));
    expect(level(750)).toBeCloseTo(-12, 0);
    expect(level(1_250)).toBeCloseTo(-12, 0);
    expect(level(1_000)).toBeLessThan(-90);
  });

  it('is the product of both to the frame, its latency aside', () => {
    const input = sine(700, 0.3, rate, -6);
    const [output] = runEffect(ringModulator, [input], { values: { frequency: 90, shape: 'sine', depth: 0.8 } });
    const lag = ringModulator.latency({} as never, rate);
    // The tone begins a raised sample after the sound.
    const product = input.map((sample, i) => sample * (0.2 + 0.8 * Math.sin((2 * Math.PI * 90 * i) / rate)));
    expect(residual(product.subarray(0, 12_000), output!.subarray(lag, lag + 12_000), 100)).toBeLessThan(-60);
  });

  it('folds nothing back: neither sums beyond half the rate nor overtones of its tone, at the ends of its dial', () => {
    const level = (values: Readonly<Record<string, number | string>>, tone: number, at: number): number => {
      return lineLevel(runEffect(ringModulator, [sine(tone, 0.5, rate, 0)], { values })[0]!, at);
    };
    const high = { frequency: 12_000, shape: 'sine', depth: 1 };
    expect(level(high, 17_000, 5_000)).toBeCloseTo(-6, 0);
    expect(level(high, 17_000, 48_000 - 29_000)).toBeLessThan(-90);
    const square = { frequency: 1_003.7, shape: 'square', depth: 1 };
    expect(level(square, 3_100, 3_100 + 1_003.7)).toBeCloseTo(20 * Math.log10(2 / Math.PI), 0);
    const own = Array.from({ length: 24 }, (_, n) => [-1, 1].map((side) => Math.abs((2 * n + 1) * 1_003.7 + side * 3_100))).flat();
    const folded = [43, 45, 47, 49, 93, 95, 97, 99]
      .flatMap((overtone) => [overtone * 1_003.7 - 3_100, overtone * 1_003.7 + 3_100])
      .map((beyond) => Math.abs(beyond - rate * Math.round(beyond / rate)))
      .filter((at) => own.every((line) => Math.abs(line - at) > 150));
    expect(folded.length).toBeGreaterThan(6);
    for (const at of folded) expect(level(square, 3_100, at)).toBeLessThan(-80);
  });
});

describe('frequency shifter', () => {
  it.each([60, 1_000, 9_000])('moves a tone of %i Hz by 137 Hz, the other sideband below -60 dB', (frequency) => {
    const [output] = runEffect(frequencyShifter, [sine(frequency, 1.5, rate, -6)], { values: { shift: 137 } });
    const level = (at: number): number => 20 * Math.log10(amplitudeAt(output!, at, rate, 24_000) / decibelsToGain(-6));
    expect(Math.abs(level(frequency + 137))).toBeLessThan(0.1);
    expect(level(Math.abs(frequency - 137))).toBeLessThan(-60);
    expect(level(frequency)).toBeLessThan(-60);
  });
});

describe('frequency shifter at the ends of its dial', () => {
  it('moves nothing beyond half the rate, and leaves what stays within', () => {
    const level = (tone: number, shift: number, at: number): number =>
      lineLevel(runEffect(frequencyShifter, [sine(tone, 0.5, rate, 0)], { values: { shift } })[0]!, at);
    expect(level(21_000, 5_000, 48_000 - 26_000)).toBeLessThan(-60);
    expect(level(23_000, 1_500, 48_000 - 24_500)).toBeLessThan(-60);
    expect(level(12_000, 5_000, 17_000)).toBeGreaterThan(-0.5);
    expect(level(20_000, 400, 20_400)).toBeGreaterThan(-0.5);
    // Downwards there is room.
    expect(level(21_000, -5_000, 16_000)).toBeGreaterThan(-0.5);
  });
});

describe('grit', () => {
  it('rides on the level of the sound and comes again with the same seed', () => {
    const input = noise(rate, 3, -12);
    input.fill(0, 24_000);
    const values = { amount: 0, release: 0.01 };
    const added = (seed: number): Float32Array =>
      runEffect(grit, [input], { values: { ...values, seed } })[0]!.map((sample, i) => sample - input[i]!);
    const first = added(1);
    const level = (from: number, to: number): number =>
      Math.sqrt(first.subarray(from, to).reduce((sum, sample) => sum + sample ** 2, 0) / (to - from));
    expect(level(4_800, 24_000)).toBeGreaterThan(0.02);
    expect(level(30_000, 48_000)).toBeLessThan(1e-5);
    expect(added(1)).toEqual(first);
    expect(added(2)).not.toEqual(first);
  });
});

describe('sub weight', () => {
  it('puts a low thump under a hit and leaves the rest', () => {
    const hit = noise(rate, 6, -6).map((sample, i) => sample * Math.exp(-i / 1_200));
    const [output] = runEffect(subWeight, [hit], { values: { frequency: 50, drive: 20, decay: 0.5, level: 0 } });
    const below = (samples: Float32Array): number => amplitudeAt(samples, 50, rate, 0, 9_600);
    expect(below(output!)).toBeGreaterThan(4 * below(hit));
    const above = output!.map((sample, i) => sample - hit[i]!);
    expect(amplitudeAt(above, 2_000, rate, 0, 9_600)).toBeLessThan(0.002);
  });
});

describe('harmonic builder', () => {
  it.each([-6, -40])('adds the harmonics that it is asked for, at %i dB alike', (level) => {
    const input = sine(100, 1, rate, level);
    const values = { second: 0.5, third: 0.25, fourth: 0, fifth: 0, sixth: 0, top: 4_000 };
    const [output] = runEffect(harmonicBuilder, [input], { values });
    const relative = (frequency: number): number => amplitudeAt(output!, frequency, rate, 24_000) / decibelsToGain(level);
    // The follower that brings the tone to full scale ripples by a few percent.
    expect(relative(200)).toBeGreaterThan(0.4);
    expect(relative(200)).toBeLessThan(0.6);
    expect(relative(300)).toBeGreaterThan(0.18);
    expect(relative(300)).toBeLessThan(0.32);
    expect(relative(500)).toBeLessThan(0.1);
  });
});
