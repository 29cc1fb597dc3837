import type { AudioStream, Overview } from '@tangled-choir/core';
import { importAudio, memoryStream, noDetails, openFlac, openPcm, pcmStream, readZip } from '@tangled-choir/core';
import { blobSource, BlobTarget, collectBlob } from './blobs';
import { defineJob } from './job';
import type { SharedAudio } from './shared-audio';
import type { StoredSource } from './stored';

/** A file made ready as a source, and what was not quite right with it. */
export type ImportedFile = StoredSource & { readonly notes: readonly string[] };

/** What there is to see of a recording while it is still being imported. */
export interface ImportPreview {
  readonly overview: Overview;
  readonly seconds: number;
}

/** Makes a source of a file, however large, without holding it. */
export const importFile = defineJob<
  { readonly fileName: string; readonly file: Blob; readonly sampleRate: number },
  ImportedFile,
  ImportPreview
>({
  async run({ file, fileName, sampleRate }, { progress, show, codecs }) {
    const source = blobSource(file);
    const pcm = await openPcm(source, fileName);
    const what = `“${fileName}”`;
    const stream = pcm ? pcmStream(source, pcm) : ((await openFlac(source, what)) ?? (await codecs.openCompressed(file, what)));
    const target = new BlobTarget(file);
    const imported = await importAudio(stream, fileName, target, {
      sampleRate,
      progress,
      show: (overview, seconds) => show({ overview, seconds }),
    });
    return { ...imported, wav: target.wav };
  },
});

/** Makes a source of a file that only the browser itself could decode. */
export const importDecoded = defineJob<{ readonly fileName: string; readonly audio: SharedAudio }, ImportedFile>({
  run({ audio, fileName }) {
    const told = 'It was decoded by the browser, which converts it to the project’s rate.';
    const stream = memoryStream(audio, { encoding: 'decoded by the browser', notes: [told], details: noDetails });
    return fromMemory(stream, fileName, audio.sampleRate);
  },
});

/** Makes a source of what a microphone recorded. */
export const importTake = defineJob<
  {
    readonly audio: SharedAudio;
    readonly name: string;
    readonly date: string;
    readonly droppedFrames: number;
    readonly sampleRate: number;
  },
  ImportedFile
>({
  async run({ audio, name, date, droppedFrames, sampleRate }) {
    const lost = droppedFrames > 0 ? [`${droppedFrames} samples were lost while recording; they are silent.`] : [];
    const details = { cues: [], date, ...(lost[0] && { description: lost[0] }) };
    const imported = await fromMemory(memoryStream(audio, { encoding: '32 bit float', notes: lost, details }), name, sampleRate);
    const { source } = imported;
    return { ...imported, source: { ...source, origin: { ...source.origin, file: 'recorded here' } } };
  },
});

/** The sound files in a zip, by their paths. */
export const unzip = defineJob<{ readonly name: string; readonly file: Blob }, ReadonlyMap<string, Blob>>({
  run: ({ name, file }) => readZip(blobSource(file), isSoundFile, `“${name}”`, () => collectBlob('')),
});

async function fromMemory(stream: AudioStream, name: string, sampleRate: number): Promise<ImportedFile> {
  const target = new BlobTarget();
  const imported = await importAudio(stream, name, target, { sampleRate });
  return { ...imported, wav: target.wav };
}

/** Endings of files that may be sound; the rest of a folder or a zip is left alone. */
const soundEndings = /\.(wav|wave|bwf|aiff?|aifc|flac|ogg|oga|opus|mp3|m4a|mp4|aac|webm|caf|w64)$/i;

export function isSoundFile(path: string): boolean {
  return soundEndings.test(path);
}
