import { strFromU8 } from 'fflate';
import { DataError } from '../../project/parse';
import type { Frames } from '../../units';
import type { FileDetails } from '../audio-file';
import { noDetails } from '../audio-file';
import type { ByteSource } from '../byte-source';
import type { FlacInfo } from './flac-frame';
import { FlacBlockReader, mayBeginBlock } from './flac-frame';

/** What the metadata of a FLAC file say, and where its blocks begin. */
export interface FlacFile extends FlacInfo {
  readonly details: FileDetails;
  readonly blocksFrom: number;
}

/** No block is longer: 65535 frames of eight channels of 32 bits, written out. */
const longestBlock = 65_536 * 8 * 4.2;
/** Bytes that are read at once. */
const readBytes = 4_194_304;
/** So much silence at most stands for what is damaged where the file does not say how long it is. */
const longestGap: Frames = 2 ** 25;
/** Silence comes in pieces, too. */
const silentPiece: Frames = 2 ** 16;

/** Where in a file the FLAC stream begins, behind tags that do not belong there; undefined where it is none. */
export async function flacStart(source: ByteSource): Promise<number | undefined> {
  const start = await source.read(0, 10);
  const tagged = start.length === 10 && strFromU8(start.subarray(0, 3), true) === 'ID3';
  const at = tagged ? 10 + start.subarray(6).reduce((size, byte) => size * 128 + (byte & 0x7f), 0) : 0;
  return strFromU8(await source.read(at, at + 4), true) === 'fLaC' ? at : undefined;
}

/** Reads the metadata of a FLAC file (RFC 9639). Rejects with DataError that names what is wrong and where. */
export async function describeFlac(source: ByteSource, start: number, what: string): Promise<FlacFile> {
  let info: FlacInfo | undefined;
  let details: FileDetails = noDetails;
  let at = start + 4;
  for (let last = false; !last;) {
    const head = await source.read(at, at + 4);
    if (head.length < 4) throw new DataError(`${what} ends at byte ${source.size}, within its metadata.`);
    last = head[0]! > 127;
    const length = head[1]! * 65_536 + head[2]! * 256 + head[3]!;
    const kind = head[0]! & 127;
    if (kind === 0) info = readInfo(await source.read(at + 4, at + 4 + length), at, what);
    if (kind === 4) details = readComments(await source.read(at + 4, at + 4 + length));
    at += 4 + length;
  }
  if (!info) throw new DataError(`${what} does not say how it is to be read: it has no STREAMINFO (byte ${start + 4}).`);
  return { ...info, details, blocksFrom: at };
}

function readInfo(bytes: Uint8Array, at: number, what: string): FlacInfo {
  if (bytes.length < 34) throw new DataError(`${what} has a STREAMINFO of ${bytes.length} bytes; 34 are needed (byte ${at}).`);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packed = view.getUint32(10);
  const sampleRate = packed >>> 12;
  const bits = ((packed >>> 4) & 31) + 1;
  if (sampleRate < 2_000 || sampleRate > 768_000)
    throw new DataError(`${what} declares a sampling rate of ${sampleRate} Hz; 2000 to 768000 can be read (byte ${at + 14}).`);
  return {
    sampleRate,
    channelCount: ((packed >>> 9) & 7) + 1,
    bits,
    frames: (packed & 15) * 2 ** 32 + view.getUint32(14),
    blockFrames: view.getUint16(0),
  };
}

/** Vorbis comments (RFC 9639, 8.6), as far as they say what other files say, too. */
function readComments(bytes: Uint8Array): FileDetails {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const said = new Map<string, string>();
  let at = 4 + (bytes.length >= 4 ? view.getUint32(0, true) : 0);
  let count = at + 4 <= bytes.length ? view.getUint32(at, true) : 0;
  for (at += 4; count > 0 && at + 4 <= bytes.length; count--) {
    const length = view.getUint32(at, true);
    const [name = '', ...words] = strFromU8(bytes.subarray(at + 4, Math.min(bytes.length, at + 4 + length))).split('=');
    said.set(name.toUpperCase(), words.join('='));
    at += 4 + length;
  }
  const of = (...names: readonly string[]): string[] => names.flatMap((name) => said.get(name) ?? []);
  const description = of('TITLE', 'DESCRIPTION', 'COMMENT').join('\n').slice(0, 10_000);
  const [recordist] = of('ARTIST');
  const [date] = of('DATE').filter((text) => /^\d{4}-\d\d-\d\d/.test(text));
  return {
    ...noDetails,
    ...(description && { description }),
    ...(recordist && { recordist: recordist.slice(0, 200) }),
    ...(date && { date: date.slice(0, 10) }),
  };
}

/**
 * The samples of a FLAC file, block after block. What is damaged is left out, with silence in its place; `damage` is told how many frames that are, and where.
 */
export async function* flacPieces(
  source: ByteSource,
  file: FlacFile,
  damage: (from: Frames, frames: Frames) => void,
): AsyncGenerator<readonly Float32Array[]> {
  const reader = new FlacBlockReader(file);
  let window = new Uint8Array(0);
  let windowAt = file.blocksFrom;
  let done: Frames = 0;
  let at = file.blocksFrom;
  while (at < source.size) {
    if (at + longestBlock > windowAt + window.length && windowAt + window.length < source.size) {
      window = new Uint8Array(await source.read(at, at + longestBlock + readBytes));
      windowAt = at;
    }
    const block = reader.read(window, at - windowAt);
    // What comes before its time, or behind the end, was found by chance within damaged bytes.
    const latest = file.frames > 0 ? file.frames : done + longestGap;
    if (!block || block.start < done || block.start > latest) {
      at = nextBlock(window, at - windowAt + 1) + windowAt;
      continue;
    }
    if (block.start > done) {
      damage(done, block.start - done);
      for (let at = done; at < block.start; at += silentPiece) yield silence(file.channelCount, Math.min(silentPiece, block.start - at));
    }
    const scale = 2 ** (1 - block.bits);
    yield block.channels.map((channel) => scaled(channel, block.frames, scale));
    done = block.start + block.frames;
    at += block.length;
  }
  if (file.frames > done) damage(done, file.frames - done);
}

function silence(channelCount: number, frames: Frames): Float32Array[] {
  return Array.from({ length: channelCount }, () => new Float32Array(frames));
}

function scaled(numbers: Float64Array, frames: Frames, scale: number): Float32Array {
  const samples = new Float32Array(frames);
  for (let i = 0; i < frames; i++) samples[i] = numbers[i]! * scale;
  return samples;
}

function nextBlock(bytes: Uint8Array, from: number): number {
  let at = bytes.indexOf(0xff, from);
  while (at >= 0 && at + 4 <= bytes.length && !mayBeginBlock(bytes, at)) at = bytes.indexOf(0xff, at + 1);
  return at < 0 ? bytes.length : at;
}
