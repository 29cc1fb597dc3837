import { TestBed } from '@angular/core/testing';
import { configureStores, openProject, shownErrors, shownInfos } from '../../testing/project';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { ProjectRepository } from '../storage/project-repository';
import { StorageFull } from '../storage/storage-full';
import { AskSettings } from '../ui/settings-dialog';
import type { DocumentStore } from './project/document.store';
import { Playback } from './playback.store';
import { Printing } from './printing';
import { ProjectLock } from './project/project-lock';

describe('printing from the Loft', () => {
  let store: InstanceType<typeof DocumentStore>;
  let printing: Printing;

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    printing = TestBed.inject(Printing);
  });

  const sound = () => store.project()!.sounds[0]!;
  const sources = () => store.project()!.sources;
  const names = (): string[] => sound().layers.map((layer) => layer.name);

  it('puts a printed layer in the place of the live one, as one step', async () => {
    const before = store.project();
    await printing.printLayers([sound().layers[1]!]);
    expect(names()).toEqual(['slab knock', 'snow grain print']);
    expect(sources().at(-1)!.origin.print!.recipe.layers[0]!.name).toBe('snow grain');
    // Its audio is kept, and there to be heard.
    expect(await TestBed.inject(ProjectRepository).loadAudio(sources().at(-1)!.audio)).toBeDefined();
    expect(TestBed.inject(AudioLibrary).audio(sources().at(-1)!.audio)).toBeDefined();
    store.undo();
    expect(store.project()!.sounds).toEqual(before!.sounds);
    expect(store.project()!.sources).toEqual(before!.sources);
  });

  it('leaves out what is muted when several are printed', async () => {
    store.edit('muteLayer', { sound: sound().id, layer: sound().layers[0]!.id, muted: true });
    await printing.printLayers(sound().layers);
    expect(names()).toEqual(['slab knock', 'snow grain print']);
  });

  it('says what cannot be printed before it renders anything, and tells when there is no room', async () => {
    store.edit('addSharedBus', { sound: sound().id, name: 'Hall' });
    const bus = sound().buses[0]!.id;
    store.edit('setSend', { sound: sound().id, owner: { layer: sound().layers[0]!.id }, bus, on: true });
    const run = jest.spyOn(TestBed.inject(ProjectJobs), 'run');
    await printing.printLayers(sound().layers);
    expect(shownErrors).toEqual([expect.stringContaining('different groups or sends')]);
    expect(run).not.toHaveBeenCalled();
    jest.spyOn(TestBed.inject(ProjectRepository), 'saveAudio').mockRejectedValueOnce(new StorageFull());
    await printing.printLayers([sound().layers[1]!]);
    expect(shownErrors[1]).toContain('storage is full');
    expect(names()).toEqual(['slab knock', 'snow grain']);
  });

  it('prints a group into one layer that keeps its place among the others', async () => {
    store.edit('groupLayers', { sound: sound().id, layers: [sound().layers[1]!.id], name: 'Snow' });
    await printing.printGroup(sound().buses[0]!);
    expect(names()).toEqual(['slab knock', 'Snow print']);
    expect(sound().buses).toEqual([]);
  });

  it('prints the whole sound into one layer', async () => {
    store.edit('setValues', { sound: sound().id, values: { 'sound/gain': -6 }, label: 'Gain' });
    await printing.printInPlace();
    expect(names()).toEqual(['Slab print']);
    expect(sound().gain).toBe(0);
  });

  it('adds a print of the whole sound, and takes nothing away', async () => {
    store.edit('setValues', { sound: sound().id, values: { 'sound/gain': -6 }, label: 'Gain' });
    store.edit('solo', { sound: sound().id, owner: { layer: sound().layers[0]!.id }, soloed: true });
    const before = sound();
    await printing.printSound('source');
    expect(sound()).toEqual(before);
    expect(sources().at(-1)!.name).toBe('Slab print');
    await printing.printSound('layer');
    expect(sound()).toEqual({ ...before, layers: [...before.layers, sound().layers.at(-1)] });
    expect(sound().layers.at(-1)).toMatchObject({ name: 'Slab print', muted: true });
    // A solo takes nothing out of a print, and that is said.
    expect(sources().at(-1)!.origin.print!.recipe.layers).toHaveLength(2);
    expect(shownInfos.at(-1)).toContain('holds everything that is not muted');
  });

  it('prints a stretch as a source and leaves the layers', async () => {
    await printing.printRange();
    expect(shownErrors).toEqual(['Drag over the ruler first, to choose a stretch; what lies in it is printed.']);
    TestBed.inject(Playback).setLoopRange({ from: 0.25, to: 0.75 });
    await printing.printRange();
    expect(names()).toEqual(['slab knock', 'snow grain']);
    expect(sources().at(-1)).toMatchObject({ name: 'Slab 0.25–0.75 s', frames: 24_000 });
  });

  it('asks for sways before it prints takes, then prints as many as asked for', async () => {
    const layer = sound().layers[1]!;
    await printing.printTakes(layer);
    expect(shownErrors.at(-1)).toMatch(/“snow grain” has no sways/);
    const address = `layer/${layer.id}/clip/${layer.clips[0]!.id}/speed`;
    store.edit('setSway', { sound: sound().id, sway: { kind: 'range', address, low: -4, high: 4, locked: false }, label: 'Sway' });
    const ask = jest.spyOn(TestBed.inject(AskSettings), 'ask');
    ask.mockResolvedValueOnce({ takes: 3, as: 'separate sources', gap: 0.1 });
    await printing.printTakes(layer);
    const takes = sources().slice(-3);
    expect(takes.map(({ name }) => name)).toEqual(['snow grain take 01', 'snow grain take 02', 'snow grain take 03']);
    ask.mockResolvedValueOnce({ takes: 3, as: 'one source, end to end', gap: 0.1 });
    await printing.printTakes(layer);
    expect(sources().at(-1)!.name).toBe('snow grain × 3');
    expect(sources().at(-1)!.frames).toBe(takes.reduce((sum, { frames }) => sum + frames, 0) + 2 * 4_800);
  });

  it('does not print a recording that is missing as silence', async () => {
    const library = TestBed.inject(AudioLibrary);
    jest.spyOn(library, 'load').mockRejectedValueOnce(new Error('The audio of “snow grain” is not in this browser’s storage.'));
    const before = store.project();
    await printing.printLayers([sound().layers[1]!]);
    expect(shownErrors.at(-1)).toMatch(/“snow grain” is not in this browser/);
    expect(store.project()).toBe(before);
  });

  it('changes nothing while another tab writes the project', async () => {
    TestBed.inject(ProjectLock).readOnly.set(true);
    const before = store.project();
    await printing.printLayers([sound().layers[1]!]);
    expect(shownErrors.at(-1)).toMatch(/Another tab writes this project/);
    expect(store.project()).toBe(before);
    TestBed.inject(ProjectLock).readOnly.set(false);
  });
});
