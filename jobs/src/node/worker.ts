import { parentPort } from 'node:worker_threads';
import { DataError, prepareHashing } from '@tangled-choir/core';
import type { Codecs } from '../job';
import type { JobMessage } from '../run-job';
import { runJob } from '../run-job';

const refuse = (_content: unknown, what: string): Promise<never> =>
  Promise.reject(new DataError(`${what} needs codecs that are only in the application.`));
const codecs: Codecs = {
  openCompressed: refuse,
  measureMotion: refuse,
  makeMovie: refuse,
  // They are large, and most work does without them.
  encodeFile: async (input) => (await import('@tangled-choir/encoders')).encodeFile(input),
};

/** Without it hashing is only slower. */
const ready = prepareHashing().catch(() => undefined);

parentPort?.on('message', (message: JobMessage) => {
  void ready.then(() => runJob(message, (answer, movable) => parentPort?.postMessage(answer, movable), codecs));
});
