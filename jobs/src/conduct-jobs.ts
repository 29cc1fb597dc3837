import type { ConductData, Encoding, PackedTake, Performance, Project } from '@tangled-choir/core';
import { packConduct, perform, recordedSource, zipFiles } from '@tangled-choir/core';
import { defineJob } from './job';
import type { SharedAudio } from './shared-audio';
import type { StoredSource } from './stored';
import { stored } from './stored';

const planar = (assets: ReadonlyMap<string, SharedAudio>) =>
  new Map([...assets].map(([id, { sampleRate, channels }]) => [id, { sampleRate, channels: [...channels] }]));

/** Writes what a game takes into a zip: `conduct.json` and all recordings. */
export const packForGame = defineJob<
  { readonly project: Project; readonly wanted: readonly PackedTake[]; readonly assets: ReadonlyMap<string, SharedAudio> },
  Uint8Array<ArrayBuffer>
>({
  run: ({ project, wanted, assets }) => zipFiles(packConduct(project, wanted, planar(assets))),
  movable: (bytes) => [bytes.buffer],
});

/** The same files, each by its name; see `packForGame`. */
export const filesForGame = defineJob<
  {
    readonly project: Project;
    readonly wanted: readonly PackedTake[];
    readonly assets: ReadonlyMap<string, SharedAudio>;
    readonly encoding: Encoding;
  },
  Record<string, Uint8Array<ArrayBuffer>>
>({
  run: ({ project, wanted, assets, encoding }) => packConduct(project, wanted, planar(assets), encoding),
  movable: (files) => Object.values(files).map(({ buffer }) => buffer),
});

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
