import { effectCatalogue } from '../catalogue';
import { createProject } from '../project/create';
import type { EditArguments, EditName } from '../project/edits';
import { editNamed } from '../project/edits';
import { EditError } from '../project/edits/edit';
import { applyEdit, startHistory, undo } from '../project/history';
import { parseProject } from '../project/parse';
import { renderContext } from '../render/library';
import { renderSound } from '../render/render-sound';
import { amplitudeAt, firstDifference } from '../testing/signals';
import { partWith, patchWith } from '../testing/synthesis';
import { patchPresets } from './presets';
import { reinsOver } from './patch-reins';

const sampleRate = 48_000;
const context = renderContext({ sampleRate, sources: [] }, { get: () => undefined });
const notes = [{ start: 0, length: 0.5, pitch: 69, strength: 1 }];

class Bench {
  history = startHistory(createProject('p', 'Halda Station'));

  constructor(patch: EditArguments<'addMadeLayer'>['patch'], reins = reinsOver(patch, 'Call')) {
    this.edit('addSound', { name: 'Beacon' });
    this.edit('addMadeLayer', { sound: this.sound.id, start: 0, length: 0.6, notes, name: 'Call', role: 'Motion', patch, reins });
  }

  edit<N extends EditName>(name: N, args: EditArguments<N>): void {
    this.history = applyEdit(this.history, editNamed(name), args, effectCatalogue);
  }

  get sound() {
    return this.history.project.sounds[0]!;
  }

  turn(what: string, value: number): void {
    const rein = this.sound.movers.find(({ name }) => name === `Call: ${what}`)!;
    this.edit('setValues', { sound: this.sound.id, values: { [`rein/${rein.id}/value`]: value }, label: 'Rein' });
  }

  render(): Float32Array {
    return renderSound(this.sound, context, { tail: 'ring out' }).channels[0]!;
  }
}

const sine = patchWith([partWith('tone', 'oscillator', { sustain: 1, strengthLevel: 0, release: 0.1 })]);
const level = (samples: Float32Array, hertz: number): number => amplitudeAt(samples, hertz, sampleRate, 4_800, 19_200);

describe('reins over a patch', () => {
  it('leave every preset as it is while they are in their middle', () => {
    for (const { patch } of patchPresets) {
      const reins = reinsOver(patch, 'Call');
      expect(reins.length).toBeGreaterThan(0);
      const plain = new Bench(patch, []).render();
      expect(firstDifference([plain], [new Bench(patch, reins).render()])).toBe('');
    }
  });

  it('tune by an octave to both ends', () => {
    const bench = new Bench(sine);
    expect(level(bench.render(), 440)).toBeCloseTo(1, 2);
    bench.turn('height', 1);
    expect(level(bench.render(), 880)).toBeCloseTo(1, 2);
    bench.turn('height', 0);
    expect(level(bench.render(), 220)).toBeCloseTo(1, 2);
    bench.turn('height', 0.75);
    expect(level(bench.render(), 440 * Math.SQRT2)).toBeCloseTo(1, 2);
  });

  it('lengthen and shorten by four fifths', () => {
    const bench = new Bench(sine);
    // A note of half a second and the release behind it; what is too quiet to be heard is cut.
    const end = (): number => bench.render().findLastIndex((sample) => sample !== 0) / sampleRate;
    bench.turn('length', 1);
    expect(end()).toBeGreaterThan(0.5 + 0.9 * 0.18);
    expect(end()).toBeLessThanOrEqual(0.5 + 0.18 + 0.01);
    bench.turn('length', 0);
    expect(end()).toBeLessThanOrEqual(0.5 + 0.02 + 0.01);
  });

  it('find nothing to pull where a patch has no light', () => {
    expect(reinsOver(sine, 'Call').map(({ name }) => name)).toEqual(['Call: height', 'Call: length']);
  });

  it('light up a patch whose parts move each other’s phases', () => {
    const silent = partWith('mover', 'oscillator', { level: -96, sustain: 1, strengthLevel: 0 });
    const bench = new Bench(
      patchWith([partWith('tone', 'oscillator', { sustain: 1, strengthLevel: 0 }, [{ part: 'mover', amount: 1 }]), silent]),
    );
    // Of a tone that is moved at its own frequency by b radians, the second harmonic grows nearly as J1(b).
    const second = (): number => level(bench.render(), 880);
    const middle = second();
    bench.turn('light', 1);
    expect(second()).toBeGreaterThan(1.2 * middle);
    bench.turn('light', 0);
    expect(second()).toBeLessThan(0.4 * middle);
  });

  it('come and go with one step, and survive their file', () => {
    const bench = new Bench(sine);
    expect(bench.history.past).toHaveLength(2);
    const { project } = bench.history;
    expect(parseProject(JSON.parse(JSON.stringify(project)), effectCatalogue)).toEqual(project);
  });

  it('go with the layer that they pull, and come back with it; one that is drawn stays', () => {
    const bench = new Bench(sine);
    const layer = bench.sound.layers[0]!.id;
    const [height] = bench.sound.movers;
    bench.edit('addAutomation', { sound: bench.sound.id, address: `rein/${height!.id}/value` });
    const before = bench.history;
    bench.edit('removeLayer', { sound: bench.sound.id, layer });
    expect(bench.sound.movers.map(({ name }) => name)).toEqual(['Call: height']);
    expect(bench.sound.pulls).toEqual([]);
    expect(undo(bench.history).project).toEqual(before.project);
  });

  it('are refused where a sound has no room for them, with nothing changed', () => {
    const bench = new Bench(sine);
    for (let i = bench.sound.movers.length; i < 199; i++) bench.edit('addMover', { sound: bench.sound.id, kind: 'walk', name: 'Drift' });
    const before = bench.history;
    const args = { sound: bench.sound.id, start: 0, length: 1, notes, name: 'Call', role: 'Motion', patch: sine } as const;
    expect(() => bench.edit('addMadeLayer', { ...args, reins: reinsOver(sine, 'Call') })).toThrow(EditError);
    expect(bench.history).toBe(before);
    bench.edit('addMadeLayer', args);
  });
});
