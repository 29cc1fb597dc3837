import type { ConductData, Performance } from '@tangled-choir/core';
import { perform, recordedSource } from '@tangled-choir/core';
import { defineJob } from './job';
import type { SharedAudio } from './shared-audio';
import type { StoredSource } from './stored';
import { stored } from './stored';

const planar = (assets: ReadonlyMap<string, SharedAudio>) =>
  new Map([...assets].map(([id, { sampleRate, channels }]) => [id, { sampleRate, channels: [...channels] }]));

/** Plays a script of moves again, and keeps what is heard as a source. */
export const recordPerformance = defineJob<
  {
    readonly data: ConductData;
    readonly assets: ReadonlyMap<string, SharedAudio>;
    readonly script: Performance;
    readonly name: string;
  },
  StoredSource
>({
  run({ data, assets, script, name }, { progress }) {
    const heard = perform(data, planar(assets), script, progress).audio;
    const notes = `Recorded in the simulator: ${script.moves.length} moves in ${script.seconds.toFixed(1)} s, seed ${data.seed}.`;
    return stored({ audio: heard, ...recordedSource(heard, { name, notes }) });
  },
});
