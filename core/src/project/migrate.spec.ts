import { effectCatalogue } from '../catalogue';
import { make } from '../testing/any-edit';
import { projectWith } from '../testing/project';
import { mono, noise } from '../testing/signals';
import { startingDistance } from './game/create-behaviour';
import { startHistory } from './history';
import { parseProject } from './parse';
import type { Project } from './schema';
import { documentVersion } from './schema';

const newInTwo = ['tempo', 'clock', 'overlaps', 'reversed', 'locked', 'regions', 'cues'];
const newInThree = ['sends', 'buses', 'soloing', 'automation', 'templates'];
const newInFour = ['stretch', 'pitch', 'presets', 'movers', 'pulls'];
const newInSix = ['layout'];

/** A project as it was when it had one delivery, of the sound that was looked at. */
function withHandOff({ deliveries, ...project }: Project): Omit<Project, 'deliveries'> & { handOff: object } {
  const { original, kept, sampleRate, encoding, channels, tail, length, trim, template } = deliveries[0]!;
  return { ...project, handOff: { original, kept, sampleRate, encoding, channels, tail, length, trim, template } };
}

/** A project without what its version did not know yet. */
function olderVersion(project: Project, version: number, unknown: readonly string[]): Record<string, unknown> {
  const plain = JSON.parse(JSON.stringify(withHandOff(project)), (key, value: unknown) =>
    // Other things have kinds too; that of sources is new in version 6.
    unknown.includes(key) || (key === 'kind' && value === 'recording') ? undefined : value,
  ) as Record<string, unknown>;
  return { ...plain, version };
}

function versionOne(): Record<string, unknown> {
  return olderVersion(projectWith({ 'Ice crack': mono(noise(4_800)) }).project, 1, [...newInTwo, ...newInThree, ...newInFour, ...newInSix]);
}

describe('documents of older versions', () => {
  it('are brought up to date, and sound as they did', () => {
    const project = parseProject(versionOne(), effectCatalogue);
    expect(project.version).toBe(documentVersion);
    const [layer] = project.sounds[0]!.layers;
    // Overlapping clips were summed then.
    expect(layer!.overlaps).toBe('sum');
    expect(layer!.clips[0]).toMatchObject({ reversed: false, locked: false, start: 0 });
    expect(project.sounds[0]!.tempo.bpm).toBe(120);
  });

  it('keep what they printed, with recipes that open as they were', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    const [source] = project.sources;
    const recipe = project.sounds[0]!;
    const origin = { ...source!.origin, print: { part: 'whole sound', recipe, sources: [] } };
    const printed = { ...project, sources: [{ ...source!, origin }] };
    const opened = parseProject(olderVersion(printed, 2, [...newInThree, ...newInFour, ...newInSix]), effectCatalogue);
    expect(opened.version).toBe(documentVersion);
    expect(opened).toEqual(printed);
  });

  it('of version 4, which knew neither hosts nor references, are read as they are', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    expect(parseProject(olderVersion(project, 4, newInSix), effectCatalogue)).toEqual(project);
  });

  it('of version 7, whose reference was seated all along the sound, have a guide instead', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    const source = project.sources[0]!.id;
    const before = { ...withHandOff(project), version: 7, sounds: [{ ...project.sounds[0]!, reference: source }] };
    const guide = { source, start: 0, gain: 0, on: true, repeats: true };
    expect(parseProject(before, effectCatalogue)).toEqual({ ...project, sounds: [{ ...project.sounds[0]!, guide }] });
    expect(parseProject({ ...withHandOff(project), version: 7 }, effectCatalogue)).toEqual(project);
    const lost = { ...project, sounds: [{ ...project.sounds[0]!, guide: { ...guide, source: 'gone' } }] };
    expect(() => parseProject(lost, effectCatalogue)).toThrow('sounds[0].guide');
  });

  it('of version 8, whose clips could only be played at another speed, keep their speed curves', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    const sound = project.sounds[0]!;
    const [layer, ...others] = sound.layers;
    const withClip = (clip: object): object => ({ ...sound, layers: [{ ...layer!, clips: [clip] }, ...others] });
    const { formant: _f, keepFormants: _k, method: _m, wear: _w, grain: _g, attack: _a, ...old } = layer!.clips[0]!;
    const sounds = [withClip({ ...old, stretch: 1, pitch: 0, speedCurve: [{ at: 0.01, semitones: -7 }] })];
    const origin = { ...project.sources[0]!.origin, print: { part: 'whole sound', recipe: sounds[0]!, sources: [] } };
    const before = {
      ...withHandOff(project),
      version: 8,
      sounds,
      sources: [{ ...project.sources[0]!, origin }, ...project.sources.slice(1)],
    };
    const now = parseProject(before, effectCatalogue);
    const wanted = { ...layer!.clips[0]!, curves: { speed: [{ at: 0.01, value: -7 }] } };
    expect(now.sounds[0]!.layers[0]!.clips[0]).toEqual(wanted);
    expect(now.sources[0]!.origin.print!.recipe.layers[0]!.clips[0]).toEqual(wanted);
  });

  it('of version 13, which had one delivery, keep what it asked for', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    const old = withHandOff(project);
    const asked = { ...old.handOff, encoding: '16', channels: 'mono', tail: 'fixed length', length: 2, template: '{sound}' };
    const [delivery, ...others] = parseProject({ ...old, version: 13, handOff: asked }, effectCatalogue).deliveries;
    expect(others).toEqual([]);
    expect(delivery).toEqual({ ...project.deliveries[0]!, ...asked });
    expect(() => parseProject({ ...old, version: 13, handOff: { ...asked, encoding: '17' } }, effectCatalogue)).toThrow(
      'deliveries[0].encoding',
    );
  });

  it('of version 15, whose numbers began at 1 with two digits, keep their names', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    const deliveries = project.deliveries.map(({ firstNumber: _from, digits: _digits, ...old }) => old);
    expect(parseProject({ ...project, version: 15, deliveries }, effectCatalogue).deliveries).toEqual(project.deliveries);
    expect(project.deliveries[0]).toMatchObject({ firstNumber: 1, digits: 2 });
  });

  it('of version 16, whose buses of a game had neither cuts nor rooms, are heard as before', () => {
    const { project } = projectWith({ 'Ice crack': mono(noise(4_800)) });
    let history = make(startHistory(project), 'addGamePart', { part: 'buses', name: 'Outside' });
    history = make(history, 'addBehaviour', { kind: 'stack', name: 'Ice' });
    const { id } = history.project.conduct.behaviours[0]!;
    history = make(history, 'setBehaviour', { behaviour: id, label: 'Distance', change: { distance: startingDistance } });
    const { conduct } = history.project;
    const [{ lowCut, highCut, ...bus }, { distance, ...behaviour }] = [conduct.buses[0]!, conduct.behaviours[0]!];
    const { curve, roomNear, roomFar, ...before } = distance!;
    const old = {
      ...history.project,
      version: 16,
      conduct: { ...conduct, buses: [bus], behaviours: [{ ...behaviour, distance: before }] },
    };
    expect([lowCut, highCut, curve, roomNear, roomFar]).toEqual([20, 20_000, [], 0, 0]);
    expect(parseProject(old, effectCatalogue).conduct).toEqual(conduct);
  });

  it('are refused with the place when they are damaged', () => {
    expect(() => parseProject({ ...versionOne(), sounds: [{ layers: 3 }] }, effectCatalogue)).toThrow('sounds');
    expect(() => parseProject({ ...versionOne(), version: documentVersion + 1 }, effectCatalogue)).toThrow('reads versions 1 to');
  });
});
