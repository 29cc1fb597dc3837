import { createEnvironmentInjector, EnvironmentInjector } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { createProject, createRandom, writeWav } from '@tangled-choir/core';
import type { Project } from '@tangled-choir/core';
import { metersOf } from '../testing/meters';
import { JobPool } from './engine/job-pool';
import { LiveEngine } from './engine/live/live-engine';
import { AudioLibrary } from './engine/audio-library';
import { Deliveries } from './state/deliveries.store';
import { LandingFinder } from './loft/arrange/landing-finder';
import { openProjectProviders } from './open-project';
import { ClosingProjects } from './state/project/closing-projects';
import { DocumentStore } from './state/project/document.store';
import { FamilyRenders } from './state/family-renders.store';
import { Freezing } from './state/freezing.store';
import { Judging } from './state/judging.store';
import { LecternPanel } from './state/lectern-panel.store';
import { Notices } from './state/notices';
import { Playback } from './state/playback.store';
import { Printing } from './state/printing';
import { ProjectLock } from './state/project/project-lock';
import { ProjectTransfer } from './state/project/project-transfer.store';
import { ReferenceSpectrum } from './state/reference-spectrum.store';
import { SeatingChart } from './state/seating-chart.store';
import { SpectrumMatch } from './state/spectrum-match.store';
import { WorkbenchStore } from './state/workbench.store';
import { ProjectRepository } from './storage/project-repository';
import { AskSettings } from './ui/settings-dialog';

const random = createRandom(5);
const wavOf = (seconds: number): Blob => {
  const channels = [Float32Array.from({ length: seconds * 48_000 }, () => random.next() - 0.5)];
  return new Blob([writeWav({ sampleRate: 48_000, channels }, { encoding: '16' })]);
};
const files = { crack: wavOf(0.5), groan: wavOf(0.75) };
const file = (name: string, content: Blob) => ({ path: `${name}.wav`, file: new File([content], `${name}.wav`) });

/** What a person has open: the services of one project. */
type Open = EnvironmentInjector;

