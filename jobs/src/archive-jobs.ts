import type { Archive, Project } from '@tangled-choir/core';
import { effectCatalogue, hashBytes, readArchive, report, writeArchive, ZipMaker, zipFiles } from '@tangled-choir/core';
import { blobSource, collectBlob } from './blobs';
import { defineJob } from './job';

/** The archive of a project, of which no more than a few pieces are in memory at a time. */
export const packArchive = defineJob<
  {
    readonly project: Project;
    readonly audio: ReadonlyMap<string, Blob>;
    readonly pictures: ReadonlyMap<string, Blob>;
  },
  Blob
>({
  async run({ project, audio, pictures }) {
    const sources = (blobs: ReadonlyMap<string, Blob>) => new Map([...blobs].map(([hash, blob]) => [hash, blobSource(blob)]));
    const collector = collectBlob('application/zip');
    await writeArchive(project, sources(audio), sources(pictures), (bytes) => collector.write(bytes));
    return collector.finish();
  },
});

export const openArchive = defineJob<{ readonly name: string; readonly file: Blob }, Archive<Blob>>({
  run: ({ name, file }) => readArchive(blobSource(file), effectCatalogue, `“${name}”`, () => collectBlob('')),
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
