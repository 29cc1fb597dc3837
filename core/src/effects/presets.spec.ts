import fc from 'fast-check';
import { readPresets, writePresets } from '../formats/preset-file';
import { faultsOf, placeOfValue, resolveValues } from '../project/parameters';
import type { Preset } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { effectCatalogue } from '../catalogue';
import { effects, effectsById } from '.';
import { situations } from './situations';
import { surprise } from './surprise';

describe('situations', () => {
  it('are chains of effects that exist, with values that fit', () => {
    for (const { name, chain } of situations) {
      for (const { effect, values } of chain) {
        const found = effectsById.get(effect);
        expect({ name, effect, faults: found && faultsOf(found.parameters, values) }).toEqual({ name, effect, faults: [] });
      }
    }
  });
});

describe('surprises', () => {
  it('stay near what the default and the presets reach, keep locks, and come again with the same seed', () => {
    fc.assert(
      fc.property(fc.constantFrom(...effects.filter(({ parameters }) => Object.keys(parameters).length > 0)), fc.nat(), (effect, seed) => {
        const [first] = Object.keys(effect.parameters);
        const values = surprise(effect, {}, { seed, strength: 1, locked: new Set([first!]) });
        expect(faultsOf(effect.parameters, values)).toEqual([]);
        expect(values[first!]).toBe(effect.parameters[first!]!.default);
        expect(surprise(effect, {}, { seed, strength: 1, locked: new Set([first!]) })).toEqual(values);
        expect(surprise(effect, {}, { seed, strength: 0 })).toEqual(resolveValues(effect.parameters, {}));
        for (const [key, parameter] of Object.entries(effect.parameters)) {
          if (parameter.kind !== 'number') continue;
          const places = [{}, ...effect.presets.map((preset) => preset.values)].map((each) =>
            placeOfValue(parameter, Number(resolveValues(effect.parameters, each)[key])),
          );
          const room =
            (Math.max(...places) - Math.min(...places)) * 0.1 + 0.51 / ((parameter.max - parameter.min) / (parameter.step ?? 1e-9));
          const place = placeOfValue(parameter, Number(values[key]));
          expect(place).toBeGreaterThanOrEqual(Math.min(...places) - room - 1e-9);
          expect(place).toBeLessThanOrEqual(Math.max(...places) + room + 1e-9);
        }
      }),
    );
  });
});

describe('presets', () => {
  const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
  const sound = project.sounds[0]!.id;
  const owner = { layer: project.sounds[0]!.layers[0]!.id };
  const steps = situations[0]!.chain.map(({ effect, mix = 1, values }) => ({ effect, mix, enabled: true, parameters: values }));
  const chained = edited(project, 'setChain', { sound, owner, name: 'Telephone', steps });

  it('put a whole chain in place, are saved, replaced by name and removed', () => {
    const { chain } = chained.sounds[0]!.layers[0]!;
    expect(chain.map(({ effect }) => effect)).toEqual(situations[0]!.chain.map(({ effect }) => effect));
    let saved = edited(chained, 'savePreset', { sound, owner, name: 'My phone', tags: ['voice'] });
    saved = edited(saved, 'savePreset', { sound, owner, steps: [chain[0]!.id], name: 'My phone', tags: [] });
    expect(saved.presets.map(({ name, chain: kept }) => [name, kept.length])).toEqual([['My phone', 1]]);
    expect(edited(saved, 'removePreset', { preset: saved.presets[0]!.id }).presets).toEqual([]);
  });

  it('come back out of a file as they went in', () => {
    const saved = edited(chained, 'savePreset', { sound, owner, name: 'My phone', tags: ['voice', 'dry'] });
    const read = readPresets(writePresets(saved.presets), 'phone.json', effectCatalogue);
    expect(read).toEqual(saved.presets.map(({ name, tags, chain }) => ({ name, tags, chain })));
    const imported = edited(project, 'importPresets', { presets: read });
    expect(imported.presets[0]).toMatchObject({ name: 'My phone', tags: ['voice', 'dry'] });
  });

  it('say what does not fit and where', () => {
    const broken = (change: (preset: Preset) => void): string => {
      const saved = edited(chained, 'savePreset', { sound, owner, name: 'My phone', tags: [] });
      const preset = structuredClone(saved.presets[0]!);
      change(preset);
      return writePresets([preset]);
    };
    const read = (text: string) => () => readPresets(text, 'phone.json', effectCatalogue);
    expect(read('nothing')).toThrow('phone.json is not valid JSON');
    expect(read('{"format":"other"}')).toThrow('phone.json does not fit: format');
    expect(read(broken(({ chain }) => (chain[0]!.effect = 'wobble')))).toThrow('presets[0].chain[0]: there is no effect “wobble”');
    expect(read(broken(({ chain }) => (chain[1]!.parameters = { ratio: 400 })))).toThrow(
      'presets[0].chain[1] (Compressor): “ratio” is 400',
    );
  });
});
