import { runJob } from '../app/engine/run-job';
import type { JobAnswer, JobMessage } from '../app/engine/protocol';

/** Stands in for a worker: does the same jobs, in the same thread, a task later. */
class LocalWorker {
  onmessage: ((event: { data: JobAnswer }) => void) | undefined;
  onerror: unknown;

  postMessage(message: JobMessage): void {
    setTimeout(() => runJob(message, (data) => this.onmessage?.({ data })));
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
