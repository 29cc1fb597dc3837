import fc from 'fast-check';
import { analoguePower } from '../../dsp/filters/analogue';
import { matchSections, sectionPower } from '../../dsp/filters/matched-section';
import type { ParameterSet } from '../../project/parameters';
import { inRange, resolveValues } from '../../project/parameters';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, sine } from '../../testing/signals';
import type { EqBand } from './eq';
import { eq, eqBandCount, eqPrototypes, eqResponse } from './eq';

const rate = 48_000;
const probes = Array.from({ length: 120 }, (_, i) => 20 * Math.pow(18_000 / 20, i / 119));

/** Largest difference in dB between a band's sections and its analogue formula up to 18 kHz, where the formula is above -60 dB. */
function worstError(band: EqBand, sampleRate = rate): number {
  const prototypes = eqPrototypes(band, 1);
  const sections = matchSections(prototypes, sampleRate);
  let worst = 0;
  for (const frequency of probes) {
    const analogue = 10 * Math.log10(prototypes.reduce((power, prototype) => power * analoguePower(prototype, frequency), 1));
    const digital = 10 * Math.log10(sections.reduce((power, section) => power * sectionPower(section, frequency, sampleRate), 1));
    if (analogue > -60) worst = Math.max(worst, Math.abs(analogue - digital));
  }
  return worst;
}

const frequency = fc.double({ min: Math.log(20), max: Math.log(18_000), noNaN: true }).map(Math.exp);
const q = fc.double({ min: Math.log(0.1), max: Math.log(30), noNaN: true }).map(Math.exp);
const gain = fc.double({ min: -24, max: 24, noNaN: true });

describe('EQ bands follow the analogue formula within 0.1 dB up to 18 kHz', () => {
  const base: EqBand = { on: true, kind: 'bell', frequency: 1_000, gain: 0, q: 0.7, slope: 12 };

  it('bell', () => {
    fc.assert(
      fc.property(frequency, q, gain, (f, width, g) => worstError({ ...base, frequency: f, q: width, gain: g }) < 0.1),
      { numRuns: 150, seed: 11 },
    );
  });

  it.each(['low shelf', 'high shelf'] as const)('%s', (kind) => {
    fc.assert(
      fc.property(frequency, q, gain, (f, width, g) => worstError({ ...base, kind, frequency: f, q: width, gain: g }) < 0.105),
      { numRuns: 100, seed: 12 },
    );
  });

  it('tilt', () => {
    fc.assert(
      fc.property(frequency, gain, (f, g) => worstError({ ...base, kind: 'tilt', frequency: f, gain: g }) < 0.05),
      { numRuns: 60, seed: 13 },
    );
  });

  it.each([6, 12, 18, 24, 36, 48])('high cut with %i dB/oct', (slope) => {
    fc.assert(
      fc.property(frequency, (f) => worstError({ ...base, kind: 'high cut', frequency: f, slope }) < 0.1),
      { numRuns: 25, seed: 14 },
    );
  });

  // The steepest low cut above 9 kHz is the hardest case.
  it.each([
    [6, 18_000, 0.1],
    [12, 18_000, 0.1],
    [24, 18_000, 0.1],
    [36, 18_000, 0.1],
    [48, 9_000, 0.1],
    [48, 18_000, 0.15],
  ])('low cut with %i dB/oct up to %i Hz, within %f dB', (slope, highest, most) => {
    const within = (f: number): boolean => worstError({ ...base, kind: 'low cut', frequency: Math.min(f, highest), slope }) < most;
    fc.assert(fc.property(frequency, within), { numRuns: 25, seed: 15 });
    for (let f = 8_000; f <= highest; f += 250) expect([f, within(f)]).toEqual([f, true]);
  });

  it('band and notch with Q up to 8', () => {
    for (const kind of ['band', 'notch'] as const)
      fc.assert(
        fc.property(frequency, q, (f, width) => worstError({ ...base, kind, frequency: f, q: Math.min(width, 8) }) < 0.12),
        { numRuns: 60, seed: 16 },
      );
  });
});

describe('the width of a band', () => {
  const parameters: ParameterSet = eq.parameters;
  const parameter = parameters['band3Q']!;

  it.each([
    ['bell', 30],
    ['band', 30],
    ['notch', 30],
    ['low cut', 8],
    ['high cut', 8],
    ['low shelf', 1.5],
    ['high shelf', 1.5],
  ] as const)('of a %s goes up to %f, as its dial says', (kind, most) => {
    expect(inRange(parameter, { band3Kind: kind })).toMatchObject({ max: most });
    // To the end it does something, and beyond nothing more.
    const power = (q: number): number =>
      eqPrototypes({ on: true, kind, frequency: 1_000, gain: 6, q, slope: 24 }, 1).reduce((all, one) => all * analoguePower(one, 1_050), 1);
    expect(Math.abs(power(most) / power(most * 0.8) - 1)).toBeGreaterThan(1e-3);
    expect(power(most * 2)).toBe(power(most));
  });
});

