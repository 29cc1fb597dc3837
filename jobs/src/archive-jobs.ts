import type { Archive, Overview, Project, RecordingFacts } from '@tangled-choir/core';
import { effectCatalogue, hashBytes, readArchive, readOverview, report, writeArchive, ZipMaker, zipFiles } from '@tangled-choir/core';
import { blobSource, collectBlob } from './blobs';
import { defineJob } from './job';
import { openStored } from './stored';

/** The archive of a project, of which no more than a few pieces are in memory at a time. */
export const packArchive = defineJob<
  {
    readonly project: Project;
    readonly audio: ReadonlyMap<string, Blob>;
    readonly pictures: ReadonlyMap<string, Blob>;
    readonly facts: ReadonlyMap<string, RecordingFacts>;
  },
  Blob
>({
  async run({ project, audio, pictures, facts }) {
    const sources = (blobs: ReadonlyMap<string, Blob>) => new Map([...blobs].map(([hash, blob]) => [hash, blobSource(blob)]));
    const collector = collectBlob('application/zip');
    const files = { audio: sources(audio), pictures: sources(pictures), facts };
    await writeArchive(project, files, (bytes) => collector.write(bytes));
    return collector.finish();
  },
});

export const openArchive = defineJob<{ readonly name: string; readonly file: Blob }, Archive<Blob>>({
  run: ({ name, file }) => readArchive(blobSource(file), effectCatalogue, `“${name}”`, () => collectBlob('')),
});

/** The waveforms of recordings, by hash. */
export const overviews = defineJob<{ readonly audio: ReadonlyMap<string, Blob> }, ReadonlyMap<string, Overview>>({
  async run({ audio }, { progress }) {
    const made = new Map<string, Overview>();
    for (const [hash, wav] of audio) {
      made.set(hash, await readOverview(await openStored({ name: hash, wav })));
      report(progress, made.size / audio.size);
    }
    return made;
  },
});

export const zip = defineJob<{ readonly files: Readonly<Record<string, Uint8Array>> }, Uint8Array<ArrayBuffer>>({
  run: ({ files }) => zipFiles(files),
  movable: (bytes) => [bytes.buffer],
});

/** The same out of files that are not in memory, into one that is not either. */
export const zipBlobs = defineJob<{ readonly files: ReadonlyMap<string, Blob> }, Blob>({
  async run({ files }, { progress }) {
    const collector = collectBlob('application/zip');
    const maker = new ZipMaker((bytes) => collector.write(bytes));
    let done = 0;
    for (const [name, blob] of files) {
      await maker.add(name, blobSource(blob), { pack: false });
      report(progress, ++done / files.size);
    }
    await maker.finish();
    return collector.finish();
  },
});

export const hash = defineJob<{ readonly bytes: Uint8Array<ArrayBuffer> }, { readonly hash: string }>({
  run: ({ bytes }) => ({ hash: hashBytes(bytes) }),
});
