import { TestBed } from '@angular/core/testing';
import { writeWav } from '@tangled-choir/core';
import { JobCancelled, JobPool, JobRefused } from './job-pool';

const wav = new Blob([writeWav({ sampleRate: 48_000, channels: [new Float32Array(100).fill(0.5)] }, { encoding: '16' })]);

describe('the job pool', () => {
  it('runs jobs and lists them while they last', async () => {
    const pool = TestBed.inject(JobPool);
    const job = pool.run({ kind: 'overview', name: 'ice', wav }, 'Reading ice');
    expect(pool.jobs().map((status) => status.label)).toEqual(['Reading ice']);
    expect((await job).high[0]).toBeCloseTo(0.5, 3);
    expect(pool.jobs()).toEqual([]);
  });

  it('tells refusals from failures', async () => {
    const pool = TestBed.inject(JobPool);
    await expect(pool.run({ kind: 'overview', name: '“x”', wav: new Blob([new Uint8Array(2)]) }, 'Reading')).rejects.toBeInstanceOf(
      JobRefused,
    );
    expect(pool.busy()).toBe(0);
  });

  it('cancels waiting and running jobs, and goes on with others', async () => {
    const pool = TestBed.inject(JobPool);
    const jobs = Array.from({ length: 20 }, (_, index) => pool.run({ kind: 'overview', name: 'ice', wav }, `Job ${index}`));
    const outcomes = Promise.allSettled(jobs);
    for (const status of pool.jobs().slice(0, 10)) pool.cancel(status.id);
    const settled = await outcomes;
    expect(settled.filter((result) => result.status === 'rejected' && result.reason instanceof JobCancelled)).toHaveLength(10);
    expect(settled.filter((result) => result.status === 'fulfilled')).toHaveLength(10);
  });

  it('lets others go before work in the background', async () => {
    const pool = TestBed.inject(JobPool);
    const finished: string[] = [];
    const run = (name: string, background: boolean): Promise<unknown> =>
      pool.run({ kind: 'overview', name, wav }, name, { background }).then(() => finished.push(name));
    const all = Array.from({ length: 12 }, (_, index) => run(`back ${index}`, true));
    all.push(run('front', false));
    await Promise.all(all);
    expect(finished).toHaveLength(13);
    expect(finished.indexOf('front')).toBeLessThan(6);
  });

  it('does not start what was given up before', async () => {
    const abort = new AbortController();
    abort.abort();
    await expect(
      TestBed.inject(JobPool).run({ kind: 'overview', name: 'ice', wav }, 'Reading', { signal: abort.signal }),
    ).rejects.toBeInstanceOf(JobCancelled);
  });
});

describe('long recordings', () => {
  it('can be seen before they are measured', async () => {
    const long = new Blob([writeWav({ sampleRate: 8_000, channels: [new Float32Array(8_000 * 25).fill(0.5)] }, { encoding: '16' })]);
    const pool = TestBed.inject(JobPool);
    const overview = await pool.run({ kind: 'overview', name: 'wind', wav: long }, 'Reading');
    expect(overview.high[0]).toBeCloseTo(0.5, 3);
    const facts = await pool.run({ kind: 'describe', name: 'wind', wav: long }, 'Measuring');
    expect(facts.measured.seconds).toBe(25);
    expect(facts.character.stationarity).toBeGreaterThan(0.9);
  });
});
