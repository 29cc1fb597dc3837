import { isAutomatable } from '../project/address';
import { axisOf, fromAxis } from '../project/axis';
import type { ParameterValues } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import { runEffect } from '../testing/run-effect';
import { firstDifference, mono, noise, sine } from '../testing/signals';
import { effects } from '.';
import type { Effect } from './effect';
import { effectFamilies } from './effect';

const rate = 48_000;
const { abs, max, sqrt } = Math;

function peak(samples: Float32Array, from = 0, to = samples.length): number {
  let most = 0;
  for (let i = from; i < to; i++) most = max(most, abs(samples[i]!));
  return most;
}

function rms(samples: Float32Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += samples[i]! ** 2;
  return sqrt(sum / (to - from));
}

/** The largest change of slope from sample to sample: what a click is made of. */
function kink(samples: Float32Array, from: number, to: number): number {
  let most = 0;
  for (let i = from + 1; i < to - 1; i++) most = max(most, abs(samples[i - 1]! - 2 * samples[i]! + samples[i + 1]!));
  return most;
}

/** The values of every preset, and the defaults. */
const settingsOf = (effect: Effect): [string, Readonly<Record<string, string | number | boolean>>][] => [
  ['defaults', {}],
  ...effect.presets.map(({ name, values }): [string, typeof values] => [name, values]),
];

describe.each(effects.map((effect) => [effect.id, effect] as const))('%s', (_, effect) => {
  it('is described: a family, a sentence, at least three presets that fit its parameters', () => {
    expect(effectFamilies).toContain(effect.family);
    expect(effect.purpose).toMatch(/^[A-Z].*\.$/);
    if (Object.keys(effect.parameters).length > 0) expect(effect.presets.length).toBeGreaterThanOrEqual(3);
    for (const { values } of effect.presets) {
      for (const key of Object.keys(values)) expect(Object.keys(effect.parameters)).toContain(key);
      expect(resolveValues(effect.parameters, values)).toMatchObject(values);
    }
  });

  it('gives silence for silence', () => {
    for (const [, values] of settingsOf(effect)) {
      const output = runEffect(effect, [new Float32Array(4_800), new Float32Array(4_800)], { values });
      for (const samples of output) expect(peak(samples)).toBe(0);
    }
  });

  it('survives noise at full scale, DC and single samples with every preset, and leaves no denormal numbers behind', () => {
    for (const [, values] of settingsOf(effect)) {
      const input = new Float32Array(14_400);
      input.set(noise(2_400));
      input.fill(1, 2_400, 4_800);
      input[5_500] = 1;
      const output = runEffect(effect, effect.family === 'Image' ? [input, input.map((sample) => -sample)] : [input], { values });
      for (const samples of output) {
        expect(samples.every((sample) => Number.isFinite(sample))).toBe(true);
        expect(peak(samples)).toBeLessThan(100);
        // Blocks that a decay has already left flush what remains of it.
        expect(samples.subarray(13_600).every((sample) => sample === 0 || abs(sample) > 1e-37)).toBe(true);
      }
    }
  });

  it('gives the same samples whatever the blocks, at every run, and after a reset', () => {
    const input = [noise(2_000, 3, -6), noise(2_000, 4, -6)];
    for (const [, values] of settingsOf(effect)) {
      const whole = runEffect(effect, input, { values });
      expect(firstDifference(whole, runEffect(effect, input, { values }))).toBe('');
      expect(firstDifference(whole, runEffect(effect, input, { values, blocks: [1, 0, 64, 1_000, 7, 513] }))).toBe('');
      const now = resolveValues(effect.parameters, values);
      const processor = effect.create({ sampleRate: rate, channels: 2, values: now });
      const first = input.map((samples) => samples.slice(0, 1_024));
      processor.process({ channels: first, frames: 1_024 }, now);
      processor.reset();
      const again = input.map((samples) => samples.slice(0, 1_024));
      processor.process({ channels: again, frames: 1_024 }, now);
      const start = whole.map((samples) => samples.slice(0, 1_024));
      expect(firstDifference(start, again)).toBe('');
    }
  });

  it('runs with one channel and with six', () => {
    for (const count of [1, 6]) {
      const output = runEffect(
        effect,
        Array.from({ length: count }, (_unused, c) => noise(1_200, c + 1, -12)),
      );
      for (const samples of output) expect(samples.every((sample) => Number.isFinite(sample))).toBe(true);
    }
  });

  it('has fallen by 50 dB after its tail', () => {
    for (const [, values] of settingsOf(effect)) {
      const tail = effect.tail(resolveValues(effect.parameters, values), rate, {});
      if (tail > 0.6 * rate) continue;
      const input = new Float32Array(4_800 + tail + 4_800);
      input.set(noise(4_800, 2, -6));
      const [left] = runEffect(effect, effect.family === 'Image' ? [input, input] : [input], { values });
      const sounding = rms(left!, 0, max(4_800, Math.min(tail, 9_600)));
      if (sounding === 0) continue;
      expect(rms(left!, 4_800 + tail, input.length) / sounding).toBeLessThan(10 ** (-50 / 20));
    }
  });

  it('does not click when a number is moved', () => {
    const at = 5_120;
    const input = sine(180, 0.4, rate, -12);
    for (const [key, parameter] of Object.entries(effect.parameters)) {
      if (parameter.kind !== 'number' || parameter.fixed || parameter.step) continue;
      for (const share of [parameter.default > (parameter.min + parameter.max) / 2 ? 0.3 : 0.7]) {
        const place =
          parameter.scale === 'log'
            ? parameter.min * (parameter.max / parameter.min) ** share
            : parameter.min + (parameter.max - parameter.min) * share;
        const change = { at, values: { [key]: place } };
        const [output] = runEffect(effect, effect.family === 'Image' ? [input, input] : [input], { change });
        const before = kink(output!, at - 3_000, at - 8);
        const moved = kink(output!, at - 8, at + 4_000);
        const after = kink(output!, at + 8_000, input.length);
        expect({ key, share, clicks: moved > 3 * max(before, after) + 0.02 }).toEqual({ key, share, clicks: false });
      }
    }
  });

  it('does not click either when a choice or a switch is changed, and lags as before', () => {
    const at = 5_120;
    const input = sine(180, 0.4, rate, -12);
    for (const [key, parameter] of Object.entries(effect.parameters)) {
      const axis = axisOf(parameter);
      if (!axis?.names || !isAutomatable({ address: '', parameter })) continue;
      // Of long lists, such as all roots of a scale, some stand for all.
      const last = axis.names.length - 1;
      for (const stage of last < 8 ? axis.names.keys() : [0, 1, last >> 1, last]) {
        const values = { [key]: fromAxis(parameter, stage) };
        const lag = (own: ParameterValues): number => effect.latency(resolveValues(effect.parameters, own), rate);
        expect(lag(values)).toBe(lag({}));
        const [output] = runEffect(effect, effect.family === 'Image' ? [input, input] : [input], { change: { at, values } });
        const before = kink(output!, at - 3_000, at - 8);
        const moved = kink(output!, at - 8, at + 4_000);
        const after = kink(output!, at + 8_000, input.length);
        expect({ key, stage, clicks: moved > 3 * max(before, after) + 0.02 }).toEqual({ key, stage, clicks: false });
      }
    }
  });
});

