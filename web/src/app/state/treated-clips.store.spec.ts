import { TestBed } from '@angular/core/testing';
import type { Clip } from '@tangled-choir/core';
import type { WantedTreatment } from '@tangled-choir/jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import { projectProviders } from '../../testing/project';
import { ProjectJobs } from '../engine/project-jobs';
import { CHOIR_DATABASE } from '../storage/choir-database';
import { ChoirDatabase } from '../storage/database';
import { TreatedStorage } from '../storage/treated-storage';
import { Notices } from './notices';
import { TreatedClips } from './treated-clips.store';

/** Four of them are more than is kept: their samples are only promised, not there. */
const frames = 20 * 2 ** 20;
const large = { sampleRate: 48_000, channels: [Object.defineProperty(new Float32Array(0), 'length', { value: frames })] };
const wanted = (key: string): WantedTreatment => ({
  key,
  content: key,
  clip: { offset: 0, length: 60, speed: 3, reversed: false } as Clip,
  audio: large,
});

/** Waits until something holds. */
async function settled(holds: () => boolean): Promise<void> {
  while (!holds()) await new Promise((resolve) => setTimeout(resolve));
}

let count = 0;

describe('treated clips', () => {
  let treated: TreatedClips;
  let run: jest.SpyInstance;

  beforeEach(() => {
    const database = new ChoirDatabase(`treated-clips-${++count}`);
    TestBed.configureTestingModule({ providers: [...projectProviders, { provide: CHOIR_DATABASE, useValue: database }] });
    run = jest.spyOn(TestBed.inject(ProjectJobs), 'run').mockResolvedValue(large);
    treated = TestBed.inject(TreatedClips);
  });

  it('are made once for all who ask, at the same time or later', async () => {
    await Promise.all([treated.make([wanted('a')]), treated.make([wanted('a'), wanted('b')])]);
    await treated.make([wanted('a')]);
    expect(run).toHaveBeenCalledTimes(2);
  });

  it('are taken from the database where they were made before', async () => {
    const kept = { sampleRate: 48_000, channels: [new Float32Array([1, 2, 3])] };
    await TestBed.inject(TreatedStorage).save('a', kept);
    const made = await treated.make([wanted('a')]);
    expect(run).not.toHaveBeenCalled();
    expect(made.get('a')).toEqual(kept);
  });

  it('are made all the same where the database fails', async () => {
    jest.spyOn(TestBed.inject(TreatedStorage), 'load').mockRejectedValue(new Error('broken'));
    jest.spyOn(TestBed.inject(TreatedStorage), 'save').mockRejectedValue(new Error('broken'));
    expect((await treated.make([wanted('a')])).get('a')).toBe(large);
  });

  it('that cannot be made are told once, because they are silent; what is cancelled is not', async () => {
    const error = jest.spyOn(TestBed.inject(Notices), 'error').mockReturnValue();
    run.mockRejectedValue(new RangeError('A looped clip of 334 minutes is too long to be held.'));
    treated.hold('sound', [wanted('a')]);
    await settled(() => error.mock.calls.length > 0);
    treated.hold('sound', [wanted('a')]);
    run.mockRejectedValue(new JobCancelled('Cancelled.'));
    treated.hold('sound', [wanted('a'), wanted('b')]);
    await treated.make([wanted('b')]).catch(() => undefined);
    expect(error.mock.calls).toEqual([['A clip cannot be played: A looped clip of 334 minutes is too long to be held.']]);
  });

  it('are given up when nobody plays them any more, unless a render needs them', async () => {
    const signals = new Map<string, AbortSignal>();
    run.mockImplementation(
      (_job, { content }: { content: string }, _label, { signal }: { signal: AbortSignal }) =>
        new Promise((resolve, reject) => {
          signals.set(content, signal);
          signal.addEventListener('abort', () => reject(new JobCancelled('Cancelled.')));
          if (content === 'c') setTimeout(() => resolve(large));
        }),
    );
    treated.hold('sound', [wanted('a'), wanted('b')]);
    const rendered = treated.make([wanted('b')]);
    rendered.catch(() => undefined);
    await settled(() => signals.size === 2);
    treated.hold('sound', [wanted('c')]);
    expect([signals.get('a')!.aborted, signals.get('b')!.aborted]).toEqual([true, false]);
    await settled(() => treated.made().has('c'));
    // Wanted again, it is made again.
    treated.hold('sound', [wanted('a')]);
    await settled(() => !signals.get('a')!.aborted);
  });

  it('make room for others, the oldest first', async () => {
    for (const key of ['a', 'b', 'c', 'd']) await treated.make([wanted(key)]);
    expect([...treated.made().keys()]).toEqual(['b', 'c', 'd']);
  });

  it('stay while they are played, however many they are: or each would drive out the other for ever', async () => {
    const played = ['a', 'b', 'c', 'd'].map(wanted);
    treated.hold('sound', played);
    await treated.make(played);
    treated.hold('sound', played);
    await treated.make(played);
    expect(run).toHaveBeenCalledTimes(4);
    expect([...treated.made().keys()]).toEqual(['a', 'b', 'c', 'd']);
    treated.hold('sound', [wanted('d')]);
    await treated.make([wanted('e')]);
    expect([...treated.made().keys()]).toEqual(['c', 'd', 'e']);
  });
});
