import type { ByteSource, Collector, ImportTarget } from '@tangled-choir/core';

/** A file or what the database keeps, read where it is needed. */
export function blobSource(blob: Blob): ByteSource {
  return { size: blob.size, read: async (from, to) => new Uint8Array(await blob.slice(from, to).arrayBuffer()) };
}

/** Pieces of less than this wait for others: blobs have a cost of their own. */
const blobBytes = 4 * 2 ** 20;

/** Collects into a blob: what is written goes to the browser's own storage of blobs, which may be a disk. */
export function collectBlob(type: string): Collector<Blob> {
  const blobs: Blob[] = [];
  let waiting: Uint8Array<ArrayBuffer>[] = [];
  let bytesWaiting = 0;
  const flush = (): void => {
    blobs.push(new Blob(waiting));
    waiting = [];
    bytesWaiting = 0;
  };
  return {
    write: (bytes) => {
      waiting.push(bytes);
      bytesWaiting += bytes.length;
      if (bytesWaiting >= blobBytes) flush();
    },
    finish: () => {
      flush();
      return new Blob(blobs, { type });
    },
  };
}

/** Puts the WAV file of an imported file together without holding it. */
export class BlobTarget implements ImportTarget {
  private readonly samples = collectBlob('');
  private whole = new Blob([]);

  /** @param file the file that is imported, whose samples may be taken as they are */
  constructor(private readonly file: Blob = new Blob([])) {}

  /** The finished file. */
  get wav(): Blob {
    return this.whole;
  }

  write(bytes: Uint8Array<ArrayBuffer>): void {
    this.samples.write(bytes);
  }

  finish(
    head: Uint8Array<ArrayBuffer>,
    samples: 'written' | { readonly from: number; readonly to: number },
    tail: Uint8Array<ArrayBuffer>,
  ): ByteSource {
    const body = samples === 'written' ? this.samples.finish() : this.file.slice(samples.from, samples.to);
    this.whole = new Blob([head, body, tail], { type: 'audio/wav' });
    return blobSource(this.whole);
  }
}
