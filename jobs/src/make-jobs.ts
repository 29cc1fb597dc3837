import type { PatchTake } from '@tangled-choir/core';
import { playPatch } from '@tangled-choir/core';
import { defineJob } from './job';
import type { SharedAudio } from './shared-audio';
import { share } from './shared-audio';

/** Plays notes on a patch, to be listened to. */
export const make = defineJob<PatchTake, SharedAudio>({
  run: (take, { progress }) => share(playPatch(take, progress)),
});
