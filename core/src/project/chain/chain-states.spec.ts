import { effectCatalogue } from '../../catalogue';
import { edited, projectWith } from '../../testing/project';
import { mono, noise } from '../../testing/signals';
import { standsAs } from './chain-states';
import { stepsOf } from './chain-tree';
import { parseProject } from '../parse';
import type { Project } from '../schema';

const { project: start } = projectWith({ wind: mono(noise(4_800)) });
const sound = start.sounds[0]!.id;
const layer = start.sounds[0]!.layers[0]!.id;
const place = { sound, owner: { layer } };
const layerOf = (project: Project) => project.sounds[0]!.layers[0]!;

/** A filter, and a host with a trim in its first lane. */
function started() {
  let project = edited(start, 'addEffect', { ...place, effect: 'filter' });
  project = edited(project, 'addEffect', { ...place, effect: 'side-by-side' });
  const branch = layerOf(project).chain[1]!.branches![0]!.id;
  project = edited(project, 'addEffect', { ...place, branch, effect: 'trim' });
  const [filter, , trim] = stepsOf(layerOf(project).chain).map(({ id }) => id) as [string, string, string];
  const turn = (from: Project, values: Record<string, number | string>): Project =>
    edited(from, 'setValues', {
      sound,
      values: Object.fromEntries(Object.entries(values).map(([key, value]) => [`layer/${layer}/${key}`, value])),
      label: 'Turn',
    });
  return { project, filter, trim, branch, turn };
}

