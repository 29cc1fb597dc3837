import type { MotionTrack } from '@tangled-choir/core';
import { defineJob } from './job';

/** How a picture moves, frame by frame. */
export const motion = defineJob<{ readonly video: Blob; readonly name: string }, MotionTrack>({
  run: ({ video, name }, { progress, codecs }) => codecs.measureMotion(video, `“${name}”`, progress),
});
