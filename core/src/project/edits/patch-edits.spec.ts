import { effectCatalogue } from '../../catalogue';
import { patchPresets } from '../../synthesis/presets';
import { edited, projectWith } from '../../testing/project';
import { mono, noise } from '../../testing/signals';
import { partWith, patchWith } from '../../testing/synthesis';
import { parseProject } from '../parse';
import { heardNotes } from '../patch/clip-notes';
import type { Clip, Project } from '../schema';
import { EditError } from './edit';
import type { EditArguments, EditName } from '.';

/** A project with a recording on a layer and a made layer of some parts. */
class Bench {
  project: Project;

  constructor(patch = patchWith([partWith('part-1', 'oscillator'), partWith('part-12', 'oscillator'), partWith('c', 'noise')])) {
    this.project = projectWith({ Crack: mono(noise(4_800)) }).project;
    this.do('addMadeLayer', { sound: this.sound.id, start: 0, length: 1, name: 'Tone', role: 'Body', patch, notes: [] });
  }

  do<N extends EditName>(name: N, args: EditArguments<N>): void {
    this.project = edited(this.project, name, args);
  }

  get sound() {
    return this.project.sounds[0]!;
  }

  get layer() {
    return this.sound.layers[1]!;
  }

  get at() {
    return { sound: this.sound.id, layer: this.layer.id };
  }

  get patch() {
    return this.layer.patch!;
  }
}

