/// <reference lib="webworker" />
import { decodeMedia } from './decode-media';
import { movable } from './movable';
import { runJob } from './run-job';
import type { JobAnswer, JobMessage } from './protocol';

addEventListener('message', ({ data }: MessageEvent<JobMessage>) => {
  const answer = (message: JobAnswer): void => postMessage(message, message.type === 'done' ? movable(message.result) : []);
  void runJob(data, answer, decodeMedia);
});
