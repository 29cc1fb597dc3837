import { effectCatalogue } from '../effects';
import { edited, projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { standsAs } from './chain-states';
import { stepsOf } from './chain-tree';
import { parseProject } from './parse';
import type { Project } from './schema';

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
    expect(standsAs(layerOf(changed).chain, layerOf(changed).states!.A!, effectCatalogue)).toBe(false);
    const back = edited(changed, 'recallState', { ...place, state: 'A' });
    expect(standsAs(layerOf(back).chain, layerOf(back).states!.A!, effectCatalogue)).toBe(true);
    const [first, second] = layerOf(back).chain;
    expect(first).toMatchObject({ enabled: true, parameters: { frequency: 1_200 } });
    expect(second!.branches![0]).toMatchObject({ muted: false, pan: 0, chain: [{ mix: 1, parameters: { gain: 0 } }] });
    expect(parseProject(JSON.parse(JSON.stringify(back)), effectCatalogue)).toEqual(back);
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

  it('go with copies, say when nothing is kept, and leave steps alone that came later', () => {
    const { project, filter, turn } = started();
    expect(() => edited(project, 'recallState', { ...place, state: 'C' })).toThrow('Nothing is kept as C');
    let kept = edited(project, 'keepState', { ...place, state: 'C' });
    kept = edited(kept, 'addEffect', { ...place, effect: 'drive' });
    kept = turn(kept, { [`chain/${filter}/frequency`]: 500, [`chain/${layerOf(kept).chain[2]!.id}/drive`]: 30 });
    const used = edited(kept, 'recallState', { ...place, state: 'C' });
    expect(layerOf(used).chain[0]!.parameters['frequency']).toBe(1_200);
    expect(layerOf(used).chain[2]!.parameters['drive']).toBe(30);
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
