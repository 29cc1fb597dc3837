/// <reference lib="webworker" />
import { runJob } from './run-job';
import type { JobAnswer, JobMessage } from './protocol';

addEventListener('message', ({ data }: MessageEvent<JobMessage>) => {
  const answer = (message: JobAnswer): void => postMessage(message);
  runJob(data, answer);
});
