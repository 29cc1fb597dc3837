/// <reference lib="webworker" />
import { prepareHashing } from '@tangled-choir/core';
import { makeMovie } from './make-movie';
import { measureMotion } from './measure-motion';
import { movable } from './movable';
import { openCompressed } from './open-compressed';
import { runJob } from './run-job';
import type { JobAnswer, JobMessage } from './protocol';

/** Without it hashing is only slower. */
const ready = prepareHashing().catch(() => undefined);

addEventListener('message', ({ data }: MessageEvent<JobMessage>) => {
  const answer = (message: JobAnswer): void => postMessage(message, message.type === 'done' ? movable(message.result) : []);
  void ready.then(() => runJob(data, answer, { openCompressed, measureMotion, makeMovie }));
});
