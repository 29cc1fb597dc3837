import type { ParameterValue } from '../project/parameters';
import { runEffect } from '../testing/run-effect';
import { firstDifference, largest, noise } from '../testing/signals';
import { effects } from '.';
import type { Effect } from './effect';

/** The defaults, and what the first preset makes of them. */
const settingsOf = (effect: Effect): (readonly [string, Readonly<Record<string, ParameterValue>>])[] => [
  ['defaults', {}],
  ...effect.presets.slice(0, 1).map(({ name, values }) => [name, values] as const),
];

describe.each(effects.map((effect) => [effect.id, effect] as const))('the channels of %s', (_, effect) => {
  const inputs = [noise(1_200, 1), noise(1_200, 2, -6), noise(1_200, 3, -20), noise(1_200, 4), noise(1_200, 5), noise(1_200, 6)];
  const run = (channels: readonly Float32Array[], values: Record<string, ParameterValue>): Float32Array[] => {
    const branches = Array.from({ length: effect.host?.first ?? 0 }, () => ({ process: () => undefined, reset: () => undefined }));
    return runEffect(effect, channels, { values, context: effect.host ? { branches } : {} });
  };

  it('may be as many as a layout has', () => {
    for (const count of [1, 2, 6])
      for (const [, values] of settingsOf(effect))
        for (const channel of run(inputs.slice(0, count), values)) expect(channel.every(Number.isFinite)).toBe(true);
  });

  if (effect.channels === 'each')
    it('know nothing of each other', () => {
      for (const [, values] of settingsOf(effect)) {
        const alone = inputs.map((input) => run([input], values)[0]!);
        expect(firstDifference(alone, run(inputs, values))).toBe('');
      }
    });

  if (effect.channels === 'linked')
    it('are treated alike, whichever they are', () => {
      for (const [, values] of settingsOf(effect)) {
        const [left, right] = run(inputs.slice(0, 2), values);
        // Spectra of two channels at once are single precision.
        const turned = run([inputs[1]!, inputs[0]!], values);
        const difference = [right!, left!].map((samples, c) => largest(0, samples.length, (i) => samples[i]! - turned[c]![i]!));
        expect(Math.max(...difference)).toBeLessThan(1e-6);
      }
    });
});
