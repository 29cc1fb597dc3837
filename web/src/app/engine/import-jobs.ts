import type { AudioStream } from '@tangled-choir/core';
import { importAudio, memoryStream, noDetails, openPcm, pcmStream } from '@tangled-choir/core';
import { blobSource, BlobTarget } from './blob-source';
import type { ImportedFile, ImportPreview, JobRequest } from './protocol';
import type { Codecs } from './run-job';

type Request<K extends JobRequest['kind']> = Extract<JobRequest, { kind: K }>;

/** Makes a source of a file, however large, without holding it. */
export async function importFile(
  { file, fileName, sampleRate }: Request<'import'>,
  progress: (share: number) => boolean,
  show: (preview: ImportPreview) => void,
  codecs: Codecs,
): Promise<ImportedFile> {
  const source = blobSource(file);
  const pcm = await openPcm(source, fileName);
  const stream = pcm ? pcmStream(source, pcm) : await codecs.openCompressed(file, `“${fileName}”`);
  const target = new BlobTarget(file);
  const imported = await importAudio(stream, fileName, target, {
    sampleRate,
    progress,
    show: (overview, seconds) => show({ overview, seconds }),
  });
  return { ...imported, wav: target.wav };
}

/** Makes a source of what the browser itself has decoded. */
export function importDecoded({ audio, fileName }: Request<'import decoded'>): Promise<ImportedFile> {
  const told = 'It was decoded by the browser, which converts it to the project’s rate.';
  const stream = memoryStream(audio, { encoding: 'decoded by the browser', notes: [told], details: noDetails });
  return fromMemory(stream, fileName, audio.sampleRate);
}

/** Makes a source of what a microphone recorded. */
export async function importTake({ audio, name, date, droppedFrames, sampleRate }: Request<'take'>): Promise<ImportedFile> {
  const lost = droppedFrames > 0 ? [`${droppedFrames} samples were lost while recording; they are silent.`] : [];
  const details = { cues: [], date, ...(lost[0] && { description: lost[0] }) };
  const imported = await fromMemory(memoryStream(audio, { encoding: '32 bit float', notes: lost, details }), name, sampleRate);
  const { source } = imported;
  return { ...imported, source: { ...source, origin: { ...source.origin, file: 'recorded here' } } };
}

async function fromMemory(stream: AudioStream, name: string, sampleRate: number): Promise<ImportedFile> {
  const target = new BlobTarget();
  const imported = await importAudio(stream, name, target, { sampleRate });
  return { ...imported, wav: target.wav };
}
