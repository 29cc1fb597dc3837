import { kaiser, sinc } from '../../dsp/kaiser';
import { maxBlock } from '../../dsp/block';
import { TruePeakMeter } from '../../analysis/loudness/true-peak';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, noise, residual, sine } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { resolveValues } from '../../project/parameters';
import { ducker } from './ducker';
import { gate } from './gate';
import { limiter } from './limiter';
import { multibandGain } from './band-gain';
import { multiband } from './multiband';
import { transientShaper } from './transient-shaper';

const rate = 48_000;
const decibels = (value: number): number => 20 * Math.log10(value);

describe('gate', () => {
  const steady = (level: number, frames: number): number[] => Array.from({ length: frames }, () => decibelsToGain(level));

  it('opens at its threshold, and closes only below the hysteresis', () => {
    const values = { threshold: -30, hysteresis: 6, range: -40, attack: 0.001, hold: 0, release: 0.01 };
    const input = Float32Array.from([...steady(-31, 9_600), ...steady(-29, 9_600), ...steady(-34, 9_600), ...steady(-37, 9_600)]);
    const [output] = runEffect(gate, [input], { values });
    const reduction = (at: number): number => decibels(output![at]! / input[at]!);
    expect(reduction(9_500)).toBeCloseTo(-40, 1);
    expect(reduction(19_100)).toBeCloseTo(0, 1);
    expect(reduction(28_700)).toBeCloseTo(0, 1);
    expect(reduction(38_300)).toBeCloseTo(-40, 1);
  });

  it('stays open for its hold', () => {
    const values = { threshold: -30, hysteresis: 0, range: -60, hold: 0.1, release: 0.005 };
    const input = Float32Array.from([...steady(-20, 4_800), ...steady(-60, 14_400)]);
    const [output] = runEffect(gate, [input], { values });
    const reduction = (time: number): number =>
      decibels(output![4_800 + Math.round(time * rate)]! / input[4_800 + Math.round(time * rate)]!);
    expect(reduction(0.09)).toBeCloseTo(0, 1);
    expect(reduction(0.2)).toBeLessThan(-55);
  });

  it('expands by its ratio below the threshold, no further than its range', () => {
    const values = { mode: 'expander', threshold: -30, ratio: 3, range: -24, release: 0.02 };
    for (const level of [-20, -36, -40, -60]) {
      const [output] = runEffect(gate, [Float32Array.from(steady(level, 14_400))], { values });
      const expected = level >= -30 ? 0 : Math.max(-24, (level + 30) * 2);
      expect(decibels(output![14_399]!) - level).toBeCloseTo(expected, 1);
    }
  });
});

