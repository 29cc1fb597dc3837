import { effectCatalogue } from '../../catalogue';
import { siblingSound } from '../../kin/take-draws';
import { renderSound } from '../../render/render-sound';
import { renderContext } from '../../render/library';
import { edited, projectWith } from '../../testing/project';
import { mono, noise, residual, sine } from '../../testing/signals';
import { hashText } from '../../formats/hash';
import { parseProject } from '../parse';
import type { Project, Sound } from '../schema';

const rate = 48_000;
const recordings = { Boom: mono(sine(90, 0.4, rate, -12)), Grit: mono(noise(0.4 * rate, 3, -18)), Air: mono(noise(0.3 * rate, 5, -24)) };
const library = new Map(Object.entries(recordings).map(([name, audio]) => [hashText(name), audio]));

/** Three layers: two in a group that sends to a shared bus, one that listens to another; a tide, a lane, a sway and a kept sibling. */
function bench(): { project: Project; sound: string; layers: readonly [string, string, string] } {
  let { project } = projectWith(recordings);
  const sound = project.sounds[0]!.id;
  const layers = project.sounds[0]!.layers.map(({ id }) => id) as [string, string, string];
  const [boom, grit, air] = layers;
  const now = (): Sound => project.sounds[0]!;
  project = edited(project, 'groupLayers', { sound, layers: [boom, grit], name: 'Ice' });
  project = edited(project, 'addSharedBus', { sound, name: 'Hall' });
  const [group, hall] = now().buses.map(({ id }) => id) as [string, string];
  project = edited(project, 'setSend', { sound, owner: { bus: group }, bus: hall, on: true });
  project = edited(project, 'addEffect', { sound, owner: { bus: hall }, effect: 'delay' });
  project = edited(project, 'addEffect', { sound, owner: { layer: air }, effect: 'ducker' });
  const ducker = now().layers[2]!.chain[0]!.id;
  project = edited(project, 'setValues', { sound, values: { [`layer/${air}/chain/${ducker}/key`]: `layer/${boom}` }, label: 'Key' });
  project = edited(project, 'addEffect', { sound, owner: { layer: grit }, effect: 'bands' });
  const branch = now().layers[1]!.chain[0]!.branches![0]!.id;
  project = edited(project, 'addMover', { sound, kind: 'tide', name: 'Swell' });
  project = edited(project, 'setPull', { sound, mover: now().movers[0]!.id, address: `layer/${grit}/gain`, depth: -6 });
  project = edited(project, 'addAutomation', { sound, address: `layer/${grit}/branch/${branch}/gain` });
  project = edited(project, 'setSway', {
    sound,
    sway: { kind: 'range', address: `layer/${boom}/gain`, low: -6, high: -3, locked: false },
    label: 'Sway',
  });
  project = edited(project, 'setFamily', { sound, size: 2 });
  project = edited(project, 'judgeSibling', { sound, index: 1, state: 'kept', draws: { [`layer/${boom}/gain`]: -5 } });
  project = edited(project, 'addMarks', { sound, marks: [{ name: 'Crack', time: 0.1 }] });
  return { project, sound, layers };
}

const heard = (project: Project, sound: Sound): Float32Array =>
  renderSound(sound, renderContext(project, library), { tail: 'ring out' }).channels[0]!;
const isValid = (project: Project): void => void parseProject(JSON.parse(JSON.stringify(project)), effectCatalogue);

describe('duplicating a sound', () => {
  it('makes one that sounds alike, has the same family and marks, and shares nothing', () => {
    const { project, sound } = bench();
    const after = edited(project, 'duplicateSound', { sound });
    isValid(after);
    const [original, copy] = after.sounds as [Sound, Sound];
    expect(copy.name).toBe('Slab test copy');
    expect(copy.marks.map(({ name, time }) => [name, time])).toEqual([['Crack', 0.1]]);
    expect(residual(heard(after, original), heard(after, copy))).toBeLessThan(-140);
    const kept = (of: Sound): Float32Array => heard(after, siblingSound(of, 1, effectCatalogue));
    expect(residual(kept(original), kept(copy))).toBeLessThan(-140);
    const changed = edited(after, 'removeLayer', { sound: copy.id, layer: copy.layers[0]!.id });
    expect(changed.sounds[0]).toEqual(original);
  });
});

