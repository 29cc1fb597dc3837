import { TestBed } from '@angular/core/testing';
import type { FrozenLayer } from '@tangled-choir/core';
import { metersOf } from '../../testing/meters';
import { configureStores, openProject, shownErrors } from '../../testing/project';
import { ProjectJobs } from '../engine/project-jobs';
import { LiveEngine } from '../engine/live/live-engine';
import type { JobInput, JobName } from '@tangled-choir/jobs';
import { JobPool } from '../engine/job-pool';
import type { DocumentStore } from './project/document.store';
import { Freezing } from './freezing.store';
import { Judging } from './judging.store';
import { WorkbenchStore } from './workbench.store';

describe('freezing', () => {
  let store: InstanceType<typeof DocumentStore>;
  let freezing: Freezing;
  let now: number;
  let light: string;
  let heavy: string;

  async function jobsEnd(): Promise<void> {
    for (let i = 0; i < 200 && (i < 3 || TestBed.inject(JobPool).busy() > 0); i++) await new Promise((resolve) => setTimeout(resolve, 20));
  }

  /** Half a second after the other, so many reports of the same loads. */
  function report(loads: Record<string, number>, reports: number): void {
    for (let i = 0; i < reports; i++) {
      now += 500;
      TestBed.inject(LiveEngine).meters.set(metersOf({ loads: new Map(Object.entries(loads)) }));
      TestBed.tick();
    }
  }

  async function play(loads: Record<string, number>, reports = 1): Promise<void> {
    report(loads, reports);
    await jobsEnd();
    await Promise.resolve();
    TestBed.tick();
  }

  beforeEach(async () => {
    configureStores();
    store = await openProject();
    [light, heavy] = store.project()!.sounds[0]!.layers.map(({ id }) => id) as [string, string];
    now = 10_000;
    jest.spyOn(performance, 'now').mockImplementation(() => now);
    freezing = TestBed.inject(Freezing);
    TestBed.tick();
    await jobsEnd();
    TestBed.inject(LiveEngine).playing.set('sound');
  });
  afterEach(() => jest.restoreAllMocks());

  const loads = (): Record<string, number> => ({ [`layer/${light}`]: 0.2, [`layer/${heavy}`]: 0.55, sound: 0.02 });

  it('leaves everything live while the sound is light enough, and right after an edit', async () => {
    await play({ [`layer/${light}`]: 0.1, [`layer/${heavy}`]: 0.4 }, 5);
    expect(freezing.playable().size).toBe(0);
    store.edit('renameLayer', { sound: store.project()!.sounds[0]!.id, layer: heavy, name: 'Gale' });
    TestBed.tick();
    await play(loads());
    expect(freezing.playable().size).toBe(0);
  });

  it('takes single bursts, and for a while what jobs do to a small machine, for nothing', async () => {
    for (let i = 0; i < 4; i++) {
      await play(loads());
      await play({ [`layer/${light}`]: 0.1, [`layer/${heavy}`]: 0.2 });
    }
    expect(freezing.playable().size).toBe(0);
    const run = jest.spyOn(TestBed.inject(ProjectJobs), 'run');
    const busy = jest.spyOn(TestBed.inject(JobPool), 'busy').mockReturnValue(1);
    report(loads(), 5);
    expect(run).not.toHaveBeenCalled();
    // Jobs may go on for an hour.
    report(loads(), 20);
    busy.mockRestore();
    await jobsEnd();
    TestBed.tick();
    expect(run).toHaveBeenCalledTimes(1);
    expect(freezing.playable().size).toBe(1);
  });

  it('freezes the heaviest layer and tells what it took; a change of it thaws it, a change of its fader does not', async () => {
    await play(loads(), 5);
    expect([...freezing.playable().keys()]).toEqual([heavy]);
    const frozen: FrozenLayer = freezing.playable().get(heavy)!;
    // A quarter of a second of the source.
    expect(frozen.channels[0]!.length).toBe(12_000);
    expect(freezing.loadOf(heavy)).toBe(0.55);
    expect(freezing.loadOf(light)).toBeUndefined();
    const sound = store.project()!.sounds[0]!.id;
    store.edit('setValues', { sound, values: { [`layer/${heavy}/gain`]: -9 }, label: 'Gain' });
    expect([...freezing.playable().keys()]).toEqual([heavy]);
    store.edit('addEffect', { sound, owner: { layer: heavy }, effect: 'chorus' });
    expect(freezing.playable().size).toBe(0);
    // Back to what it was: still good.
    store.undo();
    expect(freezing.playable().get(heavy)).toBe(frozen);
  });

  it('plays a layer live while somebody listens to a part of its chain', async () => {
    await play(loads(), 5);
    expect(freezing.playable().size).toBe(1);
    TestBed.inject(WorkbenchStore).selectLayer(heavy);
    const judging = TestBed.inject(Judging);
    judging.listen({ step: 'step', what: 'change' });
    expect(freezing.playable().size).toBe(0);
    judging.listen(undefined);
    expect(freezing.playable().size).toBe(1);
  });

  it('leaves a layer live that somebody wants so', async () => {
    await play(loads(), 5);
    freezing.keepLive(heavy);
    expect(freezing.playable().size).toBe(0);
    await play(loads(), 5);
    expect(freezing.playable().has(heavy)).toBe(false);
    expect([...freezing.playable().keys()]).toEqual([light]);
  });

  it('tries what failed no second time, and says why once', async () => {
    const run = jest.spyOn(TestBed.inject(ProjectJobs), 'run').mockRejectedValue(new Error('Out of memory.'));
    await play({ [`layer/${light}`]: 0.01, [`layer/${heavy}`]: 0.8 }, 4);
    await play({ [`layer/${light}`]: 0.01, [`layer/${heavy}`]: 0.8 }, 4);
    expect(run).toHaveBeenCalledTimes(1);
    expect(shownErrors).toEqual(['Out of memory.']);
  });

  it('asks for what lies in front of the fader', async () => {
    const asked: [JobName, unknown][] = [];
    const pool = TestBed.inject(ProjectJobs);
    const run = pool.run.bind(pool);
    jest.spyOn(pool, 'run').mockImplementation((name, input, label, options) => {
      asked.push([name, input]);
      return run(name, input, label, options);
    });
    const sound = store.project()!.sounds[0]!.id;
    store.edit('setValues', { sound, values: { [`layer/${heavy}/gain`]: -9, [`layer/${heavy}/pan`]: 1 }, label: 'Gain' });
    TestBed.tick();
    await play(loads(), 5);
    expect(asked.map(([name]) => name)).toEqual(['freeze']);
    const { sound: recipe } = asked[0]![1] as JobInput<'freeze'>;
    expect(recipe.layers).toEqual([expect.objectContaining({ id: heavy, gain: 0, pan: 0 })]);
  });
});
