import { closeSync, fstatSync, mkdirSync, openSync, readSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Archive, Audio, ByteSource, Project, Recording } from '@tangled-choir/core';
import { collectBytes, effectCatalogue, memorySource, openWav, pcmRecording, readArchive } from '@tangled-choir/core';
import type { SharedAudio } from '@tangled-choir/jobs';
import { readShared } from '@tangled-choir/jobs';
import { CommandFailure, wrongInput } from './failure';

/** Samples over all channels that are held of one file: two hours in stereo. */
const mostSamples = 2 ** 30;
/** Frames that are read at once. */
const pieceFrames = 2 ** 18;

/** A file that is read where it is needed, for as long as `work` takes. Fails with exit 2 when it cannot be read. */
export async function withFile<T>(file: string, work: (source: ByteSource) => Promise<T>): Promise<T> {
  const descriptor = openFile(file);
  try {
    const { size } = fstatSync(descriptor);
    return await work({ size, read: (from, to) => Promise.resolve(readPart(descriptor, from, Math.min(to, size), file)) });
  } finally {
    closeSync(descriptor);
  }
}

function openFile(file: string): number {
  if (statSync(file, { throwIfNoEntry: false })?.isFile() === false) throw wrongInput(`${file} is not a file.`);
  try {
    return openSync(file, 'r');
  } catch (error) {
    if (typeof error === 'object' && error !== null && 'code' in error && error.code === 'ENOENT')
      throw wrongInput(`There is no file ${file}.`);
    throw wrongInput(`${file} could not be read: ${reasonOf(error)}.`);
  }
}

function readPart(descriptor: number, from: number, to: number, file: string): Uint8Array<ArrayBuffer> {
  try {
    const bytes = new Uint8Array(Math.max(0, to - from));
    let filled = 0;
    while (filled < bytes.length) {
      const read = readSync(descriptor, bytes, filled, bytes.length - filled, from + filled);
      if (read === 0) break;
      filled += read;
    }
    return bytes.subarray(0, filled);
  } catch (error) {
    throw wrongInput(`${file} could not be read: ${reasonOf(error)}.`);
  }
}

/** A file's bytes. Fails with exit 2 when it cannot be read, or has more than can be held at once. */
export function readBytes(file: string): Uint8Array<ArrayBuffer> {
  const descriptor = openFile(file);
  try {
    const { size } = fstatSync(descriptor);
    if (size >= 2 ** 31) throw wrongInput(`${file} has ${(size / 2 ** 30).toFixed(1)} GB, more than can be read at once (2 GB).`);
    return readPart(descriptor, 0, size, file);
  } finally {
    closeSync(descriptor);
  }
}

export function readText(file: string): string {
  return new TextDecoder().decode(readBytes(file));
}

/** A WAV file whose samples are read where they are needed, for as long as `work` takes. Fails with exit 2 where it is none. */
export function withRecording<T>(file: string, work: (recording: Recording) => Promise<T>): Promise<T> {
  return withFile(file, async (source) => work(pcmRecording(source, await openWav(source, file))));
}

/** The samples of a WAV file. Fails with exit 2 when it cannot be read, or has more than can be held. */
export function readAudio(file: string): Promise<Audio> {
  return withRecording(file, async ({ sampleRate, channelCount, frames, read }) => {
    if (frames * channelCount > mostSamples)
      throw wrongInput(
        `${file} lasts ${Math.round(frames / sampleRate / 60)} minutes, more than can be held at once; cut it into parts first.`,
      );
    const channels = Array.from({ length: channelCount }, () => new Float32Array(frames));
    for (let at = 0; at < frames; at += pieceFrames) {
      const piece = await read(at, Math.min(frames, at + pieceFrames));
      channels.forEach((channel, c) => channel.set(piece.channels[c]!, at));
    }
    return { sampleRate, channels };
  });
}

/** A project and its audio. Fails with exit 2 where something is wrong with its archive. */
export function readProject(file: string): Promise<Archive> {
  return withFile(file, (source) => readArchive(source, effectCatalogue, file, collectBytes));
}

/** A project and the samples of its recordings, by hash; not the files that they lie in, which would be held beside them. */
export async function readSounds(file: string): Promise<{ readonly project: Project; readonly recordings: Map<string, SharedAudio> }> {
  const { project, audio } = await readProject(file);
  return { project, recordings: await samplesOf(audio) };
}

/** The samples of recordings, by hash. */
async function samplesOf(audio: Archive['audio']): Promise<Map<string, SharedAudio>> {
  const recordings = new Map<string, SharedAudio>();
  for (const [hash, wav] of audio) {
    const source = memorySource(wav);
    recordings.set(hash, await readShared(pcmRecording(source, await openWav(source, hash))));
  }
  return recordings;
}

/** Fails with exit 2 where a folder to write to is a file. */
export function checkFolder(folder: string): void {
  if (statSync(folder, { throwIfNoEntry: false })?.isFile()) throw wrongInput(`${folder} is a file; --out is a folder.`);
}

/** Writes a file whole or not at all. Fails with exit 1 where the disk is full or the folder cannot be written to. */
export function writeBytes(file: string, bytes: Uint8Array): void {
  // What is there and no file, such as a pipe, is written to as it is.
  const isFile = statSync(file, { throwIfNoEntry: false })?.isFile() ?? true;
  const target = isFile ? `${file}.part` : file;
  try {
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(target, bytes);
    if (isFile) renameSync(target, file);
  } catch (error) {
    if (isFile) rmSync(target, { force: true });
    throw notWritten(file, error);
  }
}

/** Says why something could not be written, in words; exit 1. */
export const notWritten = (file: string, error: unknown): CommandFailure =>
  new CommandFailure(`${file} could not be written: ${reasonOf(error)}.`, 1);

const reasons: Readonly<Record<string, string>> = {
  ENOSPC: 'the disk is full',
  EDQUOT: 'there is no room left for you',
  EROFS: 'the disk is read-only',
  EACCES: 'it is not allowed',
  EPERM: 'it is not allowed',
  ENOTDIR: 'a part of its path is a file',
  EEXIST: 'a part of its path is a file',
  EISDIR: 'it is a folder',
  ENAMETOOLONG: 'its name is too long for this disk',
};

function reasonOf(error: unknown): string {
  const code = typeof error === 'object' && error !== null && 'code' in error ? String(error.code) : '';
  return reasons[code] ?? (error instanceof Error ? error.message : String(error));
}
