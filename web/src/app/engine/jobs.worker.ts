/// <reference lib="webworker" />
import { prepareHashing } from '@tangled-choir/core';
import type { JobMessage } from '@tangled-choir/jobs';
import { runJob } from '@tangled-choir/jobs';
import { makeMovie } from './make-movie';
import { measureMotion } from './measure-motion';
import { openCompressed } from './open-compressed';

/** Without it hashing is only slower. */
const ready = prepareHashing().catch(() => undefined);

addEventListener('message', ({ data }: MessageEvent<JobMessage>) => {
  void ready.then(() => runJob(data, (answer, movable) => postMessage(answer, movable), { openCompressed, measureMotion, makeMovie }));
});
