import { computed, Injectable, signal } from '@angular/core';
import type { JobInput, JobName, JobOptions, JobOutput, JobStatus } from '@tangled-choir/jobs';
import { WorkerPool } from '@tangled-choir/jobs';
import { spawnJobWorker } from './workers.spawn';

/** Milliseconds between two changes of the list of jobs: a family changes it hundreds of times. */
const showEvery = 100;

/** The workers of the page: they outlive projects; what belongs to one goes through `ProjectJobs`. */
@Injectable({ providedIn: 'root' })
export class JobPool {
  private readonly statuses = signal<readonly JobStatus[]>([]);
  private newest: readonly JobStatus[] = [];
  private showing: ReturnType<typeof setTimeout> | undefined;
  private readonly pool = new WorkerPool(spawnJobWorker, Math.max(1, Math.min(8, navigator.hardwareConcurrency || 2)), undefined, (jobs) =>
    this.show(jobs),
  );
  /** Jobs to show: those that were not started quietly. */
  readonly jobs = this.statuses.asReadonly();
  readonly busy = computed(() => this.statuses().length);

  /** Runs a job. Rejects with JobCancelled, JobRefused or Error. */
  run<N extends JobName>(name: N, input: JobInput<N>, label: string, options?: JobOptions<N>): Promise<JobOutput<N>> {
    return this.pool.run(name, input, label, options);
  }

  cancel(id: number): void {
    this.pool.cancel(id);
  }

  /** The first change at once, what follows soon after all together. */
  private show(jobs: readonly JobStatus[]): void {
    this.newest = jobs;
    if (this.showing !== undefined) return;
    this.statuses.set(jobs);
    this.showing = setTimeout(() => {
      this.showing = undefined;
      if (this.newest !== this.statuses()) this.show(this.newest);
    }, showEvery);
  }
}