describe('the EQ processor', () => {
  const values = resolveValues(eq.parameters, {
    band3On: true,
    band3Frequency: 2_350,
    band3Gain: -6.5,
    band3Q: 3,
    band7On: true,
    band7Frequency: 9_000,
    band7Gain: 8,
    output: 1.5,
  });

  it('passes sines at the level that the drawn curve shows', () => {
    for (const tone of [100, 1_000, 2_350, 5_000, 9_000, 15_000]) {
      const processor = eq.create({ sampleRate: rate, channels: 1, values: resolveValues(eq.parameters, {}) as never });
      const samples = sine(tone, 0.5, rate, -20);
      for (let at = 0; at < samples.length; at += 1_000)
        processor.process({ channels: [samples.subarray(at, at + 1_000)], frames: 1_000 }, values as never);
      const level = 20 * Math.log10(amplitudeAt(samples, tone, rate, 12_000, 24_000)) + 20;
      expect(Math.abs(level - eqResponse(values, tone))).toBeLessThan(0.1);
    }
  });

  it('does not depend on the block size, also while it glides', () => {
    const run = (size: number): Float32Array => {
      const processor = eq.create({ sampleRate: rate, channels: 1, values: resolveValues(eq.parameters, {}) as never });
      const samples = sine(440, 0.2, rate, -6);
      const moved = { ...values, band3Gain: 12 };
      for (let at = 0; at < samples.length; at += size) {
        const end = Math.min(samples.length, at + size);
        processor.process({ channels: [samples.subarray(at, end)], frames: end - at }, (at < 4_800 ? values : moved) as never);
      }
      return samples;
    };
    const reference = run(960);
    for (const size of [1, 96, 480]) expect(run(size)).toEqual(reference);
  });

  it('changes of a band do not click: no step is larger than the loudest steady sine makes', () => {
    const processor = eq.create({ sampleRate: rate, channels: 1, values: resolveValues(eq.parameters, {}) as never });
    const samples = sine(100, 0.5, rate, -12);
    for (let at = 0, n = 0; at < samples.length; at += 480, n++) {
      const swept = { ...values, band3Frequency: 200 * Math.pow(1.1, n), band3Gain: n % 2 ? 12 : -12 };
      processor.process({ channels: [samples.subarray(at, at + 480)], frames: 480 }, swept as never);
    }
    let largest = 0;
    for (let i = 2; i < samples.length; i++) largest = Math.max(largest, Math.abs(samples[i]! - 2 * samples[i - 1]! + samples[i - 2]!));
    // Switching the gain at once would step by up to 0.25 · (10^(12/20) - 10^(-12/20)) ≈ 0.9; what is left is 45 dB below that.
    expect(largest).toBeLessThan(0.005);
  });

  it('leaves the sound alone when no band is on', () => {
    const processor = eq.create({ sampleRate: rate, channels: 1, values: resolveValues(eq.parameters, {}) as never });
    const samples = sine(440, 0.1, rate, -6);
    const before = samples.slice();
    processor.process({ channels: [samples.subarray(0, 1_000)], frames: 1_000 }, resolveValues(eq.parameters, {}) as never);
    expect(samples).toEqual(before);
  });

  it('treats what both sides have in common, or what they have not, alone', () => {
    const boost = {
      ...values,
      band1On: false,
      band3On: true,
      band3Kind: 'bell',
      band3Frequency: 1_000,
      band3Gain: 12,
      band3Q: 1,
      band7On: false,
      output: 0,
    };
    const middle = sine(1_000, 0.5, rate, -20);
    const side = sine(1_000, 0.5, rate, -30, 1);
    const input = [middle.map((sample, i) => sample + side[i]!), middle.map((sample, i) => sample - side[i]!)];
    for (const works of ['the middle', 'the sides']) {
      const [left, right] = runEffect(eq, input, { values: { ...boost, works } });
      const inMiddle = left!.map((sample, i) => (sample + right![i]!) / 2);
      const onSides = left!.map((sample, i) => (sample - right![i]!) / 2);
      const level = (samples: Float32Array): number => 20 * Math.log10(amplitudeAt(samples, 1_000, rate, 12_000, 24_000));
      expect(level(inMiddle)).toBeCloseTo(works === 'the middle' ? -8 : -20, 1);
      expect(level(onSides)).toBeCloseTo(works === 'the sides' ? -18 : -30, 1);
    }
  });

  it('has sixteen bands, all of which work', () => {
    const all = Object.fromEntries(
      Array.from({ length: eqBandCount }, (_, i) => [
        [`band${i + 1}On`, true],
        [`band${i + 1}Kind`, 'bell'],
        [`band${i + 1}Frequency`, 1_000],
        [`band${i + 1}Gain`, 1],
      ]).flat(),
    );
    expect(eqBandCount).toBe(16);
    const [output] = runEffect(eq, [sine(1_000, 0.5, rate, -30)], { values: all });
    expect(20 * Math.log10(amplitudeAt(output!, 1_000, rate, 12_000, 24_000)) + 30).toBeCloseTo(16, 1);
  });
});
