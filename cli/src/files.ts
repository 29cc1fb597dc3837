import { mkdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Audio } from '@tangled-choir/core';
import { readWav } from '@tangled-choir/core';
import { CommandFailure, wrongInput } from './failure';

/** A file's bytes. Fails with exit 2 when it cannot be read. */
export function readBytes(file: string): Uint8Array<ArrayBuffer> {
  try {
    if (!statSync(file).isFile()) throw wrongInput(`${file} is not a file.`);
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    if (typeof error === 'object' && error !== null && 'code' in error && error.code === 'ENOENT')
      throw wrongInput(`There is no file ${file}.`);
    throw error;
  }
}

export function readText(file: string): string {
  return new TextDecoder().decode(readBytes(file));
}

export function readAudio(file: string): Audio {
  return readWav(readBytes(file), file).audio;
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
