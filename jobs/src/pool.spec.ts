import { DataError, writeWav } from '@tangled-choir/core';
import type { Codecs } from './job';
import type { JobStatus, SpawnWorker } from './pool';
import { JobCancelled, JobRefused, WorkerPool } from './pool';
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

  it('goes on with another worker where one has stopped by itself', async () => {
    let spawned = 0;
    const pool = new WorkerPool((onAnswer, onFailure) => {
      const worker = local(onAnswer, onFailure);
      return spawned++ === 0 ? { ...worker, post: () => setTimeout(() => onFailure('out of memory')) } : worker;
    }, 1);
    const [first, second] = [pool.run('overview', ice, 'First'), pool.run('overview', ice, 'Second')];
    await expect(first).rejects.toThrow('out of memory');
    expect((await second).frames).toBe(100);
    expect(spawned).toBe(2);
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
