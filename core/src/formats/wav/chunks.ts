import type { ByteSource } from '../byte-source';

/** How files of chunks differ: RIFF (WAV) and IFF (AIFF). */
export interface ChunkFormat {
  readonly littleEndian: boolean;
  /** The chunk that holds the samples; only its first bytes are read with it. */
  readonly samples: string;
}

export const riff: ChunkFormat = { littleEndian: true, samples: 'data' };
export const iff: ChunkFormat = { littleEndian: false, samples: 'SSND' };

/** A chunk's place in its file. */
interface ChunkPlace {
  readonly id: string;
  /** Where its content begins, how long that is in the file, and how long its header says that it is. */
  readonly start: number;
  readonly size: number;
  readonly declared: number;
}

/** A chunk with its content: of samples the first bytes, of others at most 4 MiB. */
export interface Chunk extends ChunkPlace {
  readonly body: DataView;
}

/** Size that writers leave in a header they could not go back to. */
export const unknownSize = 0xffffffff;
const firstChunk = 12;
const headerBytes = 8;
const mostChunks = 10_000;
const mostBodyBytes = 4 * 2 ** 20;
/** Of a chunk of samples these are read: AIFF has two numbers in front of them. */
const samplesHead = 8;
/** Bytes that are read at once, because most chunks are small and lie side by side. */
const windowBytes = 65_536;

export function viewOf(bytes: Uint8Array): DataView {
  return new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
}

/** Four characters. */
export function idAt(view: DataView, offset: number): string {
  return String.fromCharCode(view.getUint8(offset), view.getUint8(offset + 1), view.getUint8(offset + 2), view.getUint8(offset + 3));
}

/** The chunks of a file in memory. */
export function chunksInMemory(bytes: Uint8Array, format: ChunkFormat): Chunk[] {
  const chunks: Chunk[] = [];
  for (let at = firstChunk; at + headerBytes <= bytes.length && chunks.length < mostChunks;) {
    const place = placeOf(bytes.subarray(at, at + headerBytes), at, bytes.length, format);
    chunks.push({ ...place, body: viewOf(bytes.subarray(place.start, place.start + bodyBytes(place, format))) });
    at = behind(place, format);
  }
  return chunks;
}

/** The chunks of a file that is read where it is needed: of their content no more than is asked for by `Chunk`. */
export async function readChunks(source: ByteSource, format: ChunkFormat): Promise<Chunk[]> {
  const chunks: Chunk[] = [];
  let window = { from: 0, bytes: new Uint8Array(0) };
  const read = async (from: number, to: number): Promise<Uint8Array> => {
    const known = from >= window.from && to <= window.from + window.bytes.length;
    if (!known) window = { from, bytes: new Uint8Array(await source.read(from, Math.min(source.size, Math.max(to, from + windowBytes)))) };
    return window.bytes.subarray(from - window.from, to - window.from);
  };
  for (let at = firstChunk; at + headerBytes <= source.size && chunks.length < mostChunks;) {
    const place = placeOf(await read(at, at + headerBytes), at, source.size, format);
    chunks.push({ ...place, body: viewOf((await read(place.start, place.start + bodyBytes(place, format))).slice()) });
    at = behind(place, format);
  }
  return chunks;
}

function placeOf(header: Uint8Array, at: number, fileSize: number, { littleEndian }: ChunkFormat): ChunkPlace {
  const view = viewOf(header);
  const declared = view.getUint32(4, littleEndian);
  const start = at + headerBytes;
  return { id: idAt(view, 0), start, size: Math.min(declared, fileSize - start), declared };
}

function bodyBytes({ id, size }: ChunkPlace, { samples }: ChunkFormat): number {
  return Math.min(size, id === samples ? samplesHead : mostBodyBytes);
}

/** Where the next chunk begins. Samples without a known size reach to the end of the file. */
function behind({ id, start, size, declared }: ChunkPlace, { samples }: ChunkFormat): number {
  return id === samples && declared === unknownSize ? Infinity : start + size + (size % 2);
}
