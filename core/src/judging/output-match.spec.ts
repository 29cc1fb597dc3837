import { effectCatalogue } from '../catalogue';
import { effectsById } from '../effects';
import type { Project } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { mono, noise, sine } from '../testing/signals';
import { matchOutput, measureStep, outputKey } from './output-match';

const rate = 48_000;

/** One layer with one step, and where its output level is. */
function bench(recording: Float32Array, effect: string, values: Readonly<Record<string, number | boolean | string>>, mix = 1) {
  const { project: plain, context } = projectWith({ one: mono(recording) });
  const sound = plain.sounds[0]!.id;
  const layer = plain.sounds[0]!.layers[0]!.id;
  let project = edited(plain, 'addEffect', { sound, owner: { layer }, effect });
  const step = project.sounds[0]!.layers[0]!.chain[0]!.id;
  const prefix = `layer/${layer}/chain/${step}`;
  const set = (from: Project, changed: Readonly<Record<string, number | boolean | string>>): Project =>
    edited(from, 'setValues', {
      sound,
      values: Object.fromEntries(Object.entries(changed).map(([key, value]) => [`${prefix}/${key}`, value])),
      label: '',
    });
  project = set(project, { ...values, mix });
  return { project, context, step, address: `${prefix}/output`, set };
}

describe('matching the output of a step', () => {
  it('measures what goes in and what comes out: an EQ that only lifts its output by 6 dB', () => {
    const { project, context, step } = bench(sine(1_000, 2, rate, -20), 'eq', { output: 6 });
    const { before, after } = measureStep(project.sounds[0]!, context, step);
    // A tone of 1 kHz at −20 dBFS on both sides has −20 LUFS (BS.1770-5, where one side alone has −23).
    expect(before).toBeCloseTo(-20, 0);
    expect(after - before).toBeCloseTo(6, 1);
  });

  it.each([
    ['an EQ with a broad boost', 'eq', { band3On: true, band3Kind: 'bell', band3Frequency: 1_000, band3Gain: 12, band3Q: 0.5 }, 1],
    ['a drive', 'drive', { drive: 24, output: 0 }, 1],
    ['a drive that is mixed in', 'drive', { drive: 24, output: 6 }, 0.4],
    ['a cut that makes it softer', 'eq', { band1On: true, band1Frequency: 4_000, band1Slope: '24' }, 1],
  ])('leaves the loudness as it was: %s', (_, effect, values, mix) => {
    const { project, context, step, address, set } = bench(noise(2 * rate, 3, -18), effect, values, mix);
    const found = matchOutput(project.sounds[0]!, context, { step, address }, effectCatalogue);
    expect(Math.abs(found.after - found.before)).toBeGreaterThan(0.5);
    expect(Math.abs(found.rest)).toBeLessThan(0.05);
    const { before, after } = measureStep(set(project, { output: found.output }).sounds[0]!, context, step);
    expect(Math.abs(after - before)).toBeLessThan(0.05);
  });

  it('goes as far as the dial does, and tells what is left', () => {
    const { project, context, step, address } = bench(noise(rate, 3, -50), 'drive', { drive: 48, output: 12 });
    const found = matchOutput(project.sounds[0]!, context, { step, address }, effectCatalogue);
    const { min, max } = effectsById.get('drive')!.parameters['output'] as { min: number; max: number };
    expect(found.output).toBeGreaterThanOrEqual(min);
    expect(found.output).toBeLessThanOrEqual(max);
    expect(found.output === min || Math.abs(found.rest) < 0.05).toBe(true);
  });

  it('works on a crack of 50 ms, and says where nothing is heard', () => {
    const crack = bench(noise(0.05 * rate, 3, -12), 'eq', { output: 4 });
    expect(matchOutput(crack.project.sounds[0]!, crack.context, crack, effectCatalogue).output).toBeCloseTo(0, 1);
    const silent = bench(new Float32Array(rate), 'eq', { output: 4 });
    expect(() => matchOutput(silent.project.sounds[0]!, silent.context, silent, effectCatalogue)).toThrow('Nothing is heard');
    expect(() => matchOutput(crack.project.sounds[0]!, crack.context, { step: crack.step, address: 'layer/x' }, effectCatalogue)).toThrow(
      'no output level',
    );
    expect(() => matchOutput(crack.project.sounds[0]!, crack.context, crack, effectCatalogue, () => false)).toThrow('ancelled');
  });

  it('knows which effects have an output', () => {
    expect(outputKey(effectsById.get('eq')!)).toBe('output');
    expect(outputKey(effectsById.get('trim')!)).toBeUndefined();
  });
});
