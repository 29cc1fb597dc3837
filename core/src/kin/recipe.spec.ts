import fc from 'fast-check';
import { effectCatalogue } from '../catalogue';
import { startHistory } from '../project/history';
import { parseProject } from '../project/parse';
import { anyEdit } from '../testing/any-edit';
import type { Project, Sound } from '../project/schema';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { heardSources, recipeId } from './recipe';
import { takeDraws } from './take-draws';

const { project } = projectWith({ crunch: mono(noise(4_800)), grain: mono(noise(2_400, 2)) });
const id = project.sounds[0]!.id;
const layer = project.sounds[0]!.layers[0]!;
const sound = (p: Project): Sound => p.sounds[0]!;

describe('the recipe id', () => {
  it('changes with what is heard and not with names', () => {
    const base = recipeId(sound(project), project);
    expect(recipeId(sound(edited(project, 'renameLayer', { sound: id, layer: layer.id, name: 'Other' })), project)).toBe(base);
    expect(recipeId(sound(edited(project, 'setValues', { sound: id, values: { 'sound/gain': -1 }, label: '' })), project)).not.toBe(base);
    expect(heardSources(sound(project), project).map(({ name }) => name)).toEqual(['crunch', 'grain']);
  });

  it('changes with the tempo exactly where something counts beats', () => {
    const idAt = (p: Project, bpm: number): string => recipeId(sound(edited(p, 'setTempo', { sound: id, tempo: { bpm } })), project);
    expect(idAt(project, 90)).toBe(idAt(project, 120));
    const tide = edited(project, 'addMover', { sound: id, kind: 'tide', name: 'Swell' });
    const mover = sound(tide).movers[0]!.id;
    const inBeats = edited(tide, 'setMover', { sound: id, mover, settings: { unit: 'beats' } });
    expect(idAt(inBeats, 90)).not.toBe(idAt(inBeats, 120));
    const delayed = edited(project, 'addEffect', { sound: id, owner: 'sound', effect: 'delay' });
    const note = `sound/chain/${sound(delayed).chain[0]!.id}/note`;
    expect(idAt(delayed, 90)).toBe(idAt(delayed, 120));
    const inNotes = edited(delayed, 'setValues', { sound: id, values: { [note]: '1/8' }, label: '' });
    expect(idAt(inNotes, 90)).not.toBe(idAt(inNotes, 120));
  });

  it('changes with the layout and with the recordings that are used', () => {
    const base = recipeId(sound(project), project);
    expect(recipeId({ ...sound(project), layout: '5.1' }, project)).not.toBe(base);
    const [first, ...others] = project.sources;
    const other = { ...project, sources: [{ ...first!, audio: 'f'.repeat(64) }, ...others] };
    expect(recipeId(sound(project), other)).not.toBe(base);
  });
});

describe('a recipe’s id', () => {
  it('is the same however the keys of the document lie: as they were edited, as they were read, or the other way round', () => {
    const turned = (value: unknown): unknown => {
      if (Array.isArray(value)) return value.map(turned);
      if (typeof value !== 'object' || value === null) return value;
      return Object.fromEntries(
        Object.entries(value)
          .reverse()
          .map(([key, item]) => [key, turned(item)]),
      );
    };
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(999), fc.nat(49), fc.double({ min: 0, max: 0.999, noNaN: true })), { minLength: 20, maxLength: 40 }),
        (edits) => {
          let history = startHistory(projectWith({ Wind: mono(noise(4_800, 1)), Crack: mono(noise(2_400, 2)) }).project);
          for (const [kind, pick, amount] of edits) history = anyEdit(history, kind, pick, amount);
          const made = history.project;
          const read = parseProject(turned(JSON.parse(JSON.stringify(made))), effectCatalogue);
          expect(read.sounds.map((sound) => recipeId(sound, read))).toEqual(made.sounds.map((sound) => recipeId(sound, made)));
        },
      ),
      {
        numRuns: 30,
        // A pin next to the clip's beginning, then a chop: a slice had no content, and the project did not open again.
        examples: [
          [
            [
              [876, 0, 0],
              [452, 4, 5e-324],
              [992, 0, 0],
              [477, 21, 0],
              [192, 0, 0],
              [826, 31, 0],
            ],
          ],
        ],
      },
    );
  });

  it('is the same where powers differ in their last digit, as they do from engine to engine', () => {
    const filtered = edited(project, 'addEffect', { sound: id, owner: 'sound', effect: 'filter' });
    const address = `sound/chain/${sound(filtered).chain[0]!.id}/frequency`;
    const idWith = (nudge: number): string => {
      const power = Math.pow;
      const spy = jest.spyOn(Math, 'pow').mockImplementation((base, exponent) => power(base, exponent) * (1 + nudge));
      const sibling = takeDraws(sound(filtered), { [address]: 3.7 }, effectCatalogue);
      spy.mockRestore();
      return recipeId(sibling, filtered);
    };
    expect(idWith(Number.EPSILON)).toBe(idWith(0));
    expect(idWith(1e-6)).not.toBe(idWith(0));
  });
});
