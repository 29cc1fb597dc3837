import { Oversampler } from '../dsp/oversampler';
import type { ParameterValue } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import { runEffect } from '../testing/run-effect';
import { amplitudeAt, sine } from '../testing/signals';
import { decibelsToGain } from '../units';
import { effects, effectsById } from '.';
import type { EffectPicture } from './effect-picture';
import { pictureOf } from './effect-picture';

const rate = 48_000;
const picture = (id: string, values: Readonly<Record<string, ParameterValue>> = {}): EffectPicture => {
  const effect = effectsById.get(id)!;
  return pictureOf(effect, resolveValues(effect.parameters, values))!;
};
/** The height of a curve at the point nearest to a place. */
const heightAt = ({ curves }: EffectPicture, x: number, role = 'main'): number =>
  curves
    .find((curve) => curve.role === role)!
    .points.reduce((best, point) => (Math.abs(point[0] - x) < Math.abs(best[0] - x) ? point : best))[1];

const drawn = effects.filter((effect) => effect.picture !== undefined);

describe.each(drawn.map((effect) => [effect.id, effect] as const))('the picture of %s', (_, effect) => {
  it('is made of numbers along its axes with every preset and at both ends of every dial', () => {
    const ends = Object.entries(effect.parameters).flatMap(([key, parameter]): Readonly<Record<string, ParameterValue>>[] =>
      parameter.kind === 'number'
        ? [{ [key]: parameter.min }, { [key]: parameter.max }]
        : parameter.kind === 'choice'
          ? parameter.options.map((option) => ({ [key]: option }))
          : parameter.kind === 'switch'
            ? [{ [key]: true }, { [key]: false }]
            : [],
    );
    for (const values of [{}, ...effect.presets.map((preset) => preset.values), ...ends]) {
      const { title, x, y, curves, stems = [] } = pictureOf(effect, resolveValues(effect.parameters, values))!;
      expect(title).not.toBe('');
      for (const { from, to, scale } of [x, y]) expect(to > from && (scale === 'linear' || from > 0)).toBe(true);
      const points = [...curves.flatMap((curve) => curve.points), ...stems.map(({ at, height }) => [at, height] as const)];
      expect(points.length).toBeGreaterThan(0);
      expect(points.every(([at, height]) => Number.isFinite(at) && Number.isFinite(height))).toBe(true);
      expect(points.every(([at]) => at >= x.from - 1e-9 && at <= x.to * (1 + 1e-9) + 1e-9)).toBe(true);
    }
  });
});

describe('what pictures show is what is heard', () => {
  it.each(['soft', 'hard', 'fold'])('the curve of a drive, %s', (curve) => {
    const values = { curve, drive: 9, output: -3 };
    const input = sine(400, 0.2, rate, -6);
    const [output] = runEffect(effectsById.get('drive')!, [input], { values });
    const shown = picture('drive', values);
    // Behind the constant that is blocked settling, and away from the steepest places, where a fraction of a frame counts.
    for (let i = 4_800; i < 4_920; i += 7) {
      const at = input[i]!;
      if (Math.abs(at) < 0.35) continue;
      expect(Math.abs(output![i + Oversampler.latency]! - heightAt(shown, at))).toBeLessThan(0.05);
    }
  });

  it('the expander of a gate: a tone 12 dB below the threshold falls by its ratio', () => {
    const values = { mode: 'expander', threshold: -20, ratio: 2, range: -60, attack: 0.0001 };
    const [output] = runEffect(effectsById.get('gate')!, [sine(3_000, 1, rate, -32)], { values });
    const level = 20 * Math.log10(amplitudeAt(output!, 3_000, rate, 24_000, 48_000));
    expect(Math.abs(level - heightAt(picture('gate', values), -32))).toBeLessThan(1.5);
  });

  it('the hit of a transient shaper: its attack is lifted, its end lowered', () => {
    const shown = picture('transient-shaper', { attack: 12, sustain: -12, output: 0 });
    expect(heightAt(shown, 0.05) - heightAt(shown, 0.05, 'before')).toBeGreaterThan(5);
    expect(heightAt(shown, 0.3) - heightAt(shown, 0.3, 'before')).toBeLessThan(-4);
    const plain = picture('transient-shaper', { attack: 0, sustain: 0, output: 0 });
    expect(heightAt(plain, 0.2)).toBeCloseTo(heightAt(plain, 0.2, 'before'), 3);
  });

  it('the echoes of a delay, straight and from side to side', () => {
    const values = { time: 0.1, feedback: 0.5, echo: 0.8, lowCut: 20, highCut: 20_000, offset: 0.02 };
    for (const crossed of [false, true]) {
      const input = new Float32Array(rate);
      // A tone burst rather than a click: the filters in the loop leave it as it is.
      input.set(sine(2_000, 0.01, rate, 0));
      const sides = runEffect(effectsById.get('delay')!, [input, crossed ? new Float32Array(rate) : input], {
        values: { ...values, crossed },
      });
      const stems = picture('delay', { ...values, crossed }).stems!.slice(1, 5);
      for (const { role, at, height } of stems) {
        const from = Math.round(at * rate) + 96;
        const heard = amplitudeAt(sides[role === 'main' ? 0 : 1]!, 2_000, rate, from, from + 240);
        expect(Math.abs(20 * Math.log10(heard) - height)).toBeLessThan(2);
      }
    }
  });

  it('the decay of a reverb at the frequencies that it is designed by', () => {
    const shown = picture('reverb', { decay: 2, low: 1.5, high: 0.4 });
    expect(shown.stems!.map(({ at }) => at)).toEqual([125, 1_000, 4_000]);
    expect(heightAt(shown, 125)).toBeCloseTo(3, 0);
    expect(heightAt(shown, 1_000)).toBeCloseTo(2, 1);
    expect(heightAt(shown, 4_000)).toBeCloseTo(0.8, 1);
    expect(heightAt(shown, 10_000)).toBeCloseTo(0.8, 1);
  });

  it('the notches of a phaser that stands still', () => {
    const values = { stages: '4', centre: 900, range: 0, feedback: 0, rate: 0.02 };
    const notches = picture('phaser', values)
      .curves.filter(({ role }) => role === 'main')
      .map(({ points }) => points[0]![1]);
    expect(notches).toHaveLength(2);
    for (const notch of notches) {
      const there = runEffect(effectsById.get('phaser')!, [sine(notch, 0.5, rate, -6)], { values })[0]!;
      expect(amplitudeAt(there, notch, rate, 12_000, 24_000)).toBeLessThan(decibelsToGain(-30));
    }
  });

  it('the level of a tremolo over a round', () => {
    const values = { rate: 2, depth: 0.8, shape: 'triangle', apart: 1 };
    const sides = runEffect(effectsById.get('tremolo')!, [new Float32Array(rate).fill(1), new Float32Array(rate).fill(1)], { values });
    const shown = picture('tremolo', values);
    for (const time of [0.06, 0.15, 0.3, 0.42]) {
      expect(sides[0]![Math.round(time * rate)]).toBeCloseTo(heightAt(shown, time), 1);
      expect(sides[1]![Math.round(time * rate)]).toBeCloseTo(heightAt(shown, time, 'other side'), 1);
    }
  });
});
