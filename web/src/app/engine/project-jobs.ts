import { DestroyRef, inject, Injectable } from '@angular/core';
import type { JobInput, JobName, JobOptions, JobOutput } from '@tangled-choir/jobs';
import { JobPool } from './job-pool';

/** Jobs of the open project: they end with it. Whoever waits for one hears of it as of any cancelled job. */
@Injectable()
export class ProjectJobs {
  private readonly pool = inject(JobPool);
  private readonly ended = new AbortController();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.ended.abort());
  }

  /** Aborted when the project is closed. */
  get signal(): AbortSignal {
    return this.ended.signal;
  }

  /** Runs a job. Rejects with JobCancelled, JobRefused or Error. */
  run<N extends JobName>(name: N, input: JobInput<N>, label: string, options: JobOptions<N> = {}): Promise<JobOutput<N>> {
    const signal = options.signal ? AbortSignal.any([this.ended.signal, options.signal]) : this.ended.signal;
    return this.pool.run(name, input, label, { ...options, signal });
  }
}