describe('pasting layers', () => {
  it('into an empty sound takes along what they go through and what moves them', () => {
    const { project, layers } = bench();
    const empty = edited(project, 'addSound', { name: 'Elsewhere' });
    const copied = { from: empty.sounds[0]!, layers };
    const after = edited(empty, 'pasteLayers', { sound: empty.sounds[1]!.id, copied });
    isValid(after);
    const [original, pasted] = after.sounds as [Sound, Sound];
    expect(residual(heard(after, original), heard(after, pasted))).toBeLessThan(-140);
    expect(pasted.buses.map(({ name }) => name)).toEqual(['Ice', 'Hall']);
    expect(pasted.movers.map(({ name }) => name)).toEqual(['Swell']);
    expect([pasted.pulls.length, pasted.automation.length, pasted.family.sways.length]).toEqual([1, 1, 1]);
    expect(original).toEqual(empty.sounds[0]);
  });

  it('lets go of what they listen to and is not there', () => {
    const { project, layers } = bench();
    const empty = edited(project, 'addSound', { name: 'Elsewhere' });
    const copied = { from: empty.sounds[0]!, layers: [layers[2]] };
    const after = edited(empty, 'pasteLayers', { sound: empty.sounds[1]!.id, copied });
    isValid(after);
    expect(after.sounds[1]!.layers[0]!.chain[0]!.parameters['key']).toBe('');
    expect(after.sounds[1]!.buses).toEqual([]);
  });

  it('within their sound keeps their group, buses and movers, and puts them behind a layer', () => {
    const { project, sound, layers } = bench();
    const copied = { from: project.sounds[0]!, layers: [layers[1]] };
    const after = edited(project, 'pasteLayers', { sound, copied, behind: layers[0] });
    isValid(after);
    const now = after.sounds[0]!;
    expect(now.layers.map(({ name }) => name)).toEqual(['Boom', 'Grit copy', 'Grit', 'Air']);
    expect(now.layers[1]!.group).toBe(now.layers[0]!.group);
    expect(now.buses).toHaveLength(2);
    expect(now.pulls.map(({ mover }) => mover)).toEqual([now.movers[0]!.id, now.movers[0]!.id]);
    expect(after.sounds[0]!.movers).toHaveLength(1);
  });

  it('refuses layers whose sources are not in the project', () => {
    const { project, layers } = bench();
    const other = projectWith({ Else: mono(noise(100)) }).project;
    const copied = { from: { ...project.sounds[0]!, id: 'another' }, layers };
    const strange = {
      ...copied,
      from: {
        ...copied.from,
        layers: copied.from.layers.map((layer) => ({ ...layer, clips: layer.clips.map((clip) => ({ ...clip, source: 'source-999' })) })),
      },
    };
    expect(() => edited(other, 'pasteLayers', { sound: other.sounds[0]!.id, copied: strange })).toThrow('not in this project');
  });
});

describe('pasting steps', () => {
  it('into another chain takes their lanes, pulls and sways along', () => {
    const { project, sound, layers } = bench();
    const [, grit, air] = layers;
    const steps = project.sounds[0]!.layers[1]!.chain;
    const copied = { from: project.sounds[0]!, owner: { layer: grit }, steps };
    const after = edited(project, 'pasteSteps', { sound, owner: { layer: air }, copied, index: 0 });
    isValid(after);
    const now = after.sounds[0]!;
    expect(now.layers[2]!.chain.map(({ effect }) => effect)).toEqual(['bands', 'ducker']);
    const branch = now.layers[2]!.chain[0]!.branches![0]!.id;
    expect(now.automation.map(({ address }) => address)).toContain(`layer/${air}/branch/${branch}/gain`);
    const again = edited(after, 'pasteSteps', { sound, owner: 'sound', copied });
    isValid(again);
    expect(again.sounds[0]!.chain.map(({ effect }) => effect)).toEqual(['bands']);
  });
});