describe('limiter', () => {
  const square = (frequency: number): Float32Array => sine(frequency, 0.5, rate).map((sample) => Math.sign(sample));
  /** Peaks between samples 3 dB above the samples themselves. */
  const between = sine(rate / 4, 0.5, rate, 0, Math.PI / 4);

  it.each([
    ['noise', noise(24_000, 7)],
    ['a square', square(997)],
    ['peaks between samples', between],
    ['single samples', Float32Array.from({ length: 24_000 }, (_, i) => (i % 2_000 === 0 ? 1 : 0))],
  ])('keeps %s below its ceiling in true peak', (_, input) => {
    for (const gain of [0, 12, 30]) {
      const [output] = runEffect(limiter, [input], { values: { gain, ceiling: -1 } });
      const meter = new TruePeakMeter();
      meter.process(output!, 0, output!.length);
      meter.finish();
      expect(decibels(meter.peak)).toBeLessThan(-1 + 0.1);
    }
  });

  /** Noise with nothing above a frequency, by a windowed sinc. */
  function noiseBelow(frequency: number): Float32Array {
    const [reach, share] = [127, (2 * frequency) / rate];
    const taps = Float64Array.from(
      { length: 2 * reach + 1 },
      (_, i) => share * sinc(share * (i - reach)) * kaiser((i - reach) / (reach + 1), 9),
    );
    const white = noise(12_000, 7);
    return white.map((_, i) => taps.reduce((sum, tap, k) => sum + tap * (white[i - k] ?? 0), 0));
  }
  /** The largest magnitude at sixteen places from each sample to the next, by a filter of 128 samples that knows nothing of the limiter's own. */
  function closelyRead(samples: Float32Array): number {
    const reach = 64;
    let peak = 0;
    for (let place = 0; place < 16; place++) {
      const taps = Float64Array.from(
        { length: 2 * reach },
        (_, t) => sinc(t - reach + 1 - place / 16) * kaiser((t - reach + 1 - place / 16) / reach, 9),
      );
      for (let i = reach; i < samples.length - reach; i++) {
        let sum = 0;
        for (let t = 0; t < 2 * reach; t++) sum += taps[t]! * samples[i - reach + 1 + t]!;
        peak = Math.max(peak, Math.abs(sum));
      }
    }
    return decibels(peak);
  }

  it.each([18_000, 20_000])(
    'keeps noise below %i Hz at its ceiling within 0.05 dB, read by somebody else more finely, at both ends of its dials',
    (frequency) => {
      const input = noiseBelow(frequency);
      for (const [gain, release, ceiling] of [
        [0, 0.08, -1],
        [12, 0.005, -1],
        [36, 0.005, 0],
        [36, 2, -24],
      ]) {
        const [output] = runEffect(limiter, [input], { values: { gain: gain!, ceiling: ceiling!, release: release! } });
        expect(closelyRead(output!) - ceiling!).toBeLessThan(0.05);
        if (gain! > 0) expect(closelyRead(output!) - ceiling!).toBeGreaterThan(-0.3);
      }
    },
  );

  it('changes nothing below the ceiling, only comes later', () => {
    const input = sine(1_000, 0.3, rate, -12);
    const [output] = runEffect(limiter, [input], { values: { gain: 0, ceiling: -1 } });
    const lag = limiter.latency(limiter.presets[0]!.values as never, rate);
    expect(residual(input.subarray(0, 12_000), output!.subarray(lag, lag + 12_000))).toBeLessThan(-120);
  });

  it('turns both sides down together', () => {
    const loud = sine(300, 0.3, rate, 0);
    const soft = sine(300, 0.3, rate, -20);
    const [left, right] = runEffect(limiter, [loud, soft], { values: { gain: 12, ceiling: -3 } });
    for (let i = 3_000; i < 12_000; i += 97) if (Math.abs(left![i]!) > 0.1) expect(right![i]! / left![i]!).toBeCloseTo(0.1, 4);
  });
});

