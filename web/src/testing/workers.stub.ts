import { DataError } from '@tangled-choir/core';
import type { Codecs, SpawnWorker } from '@tangled-choir/jobs';
import { runJob } from '@tangled-choir/jobs';

const refuse = (_content: unknown, what: string): Promise<never> =>
  Promise.reject(new DataError(`${what} needs codecs that tests do not have.`));
const noCodecs: Codecs = {
  openCompressed: refuse,
  measureMotion: refuse,
  makeMovie: refuse,
  encodeFile: ({ format }) => refuse(format, 'Writing'),
};

/** Stands in for a worker: does the same jobs, in the same thread, a task later. */
export const spawnJobWorker: SpawnWorker = (onAnswer) => {
  let ended = false;
  return {
    post: (message) => void setTimeout(() => void runJob(message, (answer) => (ended ? undefined : onAnswer(answer)), noCodecs)),
    terminate: () => (ended = true),
  };
};

/** Takes the engine's messages and says nothing. */
class SilentWorker {
  onmessage: unknown;
  onerror: unknown;
  readonly sent: unknown[] = [];

  postMessage(message: unknown): void {
    this.sent.push(message);
  }

  terminate(): void {
    this.onmessage = undefined;
  }
}

export const spawnEngine = (): unknown => new SilentWorker();
