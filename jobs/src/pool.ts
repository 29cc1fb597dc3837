import type { FailureKind, JobAnswer, JobMessage } from './run-job';
import type { JobInput, JobName, JobNews, JobOutput } from './registry';

/** A thread that does jobs, as the pool knows it: a web worker or a worker thread of Node. */
export interface JobWorker {
  post(message: JobMessage): void;
  terminate(): void;
}

/** Makes a worker, which then tells what it answers, and when it has stopped by itself. */
export type SpawnWorker = (onAnswer: (answer: JobAnswer) => void, onFailure: (message: string) => void) => JobWorker;

/** A job as lists of jobs show it. */
export interface JobStatus {
  readonly id: number;
  readonly label: string;
  readonly share: number;
  readonly running: boolean;
}

/** A job that somebody cancelled. */
export class JobCancelled extends Error {
  override readonly name = 'JobCancelled';
}

/** A job that failed for a reason that a person can do something about, such as a damaged file. */
export class JobRefused extends Error {
  override readonly name: string = 'JobRefused';
}

/** A job that was refused because a file is in a format that is not known. */
export class FormatUnknown extends JobRefused {
  override readonly name = 'FormatUnknown';
}

function failure(message: string, why: FailureKind): Error {
  if (why === 'fault') return new Error(message);
  return why === 'unknown format' ? new FormatUnknown(message) : new JobRefused(message);
}

export interface JobOptions<N extends JobName> {
  /** Keeps short work out of the list of jobs. */
  readonly quiet?: boolean;
  /** Lets all others go first and leaves a core to them. */
  readonly background?: boolean;
  readonly onProgress?: (share: number) => void;
  readonly onNews?: (news: JobNews<N>) => void;
  readonly signal?: AbortSignal;
}

/** How often a job is begun whose worker stops before anything is heard of it: one that did not load, or one that another job had worn out. */
const mostAttempts = 3;
/** Milliseconds before it is begun again, and four times as many before the next time. */
const firstPause = 250;

interface Pending {
  readonly message: JobMessage;
  readonly label: string;
  attempts: number;
  /** Set as soon as it has told anything: what it has done by then must not be done twice. */
  heard: boolean;
  readonly background: boolean;
  resolve(output: unknown): void;
  reject(error: Error): void;
  onProgress(share: number): void;
  onNews(news: unknown): void;
}

interface Slot {
  readonly worker: JobWorker;
  busyWith: Pending | undefined;
}

/** Spreads jobs over as many workers as there are cores; each job reports its progress and can be cancelled. */
export class WorkerPool {
  private readonly slots: Slot[] = [];
  private readonly queue: Pending[] = [];
  /** Jobs that will be begun again in a moment. */
  private readonly resting = new Set<Pending>();
  private nextId = 1;
  private statuses: readonly JobStatus[] = [];

  /**
   * @param size workers at most
   * @param patience milliseconds that a cancelled job may take to notice; then its worker is ended
   * @param onChange called with the list of jobs whenever it has changed, without those that were started quietly
   */
  constructor(
    private readonly spawn: SpawnWorker,
    private readonly size: number,
    private readonly patience = 3_000,
    private readonly onChange: (jobs: readonly JobStatus[]) => void = () => undefined,
  ) {}

  /** Runs a job. Rejects with JobCancelled, JobRefused or Error. */
  run<N extends JobName>(name: N, input: JobInput<N>, label: string, options: JobOptions<N> = {}): Promise<JobOutput<N>> {
    const id = this.nextId++;
    const cancel = typeof SharedArrayBuffer === 'undefined' ? undefined : new Int32Array(new SharedArrayBuffer(4));
    return new Promise((resolve, reject) => {
      const { signal, onNews } = options;
      if (signal?.aborted) {
        reject(new JobCancelled('Cancelled.'));
        return;
      }
      const onAbort = (): void => this.cancel(id);
      signal?.addEventListener('abort', onAbort);
      // A project's signal outlives thousands of jobs.
      const done = (): void => signal?.removeEventListener('abort', onAbort);
      if (!options.quiet) this.show([...this.statuses, { id, label, share: 0, running: false }]);
      this.queue.push({
        message: { id, name, input, cancel },
        label,
        attempts: 0,
        heard: false,
        background: options.background ?? false,
        resolve: (output) => {
          done();
          resolve(output as JobOutput<N>);
        },
        reject: (error) => {
          done();
          reject(error);
        },
        onProgress: options.onProgress ?? (() => undefined),
        onNews: (news) => onNews?.(news as JobNews<N>),
      });
      this.startNext();
    });
  }