describe('edits of patches', () => {
  it('take away modulation of one part without touching one whose id begins alike', () => {
    const bench = new Bench();
    for (const from of ['part-1', 'part-12']) {
      bench.do('setModulation', { ...bench.at, part: 'part-1', from, amount: 2 });
      bench.do('addAutomation', { sound: bench.sound.id, address: `layer/${bench.layer.id}/part/part-1/from/${from}` });
    }
    bench.do('setModulation', { ...bench.at, part: 'part-1', from: 'part-1', amount: 0 });
    expect(bench.patch.parts[0]!.from).toEqual([{ part: 'part-12', amount: 2 }]);
    expect(bench.sound.automation.map(({ address }) => address)).toEqual([`layer/${bench.layer.id}/part/part-1/from/part-12`]);
    bench.do('removePart', { ...bench.at, part: 'part-12' });
    expect(bench.patch.parts[0]!.from).toEqual([]);
    expect(bench.sound.automation).toEqual([]);
  });

  it('keep curves to what they can move, and forget what is gone', () => {
    const bench = new Bench();
    bench.do('addCurve', bench.at);
    const curve = bench.patch.curves[0]!.id;
    bench.do('setCurvePull', { ...bench.at, curve, part: 'c', parameter: 'density', depth: 12 });
    expect(() => bench.do('setCurvePull', { ...bench.at, curve, part: 'c', parameter: 'texture', depth: 1 })).toThrow(EditError);
    expect(() => bench.do('setCurvePull', { ...bench.at, curve, part: 'part-1', parameter: 'stack', depth: 1 })).toThrow(/cannot move/);
    bench.do('removePart', { ...bench.at, part: 'c' });
    expect(bench.patch.curves[0]!.pulls).toEqual([]);
    expect(() => bench.do('setCurve', { ...bench.at, curve, changes: { points: [] } })).toThrow('A curve needs a point.');
  });

  it('hold their limits: sixteen parts, eight curves', () => {
    const bench = new Bench(patchWith([]));
    for (let i = 0; i < 16; i++) bench.do('addPart', { ...bench.at, kind: 'noise' });
    expect(() => bench.do('addPart', { ...bench.at, kind: 'noise' })).toThrow('A patch has 16 parts at most.');
    for (let i = 0; i < 8; i++) bench.do('addCurve', bench.at);
    expect(() => bench.do('addCurve', bench.at)).toThrow('A patch has 8 curves at most.');
    expect(parseProject(JSON.parse(JSON.stringify(bench.project)), effectCatalogue)).toEqual(bench.project);
  });

  it('keep notes and recordings apart', () => {
    const bench = new Bench();
    const source = bench.project.sources[0]!.id;
    const [recorded, made] = bench.sound.layers;
    expect(() => bench.do('addClip', { sound: bench.sound.id, layer: made!.id, source, start: 0 })).toThrow(/made from notes/);
    expect(() =>
      bench.do('moveClips', { sound: bench.sound.id, to: [{ clip: recorded!.clips[0]!.id, start: 0, layer: made!.id }] }),
    ).toThrow(/made from notes/);
    expect(() =>
      bench.do('moveClips', { sound: bench.sound.id, to: [{ clip: made!.clips[0]!.id, start: 0, layer: recorded!.id }] }),
    ).toThrow(/notes need a made layer/);
    expect(() => bench.do('addNotes', { sound: bench.sound.id, clip: recorded!.clips[0]!.id, notes: [] })).toThrow(/has no notes/);
    expect(() => bench.do('addPart', { sound: bench.sound.id, layer: recorded!.id, kind: 'noise' })).toThrow(/has no patch/);
  });

  it('lose sources that are not here, and hold those that are', () => {
    const bench = new Bench(patchWith([partWith('a', 'grains', { source: 'source/source-999' })]));
    expect(bench.patch.parts[0]!.parameters['source']).toBe('');
    const source = bench.project.sources[0]!.id;
    bench.do('setValues', {
      sound: bench.sound.id,
      values: { [`layer/${bench.layer.id}/part/a/source`]: `source/${source}` },
      label: 'Source',
    });
    bench.do('removeLayer', { sound: bench.sound.id, layer: bench.sound.layers[0]!.id });
    expect(() => bench.do('removeSources', { sources: [source] })).toThrow(EditError);
  });

  it('put fitted notes in order and make their clip long enough', () => {
    const bench = new Bench();
    const clip = bench.layer.clips[0]!.id;
    const notes = [
      { start: 3, length: 1, pitch: 500, strength: 7 },
      { start: 0.5, length: Number.NaN, pitch: 60, strength: -1 },
    ];
    bench.do('addNotes', { sound: bench.sound.id, clip, notes });
    expect(bench.layer.clips[0]!.notes!.map(({ start, length, pitch, strength }) => [start, length, pitch, strength])).toEqual([
      [0.5, 0, 60, 0],
      [3, 1, 144, 1],
    ]);
    expect(bench.layer.clips[0]!.length).toBe(4);
  });

  it('keep recorded notes where they were heard: in the clips that they begin in, the rest around themselves', () => {
    const bench = new Bench();
    const clip = (): Clip => bench.layer.clips[0]!;
    // Twice as fast, and a second in.
    bench.do('moveClips', { sound: bench.sound.id, to: [{ clip: clip().id, start: 1 }] });
    bench.do('setValues', { sound: bench.sound.id, values: { [`layer/${bench.layer.id}/clip/${clip().id}/speed`]: 12 }, label: 'Speed' });
    const taken = [
      { start: 1.1, end: 1.2, pitch: 72, strength: 0.5 },
      { start: 1.45, end: 1.7, pitch: 60, strength: 1 },
      { start: 3, end: 3.25, pitch: 64, strength: 0.25 },
      { start: 2.5, end: 2.75, pitch: 65, strength: 0.75 },
    ];
    bench.do('recordNotes', { ...bench.at, notes: taken });
    expect(bench.layer.clips).toHaveLength(2);
    expect(clip().notes?.map(({ start, pitch }) => [start, pitch])).toEqual([
      [expect.closeTo(0.2, 6), 60],
      [expect.closeTo(0.9, 6), 48],
    ]);
    const heard = bench.layer.clips.flatMap(heardNotes).sort((a, b) => a.start - b.start);
    for (const [i, note] of [taken[0]!, taken[1]!, taken[3]!, taken[2]!].entries()) {
      expect(heard[i]!.start).toBeCloseTo(note.start, 6);
      expect(heard[i]!.end).toBeCloseTo(note.end, 6);
      expect(heard[i]).toMatchObject({ pitch: note.pitch, strength: note.strength });
    }
    expect(bench.layer.clips[1]).toMatchObject({ start: 2.5, length: 0.75 });
    // A locked clip takes nothing.
    bench.do('lockClips', { sound: bench.sound.id, clips: [clip().id], locked: true });
    bench.do('recordNotes', { ...bench.at, notes: [taken[0]!] });
    expect(bench.layer.clips).toHaveLength(3);
    expect(() => parseProject(bench.project, effectCatalogue)).not.toThrow();
  });

  it('say what does not fit in a document from outside', () => {
    const bench = new Bench(patchPresets[0]!.patch);
    const broken = (change: (project: Project) => void): (() => Project) => {
      const copy = JSON.parse(JSON.stringify(bench.project)) as Project;
      change(copy);
      return () => parseProject(copy, effectCatalogue);
    };
    const layer = (project: Project) => project.sounds[0]!.layers[1]!;
    expect(broken((project) => (layer(project).patch!.parts[0]!.kind = 'kazoo'))).toThrow(
      /patch\.parts\[0\]: there is no kind of part “kazoo”/,
    );
    expect(broken((project) => layer(project).patch!.parts[0]!.from.push({ part: 'nobody', amount: 1 }))).toThrow(
      /there is no part “nobody”/,
    );
    expect(broken((project) => delete layer(project).patch)).toThrow(/notes lie on layers with a patch/);
    expect(broken((project) => delete layer(project).clips[0]!.notes)).toThrow(/either a source or notes/);
  });
});
