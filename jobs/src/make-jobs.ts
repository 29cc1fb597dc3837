import type { Mimicry, PatchTake, TakenBody } from '@tangled-choir/core';
import { mimic as mimicRecording, playPatch, takeModes as takeModesOf } from '@tangled-choir/core';
import { defineJob } from './job';
import type { SharedAudio } from './shared-audio';
import { share } from './shared-audio';
import type { StoredRecording } from './stored';
import { openStored } from './stored';

/** Plays notes on a patch, to be listened to. */
export const make = defineJob<PatchTake, SharedAudio>({
  run: (take, { progress }) => share(playPatch(take, progress)),
});

/** How much of a recording is looked at for something to mimic, in seconds. */
const looked = 30;

/** Proposes a patch that comes near to a part of a recording; `from` and `to` in seconds. */
export const mimic = defineJob<StoredRecording & { readonly from: number; readonly to: number }, Mimicry>({
  async run({ from, to, ...kept }, { progress }) {
    const recording = await openStored(kept);
    const frame = (seconds: number): number => Math.max(0, Math.min(recording.frames, Math.round(seconds * recording.sampleRate)));
    return mimicRecording(await recording.read(frame(from), frame(Math.min(to, from + looked))), progress);
  },
});

/** Measures the modes of a recording. */
export const takeModes = defineJob<StoredRecording, TakenBody>({
  async run(kept) {
    const recording = await openStored(kept);
    const frames = Math.min(recording.frames, looked * recording.sampleRate);
    return takeModesOf(await recording.read(0, frames));
  },
});
