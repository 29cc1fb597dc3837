/// <reference lib="webworker" />
import { decodeAudio } from './decode-audio';
import { makeMovie } from './make-movie';
import { measureMotion } from './measure-motion';
import { movable } from './movable';
import { runJob } from './run-job';
import type { JobAnswer, JobMessage } from './protocol';

addEventListener('message', ({ data }: MessageEvent<JobMessage>) => {
  const answer = (message: JobAnswer): void => postMessage(message, message.type === 'done' ? movable(message.result) : []);
  void runJob(data, answer, { decodeAudio, measureMotion, makeMovie });
});
