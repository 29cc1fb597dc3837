import fc from 'fast-check';
import { effectCatalogue } from '../catalogue';
import { anyEdit, make, possibleEdits } from '../testing/any-edit';
import { createRandom } from '../dsp/random';
import { projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { createProject } from './create';
import type { Edit } from './edits';
import { EditError, edits } from './edits';
import type { History } from './history';
import { applyEdit, redo, startHistory, undo } from './history';
import { parseProject } from './parse';
import type { Project } from './schema';

const { project: start } = projectWith({ 'Ridge wind': mono(noise(48_000)), 'Ice crack': mono(noise(9_600)) });

const step = fc.tuple(fc.nat(1_000), fc.nat(50), fc.double({ min: 0, max: 1, noNaN: true }));

describe('undo and redo', () => {
  it('are tried with every edit that there is', () => {
    const tried = new Set<string>();
    const random = createRandom(4);
    let history = startHistory(start);
    const all = Object.keys(edits);
    for (let i = 0; i < 4_000 && tried.size < all.length; i++) {
      const [pick, amount] = [Math.floor(random.next() * 50), random.next()];
      if (history.project.sounds.length > 0) for (const name of possibleEdits(history, pick, amount)) tried.add(name);
      // What takes everything away would leave nothing to try the rest with.
      const next = anyEdit(history, Math.floor(random.next() * 1_000), pick, amount);
      if (next.project.sounds.some(({ layers }) => layers.length > 0)) history = next;
    }
    expect(all.filter((name) => !tried.has(name))).toEqual([]);
  });

  it('restore the document exactly after any actions, and every document on the way is valid', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 25 }), (steps) => {
        let history = startHistory(start);
        const seen: Project[] = [start];
        for (const [kind, pick, amount] of steps) {
          const before = history;
          history = anyEdit(history, kind, pick, amount);
          if (history !== before) seen.push(history.project);
          parseProject(JSON.parse(JSON.stringify(history.project)), effectCatalogue);
        }
        const last = history.project;
        for (let i = seen.length - 1; i > 0; i--) {
          expect(history.project).toEqual(seen[i]);
          history = undo(history);
        }
        expect(history.project).toEqual(start);
        for (let i = 1; i < seen.length; i++) history = redo(history);
        expect(history.project).toEqual(last);
      }),
      { numRuns: 250, seed: 21 },
    );
  });

  it('make one step of one gesture', () => {
    const clip = start.sounds[0]!.layers[0]!.clips[0]!.id;
    const sound = start.sounds[0]!.id;
    let history = startHistory(start);
    for (let i = 1; i <= 50; i++) history = make(history, 'moveClips', { sound, to: [{ clip, start: i / 10 }] }, 'drag 1');
    expect(history.past).toHaveLength(1);
    expect(history.past[0]!.forward).toHaveLength(1);
    expect(history.past[0]!.label).toBe('Move “Ridge wind”');
    history = make(history, 'moveClips', { sound, to: [{ clip, start: 9 }] }, 'drag 2');
    expect(history.past).toHaveLength(2);
    expect(undo(undo(history)).project).toEqual(start);
    expect(redo(redo(undo(undo(history)))).project).toEqual(history.project);
  });

  it('join a gesture in which something is changed within what was replaced as a whole', () => {
    const setBpm: Edit<number> = { label: () => 'Tempo', apply: (draft, bpm) => void (draft.sounds[0]!.tempo.bpm = bpm) };
    const setTempo: Edit<number> = {
      label: () => 'Tempo',
      apply: (draft, bpm) => void (draft.sounds[0]!.tempo = { bpm, beats: 3, offset: 1 }),
    };
    const drag = (history: History, edit: Edit<number>, bpm: number) => applyEdit(history, edit, bpm, effectCatalogue, 'drag');
    const history = drag(drag(drag(startHistory(start), setBpm, 90), setTempo, 100), setBpm, 99);
    expect(history.past).toHaveLength(1);
    expect(undo(history).project).toEqual(start);
    expect(redo(undo(history)).project).toEqual(history.project);
    expect(history.project.sounds[0]!.tempo).toEqual({ bpm: 99, beats: 3, offset: 1 });
  });

  it('name the step after the effect as people know it', () => {
    const history = make(startHistory(start), 'addEffect', { sound: start.sounds[0]!.id, owner: 'sound', effect: 'eq' });
    expect(history.past[0]!.label).toBe('Add EQ to “Slab test”');
  });

  it('forget what was undone when something new is done', () => {
    const history = make(undo(make(startHistory(start), 'addSound', { name: 'A' })), 'addSound', { name: 'B' });
    expect(history.future).toEqual([]);
    expect(redo(history)).toBe(history);
  });

  it('leave no step for an edit that changes nothing, nor for one that fails', () => {
    const history = startHistory(start);
    expect(make(history, 'renameProject', { name: start.name })).toBe(history);
    expect(() => make(history, 'renameProject', { name: '  ' })).toThrow(EditError);
    expect(() => make(history, 'removeClips', { sound: 'x', clips: ['y'] })).toThrow('There is no sound “x”');
  });
});

describe('edits', () => {
  const sound = start.sounds[0]!.id;
  const clip = start.sounds[0]!.layers[0]!.clips[0]!;

  it('moving a clip to another layer takes its sways along', () => {
    const [from, to] = start.sounds[0]!.layers;
    let history = make(startHistory(start), 'setSway', {
      sound,
      sway: { kind: 'range', address: `layer/${from!.id}/clip/${clip.id}/gain`, low: -1, high: 1, locked: false },
      label: 'Sway',
    });
    history = make(history, 'moveClips', { sound, to: [{ clip: clip.id, start: 1, layer: to!.id }] });
    expect(history.project.sounds[0]!.layers[1]!.clips.map((each) => each.id)).toContain(clip.id);
    expect(history.project.sounds[0]!.family.sways[0]!.address).toBe(`layer/${to!.id}/clip/${clip.id}/gain`);
  });

  it('a used source stays, an unused one goes', () => {
    const history = startHistory(start);
    const source = start.sources[0]!.id;
    expect(() => make(history, 'removeSources', { sources: [source] })).toThrow('is used in “Slab test”');
    const without = make(history, 'removeSound', { sound });
    expect(make(without, 'removeSources', { sources: [source] }).project.sources).toHaveLength(1);
  });

  it('names with quotes, slashes, emoji and line breaks are kept as one line', () => {
    const renamed = make(startHistory(start), 'renameSound', { sound, name: ' “a/b” 🧊\n<c> ' });
    expect(renamed.project.sounds[0]!.name).toBe('“a/b” 🧊 <c>');
    expect(() => make(startHistory(start), 'renameSound', { sound, name: 'x'.repeat(301) })).toThrow('301 characters');
  });

  it('values are fitted into their range and refused where there is no property', () => {
    const layer = start.sounds[0]!.layers[0]!.id;
    const history = make(startHistory(start), 'setValues', { sound, values: { [`layer/${layer}/gain`]: 900 }, label: 'Gain' });
    expect(history.project.sounds[0]!.layers[0]!.gain).toBe(36);
    expect(() => make(history, 'setValues', { sound, values: { 'layer/none/gain': 1 }, label: 'x' })).toThrow('leads to no property');
    expect(() => make(history, 'setValues', { sound, values: { [`layer/${layer}/__proto__`]: 1 }, label: 'x' })).toThrow(
      'leads to no property',
    );
  });

  it('an empty project has everything it needs', () => {
    expect(parseProject(createProject('a', 'Halda'), effectCatalogue).sounds).toEqual([]);
  });
});
