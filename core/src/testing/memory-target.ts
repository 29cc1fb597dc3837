import type { ByteSource } from '../formats/byte-source';
import { memorySource } from '../formats/byte-source';
import type { ImportTarget } from '../import/import-audio';

/** Puts a file together in memory. */
export class MemoryTarget implements ImportTarget {
  readonly written: Uint8Array[] = [];
  wav = new Uint8Array(0);

  /** @param file the file that is imported, whose samples may be taken as they are */
  constructor(private readonly file: Uint8Array = new Uint8Array(0)) {}

  write(bytes: Uint8Array): void {
    this.written.push(bytes);
  }

  finish(head: Uint8Array, samples: 'written' | { from: number; to: number }, tail: Uint8Array): ByteSource {
    const body = samples === 'written' ? this.written : [this.file.subarray(samples.from, samples.to)];
    const parts = [head, ...body, tail];
    this.wav = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0));
    let at = 0;
    for (const part of parts) {
      this.wav.set(part, at);
      at += part.length;
    }
    return memorySource(this.wav);
  }
}
