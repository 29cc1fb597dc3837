import { closeSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { memorySource, ZipMaker } from '@tangled-choir/core';
import { notWritten, writeBytes } from './files';

/** Where delivered files go. */
export interface DeliveryTarget {
  write(path: string, bytes: Uint8Array<ArrayBuffer>): Promise<void>;
  finish(): Promise<void>;
  /** What was begun is of no use to anybody. */
  drop(): void;
}

export function folderTarget(folder: string): DeliveryTarget {
  return {
    write: (path, bytes) => {
      writeBytes(join(folder, path), bytes);
      return Promise.resolve();
    },
    finish: () => Promise.resolve(),
    // Files that are whole stay; they count when the same is delivered again.
    drop: () => undefined,
  };
}

/** A zip that takes its place when it is whole; what is in it is written through, and not held. */
export function zipTarget(file: string): DeliveryTarget {
  const unfinished = `${file}.part`;
  const guarded = <T>(work: () => T): T => {
    try {
      return work();
    } catch (error) {
      throw notWritten(file, error);
    }
  };
  const handle = guarded(() => {
    mkdirSync(dirname(file), { recursive: true });
    return openSync(unfinished, 'w');
  });
  const zip = new ZipMaker((bytes) => void guarded(() => writeSync(handle, bytes)));
  // Files come from many workers; a zip takes one after the other.
  let last: Promise<void> = Promise.resolve();
  return {
    write: (path, bytes) => (last = last.then(() => zip.add(path, memorySource(bytes), { pack: false }))),
    async finish() {
      await last;
      await zip.finish();
      closeSync(handle);
      guarded(() => renameSync(unfinished, file));
    },
    drop() {
      closeSync(handle);
      rmSync(unfinished, { force: true });
    },
  };
}
