import type { ParameterValue, ParameterValues } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import { createRandom, seedOf } from '../dsp/random';
import { runEffect } from '../testing/run-effect';
import { largest, noise } from '../testing/signals';
import { effects } from '.';
import type { Effect } from './effect';

/** What must hold for every effect wherever its dials stand: at each end of each, and with all of them at one end or another. */

const rate = 48_000;
const { abs, max, min } = Math;

type Settings = Readonly<Record<string, ParameterValue>>;

/** The values at which a dial ends; of a choice, all of them, or some where there are many. */
function endsOf({ parameters }: Effect, key: string): readonly ParameterValue[] {
  const parameter = parameters[key]!;
  if (parameter.kind === 'number') return [parameter.min, parameter.max];
  if (parameter.kind === 'switch') return [false, true];
  if (parameter.kind !== 'choice') return [];
  const { options } = parameter;
  return options.length < 9 ? options : [options[0]!, options[options.length >> 1]!, options.at(-1)!];
}

/** Each end of each dial, the others as they begin. */
const oneByOne = (effect: Effect): Settings[] =>
  Object.keys(effect.parameters).flatMap((key) => endsOf(effect, key).map((value) => ({ [key]: value })));

/** All dials at ends that are drawn. */
function together(effect: Effect, count: number): Settings[] {
  const random = createRandom(seedOf(effect.id));
  return Array.from({ length: count }, () => {
    const settings: Record<string, ParameterValue> = {};
    for (const key of Object.keys(effect.parameters)) {
      const ends = endsOf(effect, key);
      if (ends.length > 0) settings[key] = ends[Math.floor(random.next() * ends.length)]!;
    }
    return settings;
  });
}

const peak = (samples: Float32Array): number => samples.reduce((most, sample) => max(most, abs(sample)), 0);

/** Where a filter stands still it may be handed over to a kernel, whose sums come in another order; at presets not even that is heard. */
const rounding = 1e-7;
/** The most that any effect may make of full scale: dials of gain, drive and resonance at once. */
const most = 1e6;

describe.each(effects.map((effect) => [effect.id, effect] as const))('%s at the ends of its dials', (_, effect) => {
  const settings = [...oneByOne(effect), ...together(effect, 6)];
  const inStereo = (samples: Float32Array): Float32Array[] => [samples, samples.map((sample) => -0.5 * sample)];

  it('gives silence for silence', () => {
    for (const values of settings)
      for (const samples of runEffect(effect, [new Float32Array(2_400), new Float32Array(2_400)], { values }))
        expect({ values, peak: peak(samples) }).toEqual({ values, peak: 0 });
  });

  it('makes numbers of noise, direct current and single samples, and the same ones whatever the blocks', () => {
    const input = new Float32Array(3_000);
    input.set(noise(1_200));
    input.fill(1, 1_200, 2_400);
    input[2_600] = 1;
    for (const values of settings) {
      const whole = runEffect(effect, inStereo(input), { values });
      for (const samples of whole) {
        const wrong = samples.findIndex((sample) => !(abs(sample) < most));
        expect({ values, wrong }).toEqual({ values, wrong: -1 });
      }
      const pieces = runEffect(effect, inStereo(input), { values, blocks: [1, 700, 64, 7, 513] });
      const difference = max(...whole.map((samples, c) => largest(0, samples.length, (i) => samples[i]! - pieces[c]![i]!)));
      expect({ values, same: difference < rounding * max(1, peak(whole[0]!)) }).toEqual({ values, same: true });
    }
  });

  it('says how long it lags and rings on: whole frames that are not negative', () => {
    for (const values of settings) {
      const now: ParameterValues = resolveValues(effect.parameters, values);
      for (const frames of [effect.latency(now, rate), effect.tail(now, rate, {})])
        expect({ values, fine: Number.isInteger(frames) && frames >= 0 && frames < 3_600 * rate }).toEqual({ values, fine: true });
    }
  });

  it('has fallen by 50 dB after its tail', () => {
    for (const values of settings) {
      const now = resolveValues(effect.parameters, values);
      const tail = effect.tail(now, rate, {}) + effect.latency(now, rate);
      if (tail > 0.3 * rate) continue;
      const input = new Float32Array(2_400 + tail + 2_400);
      input.set(noise(2_400, 2, -6));
      for (const samples of runEffect(effect, inStereo(input), { values })) {
        const sounding = peak(samples.subarray(0, min(samples.length, 2_400 + tail)));
        const left = peak(samples.subarray(2_400 + tail));
        expect({ values, left: left > 0.01 * sounding && left > 1e-4 ? left / sounding : 0 }).toEqual({ values, left: 0 });
      }
    }
  });
});
