import type { Entry } from '@zip.js/zip.js';
import { ERR_UNSAFE_FILENAME, Reader, Writer, ZipReader, ZipWriter } from '@zip.js/zip.js';
import { DataError } from '../project/parse';
import type { ByteSource } from './byte-source';
import { memorySource } from './byte-source';

/** Takes bytes piece by piece and makes something of them: an array, a file. */
export interface Collector<T> {
  write(bytes: Uint8Array<ArrayBuffer>): void;
  finish(): T;
}

/** A file within a zip. */
export interface ZipEntry {
  readonly name: string;
  /** Bytes as it is, and as it lies in the zip. */
  readonly size: number;
  readonly packedSize: number;
  /** Hands out its bytes piece by piece. Rejects with DataError when they are damaged. */
  extract(write: (bytes: Uint8Array<ArrayBuffer>) => void): Promise<void>;
}

const mostEntries = 20_001;
/** Everything is done where it is called: who wants it beside something else calls it in a worker. */
const here = { useWebWorkers: false } as const;

/** Whether something begins as zips do, and is long enough for one. */
export async function isZip(source: ByteSource): Promise<boolean> {
  const start = await source.read(0, 2);
  return source.size >= 22 && start[0] === 0x50 && start[1] === 0x4b;
}

/** The entries of a zip, folders left out. Rejects with DataError when it is none or damaged; `what` is how errors call it. */
export async function openZip(source: ByteSource, what: string): Promise<ZipEntry[]> {
  if (!(await isZip(source))) throw new DataError(`${what} is not a zip file.`);
  const reader = new ZipReader(new SourceReader(source), here);
  const entries: ZipEntry[] = [];
  try {
    for await (const entry of reader.getEntriesGenerator()) {
      if (entries.length >= mostEntries) throw new DataError(`${what} has more than ${mostEntries} entries.`);
      if (!entry.directory) entries.push(entryOf(entry, what));
    }
    return entries;
  } catch (error) {
    throw damaged(what, error);
  }
}

function entryOf(entry: Exclude<Entry, { directory: true }>, what: string): ZipEntry {
  const { filename: name, uncompressedSize: size, compressedSize: packedSize } = entry;
  return {
    name,
    size,
    packedSize,
    extract: async (write) => {
      let written = 0;
      const counted = (bytes: Uint8Array<ArrayBuffer>): void => {
        written += bytes.length;
        if (written > size) throw new DataError(`${what} is damaged: “${name}” is longer than it says.`);
        write(bytes);
      };
      await entry.getData(new PieceWriter(counted), { ...here, checkSignature: true }).catch((error: unknown) => {
        throw damaged(what, error);
      });
      if (written !== size) throw new DataError(`${what} is damaged: “${name}” is shorter than it says.`);
    },
  };
}

/** Packs files into a zip, whose bytes are handed out piece by piece. */
export class ZipMaker {
  private readonly writer: ZipWriter<unknown>;

  constructor(write: (bytes: Uint8Array<ArrayBuffer>) => void) {
    this.writer = new ZipWriter(new PieceWriter(write), here);
  }

  /** Adds a file; names must be unique. `pack` makes it smaller, which is not worth it for audio. */
  async add(name: string, source: ByteSource, { pack }: { readonly pack: boolean }): Promise<void> {
    // A fixed date makes equal contents equal zips.
    const lastModDate = new Date(2020, 0, 1, 12);
    await this.writer.add(name, new SourceReader(source), { ...here, level: pack ? 6 : 0, lastModDate, extendedTimestamp: false });
  }

  async finish(): Promise<void> {
    await this.writer.close();
  }
}

/** A zip of files that are compressed already or do not compress, such as WAV; names must be unique. */
export async function zipFiles(files: Readonly<Record<string, Uint8Array>>): Promise<Uint8Array<ArrayBuffer>> {
  const collector = collectBytes();
  const zip = new ZipMaker((bytes) => collector.write(bytes));
  for (const [name, bytes] of Object.entries(files)) await zip.add(name, memorySource(bytes), { pack: false });
  await zip.finish();
  return collector.finish();
}

/**
 * Collects into one array. With its size, what is large is never held twice; more bytes than that are a DataError, because a zip may say anything of
 * its files.
 */
export function collectBytes(size?: number): Collector<Uint8Array<ArrayBuffer>> {
  if (size !== undefined) return collectInto(new Uint8Array(size));
  const pieces: Uint8Array[] = [];
  return {
    write: (bytes) => void pieces.push(bytes),
    finish: () => {
      const whole = collectInto(new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0)));
      for (const piece of pieces) whole.write(piece);
      return whole.finish();
    },
  };
}

function collectInto(whole: Uint8Array<ArrayBuffer>): {
  write(bytes: Uint8Array): void;
  finish(): Uint8Array<ArrayBuffer>;
} {
  let at = 0;
  return {
    write: (bytes) => {
      if (at + bytes.length > whole.length)
        throw new DataError(`It unpacks to more than the ${whole.length} bytes that it says of itself.`);
      whole.set(bytes, at);
      at += bytes.length;
    },
    finish: () => (at === whole.length ? whole : whole.slice(0, at)),
  };
}

class SourceReader extends Reader<ByteSource> {
  constructor(private readonly source: ByteSource) {
    super(source);
    this.size = source.size;
  }

  override readUint8Array(index: number, length: number): Promise<Uint8Array> {
    return this.source.read(index, Math.min(this.source.size, index + length));
  }
}

class PieceWriter extends Writer<undefined> {
  constructor(private readonly write: (bytes: Uint8Array<ArrayBuffer>) => void) {
    super();
  }

  override writeUint8Array(array: Uint8Array): Promise<void> {
    // The packer may use its buffer again.
    this.write(array.slice());
    return Promise.resolve();
  }
}

function damaged(what: string, error: unknown): DataError {
  if (error instanceof DataError) return error;
  if (error instanceof Error && error.message === ERR_UNSAFE_FILENAME && 'filename' in error)
    return new DataError(
      `${what} has an entry “${String(error.filename).slice(0, 100)}”, which does not belong there: its name leads elsewhere.`,
    );
  return new DataError(`${what} cannot be unpacked: ${error instanceof Error ? error.message : 'it is damaged'}.`);
}
