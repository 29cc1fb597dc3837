import { DataError, writeWav } from '@tangled-choir/core';
import type { Codecs } from './job';
import type { JobStatus, SpawnWorker } from './pool';
import { JobCancelled, JobRefused, WorkerPool } from './pool';
import type { JobMessage } from './run-job';
import { runJob } from './run-job';

const refuse = (_content: unknown, what: string): Promise<never> => Promise.reject(new DataError(`${what} has no codecs here.`));
const noCodecs: Codecs = {
  openCompressed: refuse,
  measureMotion: refuse,
  makeMovie: refuse,
  encodeFile: () => refuse(undefined, 'A file'),
};

/** Does jobs in this thread, a task later. */
const local: SpawnWorker = (onAnswer) => {
  let ended = false;
  return {
    post: (message) => void setTimeout(() => void runJob(message, (answer) => (ended ? undefined : onAnswer(answer)), noCodecs)),
    terminate: () => (ended = true),
  };
};

function poolOf(size = 4): { readonly pool: WorkerPool; readonly shown: () => readonly JobStatus[] } {
  let shown: readonly JobStatus[] = [];
  return { pool: new WorkerPool(local, size, 20, (jobs) => (shown = jobs)), shown: () => shown };
}

const wav = new Blob([writeWav({ sampleRate: 48_000, channels: [new Float32Array(100).fill(0.5)] }, { encoding: '16' })]);
const ice = { name: 'ice', wav };

describe('the pool', () => {
  it('runs jobs and lists them while they last, quiet ones not', async () => {
    const { pool, shown } = poolOf();
    const job = pool.run('overview', ice, 'Reading ice');
    const quiet = pool.run('overview', ice, 'Quietly', { quiet: true });
    expect(shown().map(({ label }) => label)).toEqual(['Reading ice']);
    expect((await job).high[0]).toBeCloseTo(0.5, 3);
    await quiet;
    expect(shown()).toEqual([]);
  });

  it('tells refusals from failures', async () => {
    const { pool, shown } = poolOf();
    const damaged = { name: '“x”', wav: new Blob([new Uint8Array(2)]) };
    await expect(pool.run('overview', damaged, 'Reading')).rejects.toBeInstanceOf(JobRefused);
    await expect(pool.run('motion', { video: new Blob([]), name: 'slab' }, 'Watching')).rejects.toThrow('“slab” has no codecs here.');
    expect(shown()).toEqual([]);
  });

  it('cancels waiting and running jobs, and goes on with others', async () => {
    const { pool, shown } = poolOf();
    const jobs = Array.from({ length: 20 }, (_, index) => pool.run('overview', ice, `Job ${index}`));
    const outcomes = Promise.allSettled(jobs);
    for (const status of shown().slice(0, 10)) pool.cancel(status.id);
    const settled = await outcomes;
    expect(settled.filter((result) => result.status === 'rejected' && result.reason instanceof JobCancelled)).toHaveLength(10);
    expect(settled.filter((result) => result.status === 'fulfilled')).toHaveLength(10);
  });

  it('lets others go before work in the background', async () => {
    const { pool } = poolOf();
    const finished: string[] = [];
    const run = (name: string, background: boolean): Promise<unknown> =>
      pool.run('overview', { name, wav }, name, { background }).then(() => finished.push(name));
    const all = Array.from({ length: 12 }, (_, index) => run(`back ${index}`, true));
    all.push(run('front', false));
    await Promise.all(all);
    expect(finished).toHaveLength(13);
    expect(finished.indexOf('front')).toBeLessThan(6);
  });

  it('does not start what was given up before', async () => {
    const abort = new AbortController();
    abort.abort();
    await expect(poolOf().pool.run('overview', ice, 'Reading', { signal: abort.signal })).rejects.toBeInstanceOf(JobCancelled);
  });

  /** Workers of which the first `count` stop by themselves, once they have told `told` answers. */
  const failing = (count: number, told = 0): { readonly spawn: SpawnWorker; readonly spawned: () => number } => {
    let spawned = 0;
    const spawn: SpawnWorker = (onAnswer, onFailure) => {
      const worker = local(onAnswer, onFailure);
      if (spawned++ >= count) return worker;
      const post = (message: JobMessage): void => {
        for (let i = 0; i < told; i++) onAnswer({ type: 'progress', id: message.id, share: 0.5 });
        setTimeout(() => onFailure('out of memory'));
      };
      return { ...worker, post };
    };
    return { spawn, spawned: () => spawned };
  };

  it('begins a job again in another worker where one has stopped before anything was heard', async () => {
    const { spawn, spawned } = failing(2);
    const pool = new WorkerPool(spawn, 1);
    const [first, second] = [pool.run('overview', ice, 'First'), pool.run('overview', ice, 'Second')];
    expect((await first).frames).toBe(100);
    expect((await second).frames).toBe(100);
    expect(spawned()).toBeGreaterThanOrEqual(3);
  });

  it('fails a job by its name where workers stop again and again, and goes on with others', async () => {
    const { spawn } = failing(3);
    let shown: readonly JobStatus[] = [];
    const pool = new WorkerPool(spawn, 1, 20, (jobs) => (shown = jobs));
    await expect(pool.run('overview', ice, 'Reading ice')).rejects.toThrow('The worker of “Reading ice” stopped: out of memory');
    expect(shown).toEqual([]);
    expect((await pool.run('overview', ice, 'Second')).frames).toBe(100);
  });

  it('does not begin again what has told something: it may have done something', async () => {
    const { spawn, spawned } = failing(1, 1);
    const pool = new WorkerPool(spawn, 1);
    await expect(pool.run('overview', ice, 'Reading ice')).rejects.toThrow('The worker of “Reading ice” stopped: out of memory');
    expect(spawned()).toBe(1);
  });

  it('cancels what is to be begun again', async () => {
    const { spawn, spawned } = failing(1);
    let shown: readonly JobStatus[] = [];
    const pool = new WorkerPool(spawn, 1, 20, (jobs) => (shown = jobs));
    const job = pool.run('overview', ice, 'Reading ice');
    await new Promise((resolve) => setTimeout(resolve, 20));
    pool.cancel(shown[0]!.id);
    await expect(job).rejects.toBeInstanceOf(JobCancelled);
    expect(shown).toEqual([]);
    expect(spawned()).toBe(1);
  });

  it('ends with everything that waits and runs', async () => {
    const { pool, shown } = poolOf(1);
    const outcomes = Promise.allSettled([pool.run('overview', ice, 'First'), pool.run('overview', ice, 'Second')]);
    pool.close();
    expect((await outcomes).map((result) => result.status === 'rejected' && result.reason instanceof JobCancelled)).toEqual([true, true]);
    expect(shown()).toEqual([]);
  });
});

describe('long recordings', () => {
  it('can be seen before they are measured', async () => {
    const long = new Blob([writeWav({ sampleRate: 8_000, channels: [new Float32Array(8_000 * 25).fill(0.5)] }, { encoding: '16' })]);
    const { pool } = poolOf();
    const overview = await pool.run('overview', { name: 'wind', wav: long }, 'Reading');
    expect(overview.high[0]).toBeCloseTo(0.5, 3);
    const facts = await pool.run('describe', { name: 'wind', wav: long }, 'Measuring');
    expect(facts.measured.seconds).toBe(25);
    expect(facts.character.stationarity).toBeGreaterThan(0.9);
  });
});