describe('an open project', () => {
  let errors: string[];
  let told: string[];

  beforeEach(() => {
    [errors, told] = [[], []];
    const notices = { error: (text: string) => errors.push(text), info: (text: string) => told.push(text) };
    TestBed.configureTestingModule({ providers: [{ provide: Notices, useValue: notices }] });
  });

  async function open(id: string): Promise<Open> {
    const scope = createEnvironmentInjector(openProjectProviders, TestBed.inject(EnvironmentInjector));
    expect(await scope.get(DocumentStore).open(id)).toBe(true);
    for (const service of [Playback, Judging, Freezing, FamilyRenders, SeatingChart]) scope.get<unknown>(service);
    TestBed.tick();
    return scope;
  }

  async function close(scope: Open): Promise<void> {
    scope.destroy();
    await TestBed.inject(ClosingProjects).finished();
  }

  /** Jobs and what waits for them are done. */
  async function settled(): Promise<void> {
    for (let quiet = 0, i = 0; quiet < 5 && i < 400; i++) {
      quiet = TestBed.inject(JobPool).busy() > 0 ? 0 : quiet + 1;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    await TestBed.inject(ClosingProjects).finished();
  }

  /** Two projects made by the same steps, so that all ids in one are ids in the other, with different recordings. */
  async function twins(): Promise<[Open, string]> {
    for (const [id, content] of [
      ['one', files.crack],
      ['two', files.groan],
    ] as const) {
      await TestBed.inject(ProjectRepository).save({ project: createProject(id, id), past: [], future: [] });
      const scope = await open(id);
      const document = scope.get(DocumentStore);
      await scope.get(ProjectTransfer).importFiles([file('ice', content)]);
      document.edit('addSound', { name: 'Slab' });
      const sound = document.project()!.sounds[0]!.id;
      document.edit('addLayer', { sound, source: document.project()!.sources[0]!.id, start: 0 });
      document.edit('addEffect', { sound, owner: 'sound', effect: 'drawn-eq' });
      const address = `layer/${document.project()!.sounds[0]!.layers[0]!.id}/gain`;
      document.edit('setSway', { sound, sway: { kind: 'range', address, low: -6, high: 0, locked: false }, label: 'Sway' });
      document.edit('setFamily', { sound, size: 4 });
      await scope.get(AudioLibrary).loadAll(document.project()!, document.project()!.sounds);
      await settled();
      await close(scope);
    }
    const one = await open('one');
    await one.get(AudioLibrary).loadAll(projectOf(one), projectOf(one).sounds);
    return [one, 'two'];
  }

  const projectOf = (scope: Open): Project => scope.get(DocumentStore).project()!;
  const storedHashes = async (): Promise<unknown[]> => (await TestBed.inject(ProjectRepository).audioHashes()).slice().sort();

  const ask = (): void => {
    jest.spyOn(TestBed.inject(AskSettings), 'ask').mockResolvedValue({ takes: 3, as: 'separate sources', gap: 0.1 });
  };

  const actions: [string, (scope: Open) => unknown][] = [
    ['an import', (scope) => scope.get(ProjectTransfer).importFiles([file('late', wavOf(2)), file('later', wavOf(1))])],
    [
      'another recording in the place of one',
      (scope) => scope.get(ProjectTransfer).relink(projectOf(scope).sources[0]!.id, file('new', wavOf(1)).file),
    ],
    ['a take', (scope) => scope.get(ProjectTransfer).storeTake({ sampleRate: 48_000, channels: [new Float32Array(48_000)] }, 'Take', 0)],
    ['a cut', (scope) => scope.get(ProjectTransfer).cutParts(projectOf(scope).sources[0]!, [{ name: 'Part', from: 0, to: 0.1 }], 'all')],
    ['a print of layers', (scope) => scope.get(Printing).printLayers(projectOf(scope).sounds[0]!.layers)],
    ['a print of the sound', (scope) => scope.get(Printing).printInPlace()],
    ['a print of the sound as one more layer', (scope) => scope.get(Printing).printSound('layer')],
    [
      'printed takes',
      (scope) => {
        ask();
        return scope.get(Printing).printTakes(projectOf(scope).sounds[0]!.layers[0]!);
      },
    ],
    ['pre-flight', (scope) => scope.get(Deliveries).check()],
    ['a delivery', (scope) => scope.get(Deliveries).deliver(() => Promise.resolve(true))],
    [
      'renders of a family',
      (scope) => {
        scope.get(FamilyRenders).watch(true);
        TestBed.tick();
      },
    ],
    [
      'a seating chart',
      (scope) => {
        scope.get(LecternPanel).show('seating');
        TestBed.tick();
      },
    ],
    ['a reference spectrum', (scope) => scope.get(ReferenceSpectrum).choose(projectOf(scope).sources[0]!.id)],
    [
      'a match of spectra',
      (scope) => scope.get(SpectrumMatch).levels(projectOf(scope).sounds[0]!.chain[0]!.id, projectOf(scope).sources[0]!.id),
    ],
    [
      'freezing',
      (scope) => {
        const engine = scope.get(LiveEngine);
        engine.playing.set('sound');
        const now = jest.spyOn(performance, 'now');
        const loads = new Map([[`layer/${projectOf(scope).sounds[0]!.layers[0]!.id}`, 0.9]]);
        for (let i = 1; i < 6; i++) {
          now.mockReturnValue(1e6 + i * 2_000);
          engine.meters.set(metersOf({ loads }));
          TestBed.tick();
        }
        now.mockRestore();
      },
    ],
    [
      'a search for landing points',
      (scope) => {
        const [layer] = projectOf(scope).sounds[0]!.layers;
        return scope.get(LandingFinder).best(layer!.clips[0]!, layer!);
      },
    ],
  ];

  it.each(actions)('that is closed takes %s with it; another with the same ids gets nothing of it', async (_, start) => {
    const [one, id] = await twins();
    const before = { one: projectOf(one) };
    // Whatever becomes of it: nobody waits for it any more.
    const running = Promise.resolve(start(one)).catch(() => undefined);
    await new Promise((resolve) => setTimeout(resolve));
    one.destroy();
    const two = await open(id);
    const project = projectOf(two);
    await running;
    await settled();
    TestBed.tick();

    expect(projectOf(two)).toBe(project);
    expect(two.get(ProjectTransfer).arriving()).toEqual([]);
    expect(two.get(FamilyRenders).finished().size).toBe(0);
    expect(two.get(Freezing).playable().size).toBe(0);
    expect(two.get(SeatingChart).measured()).toBeUndefined();
    expect(two.get(ReferenceSpectrum).levels()).toBeUndefined();
    expect(two.get(Deliveries).checked()).toBeUndefined();
    expect(two.get(AudioLibrary).missing().size).toBe(0);
    // What was begun in the first came to nothing there too, and no recording is left without a project.
    const stored = (await TestBed.inject(ProjectRepository).load('one'))!.project;
    expect(stored).toEqual(before.one);
    const mentioned = [stored, project].flatMap(({ sources }) => sources.map(({ audio }) => audio));
    expect(await storedHashes()).toEqual(mentioned.sort());
    expect(errors).toEqual([]);
    await close(two);
  });

  it('that is closed says that an import was stopped', async () => {
    const [one] = await twins();
    const importing = one.get(ProjectTransfer).importFiles([file('late', wavOf(2))]);
    await close(one);
    await importing;
    expect(told).toEqual(['Importing “late.wav” was stopped, because the project was closed.']);
  });

  it('has a clipboard, a position and a comparison of its own', async () => {
    const [one, id] = await twins();
    const [layer] = projectOf(one).sounds[0]!.layers;
    one.get(WorkbenchStore).setClipboard({ kind: 'clips', clips: [{ clip: layer!.clips[0]!, layer: layer!.id }] });
    one.get(Playback).seek(0.2);
    one.get(Playback).setLoopRange({ from: 0.1, to: 0.2 });
    one.get(Judging).remember();
    await close(one);
    const two = await open(id);
    expect(two.get(WorkbenchStore).clipboard()).toBeUndefined();
    expect(two.get(Playback).playhead()).toBe(0);
    expect(two.get(Playback).loopRange()).toBeUndefined();
    expect(two.get(Judging).otherSide()).toBeUndefined();
    await close(two);
  });

  it('cannot be changed any more by whoever still holds it', async () => {
    const [one] = await twins();
    const document = one.get(DocumentStore);
    await close(one);
    expect(document.edit('renameProject', { name: 'Ghost' })).toBe(false);
    document.undo();
    await document.flush();
    expect((await TestBed.inject(ProjectRepository).load('one'))!.project.name).toBe('one');
    expect(errors).toEqual([]);
  });

  it('that is closed while it is being opened keeps nobody else from writing it', async () => {
    const [one, id] = await twins();
    await close(one);
    const scope = createEnvironmentInjector(openProjectProviders, TestBed.inject(EnvironmentInjector));
    const lock = scope.get(ProjectLock);
    let held = (): void => undefined;
    jest.spyOn(lock, 'hold').mockReturnValue(new Promise((resolve) => (held = resolve)));
    const letGo = jest.spyOn(lock, 'letGo');
    const opening = scope.get(DocumentStore).open(id);
    await new Promise((resolve) => setTimeout(resolve, 10));
    await close(scope);
    const before = letGo.mock.calls.length;
    held();
    expect(await opening).toBe(false);
    expect(letGo.mock.calls.length).toBeGreaterThan(before);
  });

  it('is opened again as it was left, however quickly', async () => {
    const [one] = await twins();
    one.get(DocumentStore).edit('renameProject', { name: 'Late change' });
    one.destroy();
    const again = await open('one');
    expect(projectOf(again).name).toBe('Late change');
    await close(again);
  });
});