describe('states of a chain', () => {
  it('bring back every value, every switch and every fader, also within hosts', () => {
    const { project, filter, trim, branch, turn } = started();
    const kept = edited(project, 'keepState', { ...place, state: 'A' });
    let changed = turn(kept, {
      [`chain/${filter}/frequency`]: 200,
      [`chain/${trim}/gain`]: -9,
      [`branch/${branch}/pan`]: 0.5,
      [`chain/${trim}/mix`]: 0.2,
    });
    changed = edited(changed, 'switchEffect', { ...place, step: filter, enabled: false });
    changed = edited(changed, 'setBranch', { ...place, branch, changes: { muted: true } });
    expect(standsAs(layerOf(changed), layerOf(changed).states!.A!, effectCatalogue)).toBe(false);
    const back = edited(changed, 'recallState', { ...place, state: 'A' });
    expect(standsAs(layerOf(back), layerOf(back).states!.A!, effectCatalogue)).toBe(true);
    const [first, second] = layerOf(back).chain;
    expect(first).toMatchObject({ enabled: true, parameters: { frequency: 1_200 } });
    expect(second!.branches![0]).toMatchObject({ muted: false, pan: 0, chain: [{ mix: 1, parameters: { gain: 0 } }] });
    expect(parseProject(JSON.parse(JSON.stringify(back)), effectCatalogue)).toEqual(back);
  });

  it('bring back steps that were removed, where they were and as they were, also within hosts', () => {
    const { project, filter, trim, branch, turn } = started();
    let changed = turn(project, { [`chain/${filter}/frequency`]: 200, [`chain/${trim}/gain`]: -9 });
    const kept = edited(changed, 'keepState', { ...place, state: 'A' });
    changed = edited(kept, 'removeEffect', { ...place, step: trim });
    changed = edited(changed, 'removeEffect', { ...place, step: filter });
    expect(layerOf(changed).chain).toHaveLength(1);
    expect(standsAs(layerOf(changed), layerOf(changed).states!.A!, effectCatalogue)).toBe(false);
    changed = edited(changed, 'keepState', { ...place, state: 'B' });
    expect(parseProject(JSON.parse(JSON.stringify(changed)), effectCatalogue)).toEqual(changed);
    const back = edited(changed, 'recallState', { ...place, state: 'A' });
    expect(layerOf(back).chain).toEqual(layerOf(kept).chain);
    expect(standsAs(layerOf(back), layerOf(back).states!.A!, effectCatalogue)).toBe(true);
    expect(layerOf(back).aside).toBeUndefined();
    // In the other state they are there, but off.
    const other = edited(back, 'recallState', { ...place, state: 'B' });
    expect(stepsOf(layerOf(other).chain).filter(({ enabled }) => !enabled)).toHaveLength(2);
    // Between both, they fade in.
    const between = edited(changed, 'morphStates', { ...place, from: 'B', to: 'A', share: 0.25 });
    expect(stepsOf(layerOf(between).chain).find(({ id }) => id === trim)).toMatchObject({ enabled: true, mix: 0.25 });
    // A copy has its own; nothing in it shares an id with the original.
    const copied = edited(changed, 'duplicateLayer', { sound, layer });
    const copy = copied.sounds[0]!.layers.at(-1)!;
    const recalled = edited(copied, 'recallState', { sound, owner: { layer: copy.id }, state: 'A' });
    const copiedSteps = stepsOf(recalled.sounds[0]!.layers.at(-1)!.chain);
    expect(copiedSteps.map(({ effect }) => effect)).toEqual(stepsOf(layerOf(kept).chain).map(({ effect }) => effect));
    expect(copiedSteps.some(({ id }) => [filter, trim].includes(id))).toBe(false);
    expect(copiedSteps.at(-1)).toMatchObject({ effect: 'trim', parameters: { gain: -9 } });
    expect(recalled.sounds[0]!.layers.at(-1)!.chain[1]!.branches![0]!.id).not.toBe(branch);
  });

  it('bring back the whole chain that a saved one or a template has taken the place of', () => {
    const { project } = started();
    const steps = [{ effect: 'tilt', enabled: true, mix: 1, parameters: {} }];
    let changed = edited(project, 'saveTemplate', { sound, layer, name: 'Wind' });
    changed = edited(changed, 'keepState', { ...place, state: 'A' });
    const kept = layerOf(changed).chain;
    const replaced = [
      edited(changed, 'setChain', { ...place, name: 'Brighter', steps }),
      edited(changed, 'applyTemplate', { sound, layer, template: changed.templates[0]!.id }),
    ];
    for (const other of replaced) {
      const back = edited(edited(other, 'keepState', { ...place, state: 'B' }), 'recallState', { ...place, state: 'A' });
      expect(layerOf(back).chain.slice(0, kept.length)).toEqual(kept);
      expect(
        layerOf(back)
          .chain.slice(kept.length)
          .every(({ enabled }) => !enabled),
      ).toBe(true);
      expect(parseProject(JSON.parse(JSON.stringify(back)), effectCatalogue)).toEqual(back);
    }
  });

  it('let removed steps go once no state has them on', () => {
    const { project, filter, trim } = started();
    const never = edited(project, 'removeEffect', { ...place, step: filter });
    expect(layerOf(never).aside).toBeUndefined();
    const kept = edited(project, 'keepState', { ...place, state: 'A' });
    const removed = edited(kept, 'removeEffect', { ...place, step: trim });
    expect(layerOf(removed).aside).toHaveLength(1);
    expect(layerOf(edited(removed, 'keepState', { ...place, state: 'A' })).aside).toBeUndefined();
    expect(layerOf(edited(removed, 'forgetState', { ...place, state: 'A' })).aside).toBeUndefined();
    const off = edited(edited(project, 'switchEffect', { ...place, step: trim, enabled: false }), 'keepState', { ...place, state: 'A' });
    expect(layerOf(edited(off, 'removeEffect', { ...place, step: trim })).aside).toBeUndefined();
  });

  it('morph along the range of each value, and switch what cannot morph halfway', () => {
    const { project, filter, trim, turn } = started();
    let kept = turn(project, { [`chain/${filter}/frequency`]: 100, [`chain/${trim}/gain`]: -20, [`chain/${filter}/kind`]: 'low pass' });
    kept = edited(kept, 'keepState', { ...place, state: 'A' });
    kept = turn(kept, { [`chain/${filter}/frequency`]: 1_600, [`chain/${trim}/gain`]: 0, [`chain/${filter}/kind`]: 'notch' });
    kept = edited(kept, 'keepState', { ...place, state: 'B' });
    const at = (share: number) => {
      const morphed = edited(kept, 'morphStates', { ...place, from: 'A', to: 'B', share });
      const [first, , inner] = stepsOf(layerOf(morphed).chain);
      return {
        frequency: Number(first!.parameters['frequency']),
        kind: first!.parameters['kind'],
        gain: Number(inner!.parameters['gain']),
      };
    };
    expect(at(0)).toEqual({ frequency: 100, kind: 'low pass', gain: -20 });
    // Two octaves of four, and half of the decibels.
    expect(at(0.5).frequency).toBeCloseTo(400, 6);
    expect(at(0.5).gain).toBeCloseTo(-10, 6);
    expect(at(0.49).kind).toBe('low pass');
    expect(at(0.51).kind).toBe('notch');
    expect(at(1)).toEqual({ frequency: 1_600, kind: 'notch', gain: 0 });
  });

  it('fade in what is on in only one of them', () => {
    const { project, filter, turn } = started();
    let kept = edited(project, 'keepState', { ...place, state: 'A' });
    kept = edited(kept, 'addEffect', { ...place, effect: 'drive' });
    const drive = layerOf(kept).chain[2]!.id;
    kept = turn(kept, { [`chain/${drive}/mix`]: 0.8, [`chain/${drive}/drive`]: 20 });
    kept = edited(kept, 'switchEffect', { ...place, step: filter, enabled: false });
    kept = edited(kept, 'keepState', { ...place, state: 'B' });
    const at = (share: number) => {
      const { chain } = layerOf(edited(kept, 'morphStates', { ...place, from: 'A', to: 'B', share }));
      return [chain[0]!, chain[2]!].map(({ enabled, mix, parameters }) => ({ enabled, mix, drive: parameters['drive'] }));
    };
    expect(at(0)).toEqual([
      { enabled: true, mix: 1, drive: undefined },
      { enabled: false, mix: 0.8, drive: 20 },
    ]);
    expect(at(0.25)).toEqual([
      { enabled: true, mix: 0.75, drive: undefined },
      { enabled: true, mix: 0.2, drive: 20 },
    ]);
    expect(at(1)).toEqual([
      { enabled: false, mix: 1, drive: undefined },
      { enabled: true, mix: 0.8, drive: 20 },
    ]);
  });

  it('go with copies, say when nothing is kept, and have steps off that came later', () => {
    const { project, filter, turn } = started();
    expect(() => edited(project, 'recallState', { ...place, state: 'C' })).toThrow('Nothing is kept as C');
    let kept = edited(project, 'keepState', { ...place, state: 'C' });
    kept = edited(kept, 'addEffect', { ...place, effect: 'drive' });
    kept = turn(kept, { [`chain/${filter}/frequency`]: 500, [`chain/${layerOf(kept).chain[2]!.id}/drive`]: 30 });
    const used = edited(kept, 'recallState', { ...place, state: 'C' });
    expect(layerOf(used).chain[0]!.parameters['frequency']).toBe(1_200);
    expect(layerOf(used).chain[2]).toMatchObject({ enabled: false, parameters: { drive: 30 } });
    expect(standsAs(layerOf(kept), layerOf(kept).states!.C!, effectCatalogue)).toBe(false);
    expect(standsAs(layerOf(used), layerOf(used).states!.C!, effectCatalogue)).toBe(true);
    const copied = edited(kept, 'duplicateLayer', { sound, layer }).sounds[0]!.layers[1]!;
    const back = edited(edited(kept, 'duplicateLayer', { sound, layer }), 'recallState', {
      sound,
      owner: { layer: copied.id },
      state: 'C',
    });
    expect(back.sounds[0]!.layers[1]!.chain[0]!.parameters['frequency']).toBe(1_200);
    expect(edited(kept, 'forgetState', { ...place, state: 'C' }).sounds[0]!.layers[0]!.states).toEqual({});
  });
});