  cancel(id: number): void {
    const waiting = this.queue.findIndex((pending) => pending.message.id === id);
    const running = this.slots.find((slot) => slot.busyWith?.message.id === id);
    const resting = [...this.resting].find((pending) => pending.message.id === id);
    if (resting) {
      this.resting.delete(resting);
      this.forget(id);
      resting.reject(new JobCancelled('Cancelled.'));
    } else if (waiting >= 0) {
      const [pending] = this.queue.splice(waiting, 1);
      this.forget(id);
      pending?.reject(new JobCancelled('Cancelled.'));
    } else if (running?.busyWith) {
      const pending = running.busyWith;
      if (pending.message.cancel) Atomics.store(pending.message.cancel, 0, 1);
      setTimeout(() => this.giveUp(running, pending), this.patience);
      this.forget(id);
      pending.reject(new JobCancelled('Cancelled.'));
    }
  }

  /** Ends all workers; jobs that wait or run are cancelled. */
  close(): void {
    for (const { busyWith } of this.slots) if (busyWith) busyWith.reject(new JobCancelled('Cancelled.'));
    for (const pending of [...this.queue, ...this.resting]) pending.reject(new JobCancelled('Cancelled.'));
    this.queue.length = 0;
    this.resting.clear();
    for (const { worker } of this.slots.splice(0)) worker.terminate();
    this.show([]);
  }

  private startNext(): void {
    for (let pending = this.next(); pending; pending = this.next()) {
      let slot = this.slots.find((candidate) => !candidate.busyWith);
      if (!slot) {
        if (this.slots.length >= this.size) return;
        slot = this.addSlot();
      }
      this.queue.splice(this.queue.indexOf(pending), 1);
      slot.busyWith = pending;
      pending.attempts++;
      this.update(pending.message.id, { running: true });
      slot.worker.post(pending.message);
    }
  }

  /** The job that has waited longest, of those in the background only while they leave a core to others. */
  private next(): Pending | undefined {
    const inBackground = this.slots.filter((slot) => slot.busyWith?.background).length;
    return this.queue.find((pending) => !pending.background) ?? (inBackground < Math.max(1, this.size - 1) ? this.queue[0] : undefined);
  }

  private addSlot(): Slot {
    const worker = this.spawn(
      (answer) => this.receive(slot, answer),
      (message) => this.fail(slot, message),
    );
    const slot: Slot = { worker, busyWith: undefined };
    this.slots.push(slot);
    return slot;
  }

  /** A worker has stopped by itself: its job is begun again where it can be, or fails by its name. */
  private fail(slot: Slot, message: string): void {
    if (!this.slots.includes(slot)) return;
    const pending = slot.busyWith;
    slot.busyWith = undefined;
    if (pending && !pending.heard && pending.attempts < mostAttempts) {
      this.update(pending.message.id, { running: false });
      this.resting.add(pending);
      setTimeout(() => this.beginAgain(pending), firstPause * 4 ** (pending.attempts - 1));
    } else if (pending) {
      this.forget(pending.message.id);
      pending.reject(new Error(`The worker of “${pending.label}” stopped${message ? `: ${message}` : '.'}`));
    }
    this.remove(slot);
  }

  private beginAgain(pending: Pending): void {
    if (!this.resting.delete(pending)) return;
    this.queue.unshift(pending);
    this.startNext();
  }

  /** Ends the worker of a cancelled job that does not listen, so that others can take its place. */
  private giveUp(slot: Slot, pending: Pending): void {
    if (slot.busyWith === pending) this.remove(slot);
  }

  private remove(slot: Slot): void {
    const at = this.slots.indexOf(slot);
    if (at < 0) return;
    this.slots.splice(at, 1);
    slot.worker.terminate();
    this.startNext();
  }

  private receive(slot: Slot, answer: JobAnswer): void {
    const pending = slot.busyWith;
    if (!pending || pending.message.id !== answer.id) return;
    pending.heard = true;
    if (answer.type === 'progress') {
      this.update(answer.id, { share: answer.share });
      pending.onProgress(answer.share);
      return;
    }
    if (answer.type === 'news') {
      pending.onNews(answer.news);
      return;
    }
    slot.busyWith = undefined;
    this.forget(answer.id);
    if (answer.type === 'done') pending.resolve(answer.output);
    else pending.reject(failure(answer.message, answer.why));
    this.startNext();
  }

  private update(id: number, change: Partial<JobStatus>): void {
    if (this.statuses.some((job) => job.id === id)) this.show(this.statuses.map((job) => (job.id === id ? { ...job, ...change } : job)));
  }

  private forget(id: number): void {
    if (this.statuses.some((job) => job.id === id)) this.show(this.statuses.filter((job) => job.id !== id));
  }

  private show(statuses: readonly JobStatus[]): void {
    this.statuses = statuses;
    this.onChange(statuses);
  }
}
