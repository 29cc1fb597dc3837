import { computed, Injectable, signal } from '@angular/core';
import type { FailureKind, ImportPreview, JobAnswer, JobMessage, JobRequest, JobResults } from './protocol';
import { spawnJobWorker } from './workers.spawn';

/** A job as the list of jobs shows it. */
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

/** Milliseconds that a cancelled job may take to notice. */
const patience = 3_000;

interface Pending {
  readonly message: JobMessage;
  readonly quiet: boolean;
  readonly background: boolean;
  resolve(result: JobResults[keyof JobResults]): void;
  reject(error: Error): void;
  onProgress(share: number): void;
  onPreview(preview: ImportPreview): void;
}

interface Slot {
  readonly worker: Worker;
  busyWith: Pending | undefined;
}

/** Spreads jobs over as many workers as there are cores; each job reports its progress and can be cancelled. */
@Injectable({ providedIn: 'root' })
export class JobPool {
  private readonly size = Math.max(1, Math.min(8, navigator.hardwareConcurrency || 2));
  private readonly slots: Slot[] = [];
  private readonly queue: Pending[] = [];
  private nextId = 1;
  private readonly statuses = signal<readonly JobStatus[]>([]);
  /** Jobs to show: those that were not started quietly. */
  readonly jobs = this.statuses.asReadonly();
  readonly busy = computed(() => this.statuses().length);

  /**
   * Runs a job; `quiet` keeps short work out of the list of jobs, `background` lets all others go first and leaves a core to them. Rejects
   * with JobCancelled, JobRefused or Error.
   */
  run<R extends JobRequest>(
    request: R,
    label: string,
    options: {
      quiet?: boolean;
      background?: boolean;
      onProgress?: (share: number) => void;
      onPreview?: (preview: ImportPreview) => void;
      signal?: AbortSignal;
    } = {},
  ): Promise<JobResults[R['kind']]> {
    const id = this.nextId++;
    const cancel = typeof SharedArrayBuffer === 'undefined' ? undefined : new Int32Array(new SharedArrayBuffer(4));
    return new Promise((resolve, reject) => {
      const pending: Pending = {
        message: { id, request, cancel },
        quiet: options.quiet ?? false,
        background: options.background ?? false,
        resolve: (result) => resolve(result as JobResults[R['kind']]),
        reject,
        onProgress: options.onProgress ?? (() => undefined),
        onPreview: options.onPreview ?? (() => undefined),
      };
      if (options.signal?.aborted) {
        reject(new JobCancelled('Cancelled.'));
        return;
      }
      options.signal?.addEventListener('abort', () => this.cancel(id), { once: true });
      if (!pending.quiet) this.statuses.update((list) => [...list, { id, label, share: 0, running: false }]);
      this.queue.push(pending);
      this.startNext();
    });
  }

  cancel(id: number): void {
    const waiting = this.queue.findIndex((pending) => pending.message.id === id);
    const running = this.slots.find((slot) => slot.busyWith?.message.id === id);
    if (waiting >= 0) {
      const [pending] = this.queue.splice(waiting, 1);
      this.forget(id);
      pending?.reject(new JobCancelled('Cancelled.'));
    } else if (running?.busyWith) {
      const pending = running.busyWith;
      if (pending.message.cancel) Atomics.store(pending.message.cancel, 0, 1);
      setTimeout(() => this.giveUp(running, pending), patience);
      this.forget(id);
      pending.reject(new JobCancelled('Cancelled.'));
    }
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
      this.update(pending.message.id, { running: true });
      slot.worker.postMessage(pending.message);
    }
  }

  /** The job that has waited longest, of those in the background only while they leave a core to others. */
  private next(): Pending | undefined {
    const inBackground = this.slots.filter((slot) => slot.busyWith?.background).length;
    return this.queue.find((pending) => !pending.background) ?? (inBackground < Math.max(1, this.size - 1) ? this.queue[0] : undefined);
  }

  private addSlot(): Slot {
    const slot: Slot = { worker: spawnJobWorker(), busyWith: undefined };
    slot.worker.onmessage = ({ data }: MessageEvent<JobAnswer>) => this.receive(slot, data);
    slot.worker.onerror = (event) => {
      const pending = slot.busyWith;
      if (pending) {
        this.forget(pending.message.id);
        pending.reject(new Error(event.message || 'A worker stopped unexpectedly.'));
      }
      this.remove(slot);
    };
    this.slots.push(slot);
    return slot;
  }

  /** Ends the worker of a cancelled job that does not listen, so that others can take its place. */
  private giveUp(slot: Slot, pending: Pending): void {
    if (slot.busyWith === pending) this.remove(slot);
  }

  private remove(slot: Slot): void {
    this.slots.splice(this.slots.indexOf(slot), 1);
    slot.worker.terminate();
    this.startNext();
  }

  private receive(slot: Slot, answer: JobAnswer): void {
    const pending = slot.busyWith;
    if (!pending || pending.message.id !== answer.id) return;
    if (answer.type === 'progress') {
      this.update(answer.id, { share: answer.share });
      pending.onProgress(answer.share);
      return;
    }
    if (answer.type === 'preview') {
      pending.onPreview(answer.preview);
      return;
    }
    slot.busyWith = undefined;
    this.forget(answer.id);
    if (answer.type === 'done') pending.resolve(answer.result);
    else pending.reject(failure(answer.message, answer.why));
    this.startNext();
  }

  private update(id: number, change: Partial<JobStatus>): void {
    this.statuses.update((list) =>
      list.some((job) => job.id === id) ? list.map((job) => (job.id === id ? { ...job, ...change } : job)) : list,
    );
  }

  private forget(id: number): void {
    this.statuses.update((list) => (list.some((job) => job.id === id) ? list.filter((job) => job.id !== id) : list));
  }
}
