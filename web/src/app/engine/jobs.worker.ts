/// <reference lib="webworker" />
import { prepareHashing } from '@tangled-choir/core';
import type * as encodersModule from '@tangled-choir/encoders';
import type { JobMessage } from '@tangled-choir/jobs';
import { runJob } from '@tangled-choir/jobs';
import { makeMovie } from './make-movie';
import { measureMotion } from './measure-motion';
import { openCompressed } from './open-compressed';

/** Without it hashing is only slower. */
const ready = prepareHashing().catch(() => undefined);

/** Where the encoders lie; comes before all jobs. */
export interface EncodersMessage {
  readonly encoders: string;
}
let encodersAddress = '';

/** They are large, and most sessions do without them. */
const encodeFile = async (input: encodersModule.EncodeInput): Promise<encodersModule.EncodedFile> => {
  const encoders = (await import(/* @vite-ignore */ encodersAddress)) as typeof encodersModule;
  return encoders.encodeFile(input);
};
const codecs = { openCompressed, measureMotion, makeMovie, encodeFile };

addEventListener('message', ({ data }: MessageEvent<JobMessage | EncodersMessage>) => {
  if ('encoders' in data) encodersAddress = data.encoders;
  else void ready.then(() => runJob(data, (answer, movable) => postMessage(answer, movable), codecs));
});