describe('effects that lag', () => {
  const lagging = effects.filter((effect) => effect.latency(resolveValues(effect.parameters, {}), rate) > 0);

  it('are those that must look ahead or oversample', () => {
    expect(lagging.map(({ id }) => id).sort()).toEqual([
      'band-drive',
      'clipper',
      'convolution',
      'drawn-eq',
      'drive',
      'formant-shifter',
      'graphic-eq',
      'harmonic-builder',
      'harmony',
      'limiter',
      'pitch-shifter',
      'ring-modulator',
      'rotation',
      'unison',
    ]);
  });

  // Voices in unison are spread around their lag.
  it.each(lagging.filter(({ id }) => id !== 'unison').map((effect) => [effect.id, effect] as const))(
    '%s lags by what it says',
    (_, effect) => {
      const values = { drive: effect.id === 'drive' ? -12 : 0, gain: 0, second: 0, third: 0, output: 0, level: 0 };
      const lag = effect.latency(resolveValues(effect.parameters, values), rate);
      // Below 20 kHz, where nothing is filtered away.
      const input = new Float32Array(12_000 + lag);
      for (const frequency of [310, 1_270, 3_490, 7_110])
        sine(frequency, input.length / rate, rate, -32).forEach((sample, i) => (input[i]! += sample));
      // A convolution is told to give back what it gets.
      const context = effect.id === 'convolution' ? { recordings: { response: mono(Float32Array.of(1)) } } : {};
      const [output] = runEffect(effect, [input], { values, context });
      const difference = (by: number): number => {
        let sum = 0;
        for (let i = 4_000; i < 11_000; i++) sum += (output![i + by]! - input[i]! * (effect.id === 'drive' ? 10 ** (-12 / 20) : 1)) ** 2;
        return sum;
      };
      const lags = [-2, -1, 0, 1, 2].map((by) => difference(lag + by));
      expect(lags.indexOf(Math.min(...lags))).toBe(2);
    },
  );
});