describe('transient shaper', () => {
  /** Knocks with a quick rise and a fall over 60 ms. */
  const knocks = (level: number): Float32Array =>
    Float32Array.from({ length: rate }, (_, i) => decibelsToGain(level) * Math.exp(-(i % 12_000) / 2_900) * Math.sin(i * 0.05));
  const peakOf = (samples: Float32Array): number => Math.max(...samples.subarray(12_000).map(Math.abs));
  const tailOf = (samples: Float32Array): number => Math.max(...samples.subarray(12_000 + 7_000, 24_000 - 100).map(Math.abs));

  it('brings attacks up and leaves tails, by as much at every level', () => {
    const lifts = [0, -30].map((level) => {
      const input = knocks(level);
      const [output] = runEffect(transientShaper, [input], { values: { attack: 12, sustain: 0 } });
      expect(Math.abs(decibels(tailOf(output!) / tailOf(input)))).toBeLessThan(1);
      return decibels(peakOf(output!) / peakOf(input));
    });
    expect(lifts[0]).toBeGreaterThan(3);
    expect(Math.abs(lifts[0]! - lifts[1]!)).toBeLessThan(0.5);
  });

  it('shortens what follows the attack', () => {
    const input = knocks(-6);
    const [output] = runEffect(transientShaper, [input], { values: { attack: 0, sustain: -18, length: 0.4 } });
    expect(decibels(tailOf(output!) / tailOf(input))).toBeLessThan(-6);
    expect(Math.abs(decibels(peakOf(output!) / peakOf(input)))).toBeLessThan(2);
  });

  const steadySignals: readonly (readonly [string, Float32Array])[] = [
    ...[20, 60, 400, 3_000, 16_000].map((hertz) => [`a tone of ${hertz} Hz`, sine(hertz, 2, rate, -12)] as const),
    ['noise', noise(2 * rate, 5, -12)],
    ['soft noise', noise(2 * rate, 6, -60)],
  ];
  it.each(steadySignals)('leaves %s as it is, at both ends of its dials', (_, input) => {
    const power = (samples: Float32Array): number => samples.subarray(rate).reduce((sum, sample) => sum + sample * sample, 0);
    for (const works of ['the whole sound', 'two bands'])
      for (const [attack, sustain, length] of [
        [24, 24, 1.5],
        [-24, -24, 0.05],
        [24, -24, 0.3],
      ]) {
        const values = { attack: attack!, sustain: sustain!, length: length!, works, lowAttack: attack!, lowSustain: sustain! };
        const [output] = runEffect(transientShaper, [input], { values });
        expect(Math.abs(10 * Math.log10(power(output!) / power(input)))).toBeLessThan(0.5);
      }
  });

  it('in two bands turns the attacks of one and leaves the other, and splits without a trace', () => {
    const split = { works: 'two bands', split: 1_500 };
    const low = knocks(-6);
    const high = low.map((_, i) => decibelsToGain(-6) * Math.exp(-(i % 12_000) / 2_900) * Math.sin(i * 1.2));
    const lift = (input: Float32Array, values: Readonly<Record<string, number>>): number => {
      const [output] = runEffect(transientShaper, [input], { values: { attack: 0, ...split, ...values } });
      return decibels(peakOf(output!) / peakOf(input));
    };
    expect(lift(low, { lowAttack: 18 })).toBeGreaterThan(4);
    expect(Math.abs(lift(high, { lowAttack: 18 }))).toBeLessThan(0.7);
    expect(lift(high, { attack: 18 })).toBeGreaterThan(4);
    const [flat] = runEffect(transientShaper, [sine(700, 0.5, rate, -6)], { values: { attack: 0, ...split } });
    expect(decibels(amplitudeAt(flat!, 700, rate, 12_000, 24_000))).toBeCloseTo(-6, 2);
  });

  it('listens to another sound', () => {
    const input = sine(700, 1, rate, -12);
    const hits = knocks(-6);
    const values = resolveValues(transientShaper.parameters, { attack: 18, sustain: 0 }) as never;
    const heard = input.slice(0, maxBlock);
    transientShaper
      .create({ sampleRate: rate, channels: 1, values, keys: { key: { channels: [hits.subarray(0, maxBlock)], frames: maxBlock } } })
      .process({ channels: [heard], frames: maxBlock }, values);
    const lifted = Math.max(...heard.map(Math.abs)) / decibelsToGain(-12);
    expect(decibels(lifted)).toBeGreaterThan(6);
  });
});

