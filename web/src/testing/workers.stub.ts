import { DataError } from '@tangled-choir/core';
import { runJob } from '../app/engine/run-job';
import type { JobAnswer, JobMessage } from '../app/engine/protocol';

const refuse = (_content: unknown, what: string): Promise<never> =>
  Promise.reject(new DataError(`${what} needs codecs that tests do not have.`));
const noCodecs = { openCompressed: refuse, measureMotion: refuse, makeMovie: refuse };

/** Stands in for a worker: does the same jobs, in the same thread, a task later. */
class LocalWorker {
  onmessage: ((event: { data: JobAnswer }) => void) | undefined;
  onerror: unknown;

  postMessage(message: JobMessage): void {
    setTimeout(() => void runJob(message, (data) => this.onmessage?.({ data }), noCodecs));
  }

  terminate(): void {
    this.onmessage = undefined;
  }
}

/** Takes the engine's messages and says nothing. */
class SilentWorker {
  onmessage: unknown;
  onerror: unknown;
  readonly sent: unknown[] = [];

  postMessage(message: unknown): void {
    this.sent.push(message);
  }
}

export const spawnJobWorker = (): unknown => new LocalWorker();
export const spawnEngine = (): unknown => new SilentWorker();
