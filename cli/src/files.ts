import { mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { Audio } from '@tangled-choir/core';
import { readWav } from '@tangled-choir/core';
import { wrongInput } from './failure';

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

export function writeBytes(file: string, bytes: Uint8Array): void {
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(file, bytes);
}