describe('ducker', () => {
  const key = (level: number, from: number, to: number, frames: number): Float32Array =>
    Float32Array.from({ length: frames }, (_, i) => (i >= from && i < to ? decibelsToGain(level) : 0));
  const duck = (input: Float32Array, heard: Float32Array, values: Record<string, number | string>): Float32Array => {
    const block = { channels: [heard], frames: heard.length };
    // In one block, because the key is as long as the block.
    return runEffect(ducker, [input], { values, blocks: [input.length], context: { keys: { key: block } } })[0]!;
  };

  it('goes to its depth within its attack, stays for its hold and comes back within its release', () => {
    const values = { depth: -12, threshold: -40, attack: 0.01, hold: 0.02, release: 0.05 };
    const input = new Float32Array(1_000).fill(0.5);
    const output = duck(input, key(-10, 0, 1_000, 1_000), values);
    // 63 % of the way after the attack.
    expect(decibels(output[480]! / 0.5)).toBeCloseTo(-12 * (1 - Math.exp(-1)), 0);
  });

  it('ducks a band alone, and leaves the rest in place', () => {
    const values = { depth: -24, threshold: -60, attack: 0.0005, hold: 0, release: 0.02, what: 'one band', from: 400, to: 4_000 };
    const low = sine(40, 0.5, rate, -12);
    const input = sine(1_250, 0.5, rate, -12).map((sample, i) => sample + low[i]!);
    const settings = resolveValues(ducker.parameters, values);
    const processor = ducker.create({
      sampleRate: rate,
      channels: 1,
      values: settings as never,
      keys: { key: { channels: [key(0, 0, 1_024, 1_024)], frames: 1_024 } },
    });
    for (let at = 0; at < input.length; at += 1_000)
      processor.process({ channels: [input.subarray(at, at + 1_000)], frames: 1_000 }, settings as never);
    expect(decibels(amplitudeAt(input, 40, rate, 12_000, 24_000))).toBeCloseTo(-12, 1);
    expect(decibels(amplitudeAt(input, 1_250, rate, 12_000, 24_000))).toBeLessThan(-33);
  });
});

describe('multiband compressor', () => {
  const curve = { above: -24, downRatio: 4, below: -40, upRatio: 2, most: 15, knee: 0 };

  it('presses by its ratio above, lifts by its ratio below, and lets silence be silent', () => {
    expect(multibandGain(-12, curve)).toBeCloseTo(-9, 12);
    expect(multibandGain(-30, curve)).toBe(0);
    expect(multibandGain(-50, curve)).toBeCloseTo(5, 12);
    expect(multibandGain(-71, curve)).toBeCloseTo(15, 12);
    expect(multibandGain(-90, curve)).toBe(0);
    for (let level = -100; level < 0; level++)
      expect(multibandGain(level + 1, curve) + 1).toBeGreaterThanOrEqual(multibandGain(level, curve) - 1.001);
  });

  it('holds to that curve in each band within 0.2 dB, at full amount', () => {
    // Splits far from the sine, so that the next band has no part in it.
    for (const [frequency, level, split1, split2] of [
      [50, -6, 1_000, 9_000],
      [700, -10, 40, 16_000],
      [9_000, -50, 40, 600],
    ] as const) {
      const values = { ...curve, split1, split2, amount: 1, release: 0.3, attack: 0.3 };
      const [output] = runEffect(multiband, [sine(frequency, 1.5, rate, level)], { values });
      // A detector of RMS sees a sine 3 dB below its peak.
      const expected = level + multibandGain(level - 3.01, curve);
      expect(Math.abs(decibels(amplitudeAt(output!, frequency, rate, 60_000, 72_000)) - expected)).toBeLessThan(0.2);
    }
  });

  it('rounds both corners by its knee', () => {
    const rounded = { ...curve, knee: 12 };
    // In the middle of a knee, an eighth of its width times the slope (Giannoulis et al. 2012).
    expect(multibandGain(-24, rounded)).toBeCloseTo(-(12 / 8) * 0.75, 12);
    expect(multibandGain(-40, rounded)).toBeCloseTo((12 / 8) * 0.5, 12);
    for (const level of [-18, -46]) expect(multibandGain(level, rounded)).toBeCloseTo(multibandGain(level, curve), 12);
  });

  const centres = ['low', 'middle', 'middle2', 'middle3', 'middle4', 'high'] as const;
  const manySplits = { split1: 100, middleSplit1: 400, middleSplit2: 1_600, middleSplit3: 5_000, split2: 9_000 };
  it.each(['2', '3', '4', '5', '6'])('of %s bands is flat at rest, and each goes by itself where it is told to', (bands) => {
    const count = Number(bands);
    const here = centres.filter((_, i) => i === 5 || i < count - 1);
    const splits = [100, 400, 1_600, 5_000].slice(0, count - 2);
    const edges = [20, ...(count === 2 ? [100] : [...splits, 9_000]), 40_000];
    const still = { bands, ...manySplits, amount: 1, above: 0, downRatio: 1, below: -72, upRatio: 1, release: 0.3, attack: 0.3 };
    here.forEach((name, b) => {
      const frequency = Math.sqrt(edges[b]! * edges[b + 1]!);
      const input = sine(frequency, 1.5, rate, -12);
      const level = (values: Readonly<Record<string, string | number | boolean>>): number => {
        const [output] = runEffect(multiband, [input], { values: { ...still, ...values } });
        return decibels(amplitudeAt(output!, frequency, rate, 60_000, 72_000)) + 12;
      };
      const own = (band: string) => ({ [`${band}Own`]: true, [`${band}Above`]: -30, [`${band}DownRatio`]: 1.25, [`${band}Release`]: 0.3 });
      expect(Math.abs(level({}))).toBeLessThan(0.01);
      // What is not in the band is in its neighbours, in phase with it (Linkwitz–Riley, bilinear), and stays.
      const over = (edge: number): number => (Math.tan((Math.PI * frequency) / rate) / Math.tan((Math.PI * edge) / rate)) ** 4;
      const above = b === 0 ? 1 : over(edges[b]!) / (1 + over(edges[b]!));
      const inBand = b === count - 1 ? above : above / (1 + over(edges[b + 1]!));
      const pressed = decibelsToGain(-0.2 * (30 - 15.01 + decibels(inBand)));
      expect(Math.abs(level(own(name)) - decibels(1 - inBand + inBand * pressed))).toBeLessThan(0.12);
      // Thresholds of a band that does not go by itself do nothing, nor do those of bands that are not there.
      expect(level({ [`${name}Above`]: -30, [`${name}DownRatio`]: 5 })).toBeCloseTo(level({}), 12);
      const elsewhere = here[(b + Math.ceil(count / 2)) % count]!;
      if (Math.abs(here.indexOf(elsewhere) - b) > 1) expect(Math.abs(level(own(elsewhere)))).toBeLessThan(0.1);
    });
  });

  it('works at the times of the band: attack and release cover 63 % of a change in decibels', () => {
    const input = Float32Array.from({ length: 168_000 }, (_, i) => (i >= 72_000 && i < 144_000 ? 0.5 : 0.05) * (i % 2 ? 1 : -1));
    const times = { highOwn: true, highAbove: -40, highDownRatio: 4, highAttack: 0.2, highRelease: 0.1 };
    const values = {
      bands: '2',
      split1: 100,
      amount: 1,
      above: 0,
      downRatio: 1,
      below: -72,
      upRatio: 1,
      attack: 0.001,
      release: 4,
      ...times,
    };
    const [output] = runEffect(multiband, [input], { values });
    const gain = (at: number): number => decibels(output![at]! / input[at]!);
    const quiet = -(40 - 26.02) * 0.75;
    const loud = -(40 - 6.02) * 0.75;
    // The detector averages over 10 ms before that.
    const late = 0.01 * rate;
    expect(gain(71_000)).toBeCloseTo(quiet, 1);
    expect(Math.abs(gain(72_000 + 0.2 * rate + late) - (quiet + (loud - quiet) * (1 - 1 / Math.E)))).toBeLessThan(0.6);
    expect(gain(143_000)).toBeCloseTo(loud, 1);
    expect(Math.abs(gain(144_000 + 0.1 * rate + 4 * late) - (loud + (quiet - loud) * (1 - 1 / Math.E)))).toBeLessThan(2.5);
  });

  it('tilts: what goes up at the top goes down at the bottom', () => {
    const gain = (frequency: number, tilt: number): number => {
      const [output] = runEffect(multiband, [sine(frequency, 1, rate, -20)], { values: { amount: 1, above: -30, downRatio: 10, tilt } });
      return decibels(amplitudeAt(output!, frequency, rate, 24_000, 48_000)) + 20;
    };
    expect(gain(9_000, 9)).toBeGreaterThan(gain(9_000, 0) + 3);
    expect(gain(50, 9)).toBeLessThan(gain(50, 0) - 3);
    expect(gain(700, 9)).toBeCloseTo(gain(700, 0), 0);
  });
});
