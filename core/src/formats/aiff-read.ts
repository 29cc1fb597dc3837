import { strFromU8 } from 'fflate';
import { DataError } from '../project/parse';
import type { AudioFile, FileDetails } from './audio-file';
import { UnknownFormat } from './audio-file';
import type { Chunk } from './wav/chunks';
import { chunksInMemory, idAt, iff, viewOf } from './wav/chunks';
import type { PcmFile } from './pcm-file';
import { decodeWhole, silenceInvalid } from './pcm-file';

const lowestRate = 2_000;
const highestRate = 768_000;
const mostChannels = 64;

/** Types that say by themselves how long a sample is, whatever the header says beside. */
const sampleBytes: Readonly<Record<string, number>> = { fl32: 4, fl64: 8, in24: 3, in32: 4 };

interface Layout {
  readonly channels: number;
  readonly frames: number;
  readonly bits: number;
  readonly sampleRate: number;
  /** Compression type of AIFF-C; NONE for plain files. */
  readonly type: string;
}

/**
 * Reads AIFF and AIFF-C files: 8 to 32 bit integers in both byte orders, 32 and 64 bit float (Apple, Audio Interchange File Format 1.3 and
 * AIFF-C). Markers become cues. Throws DataError that names the byte where the file stops making sense.
 */
export function readAiff(bytes: Uint8Array, what = 'The file'): AudioFile {
  checkAiffStart(bytes, what);
  return decodeWhole(describeAiff(chunksInMemory(bytes, iff), bytes.length, what), bytes);
}

export function isAiff(bytes: Uint8Array): boolean {
  if (bytes.length < 12) return false;
  const view = viewOf(bytes);
  return idAt(view, 0) === 'FORM' && (idAt(view, 8) === 'AIFF' || idAt(view, 8) === 'AIFC');
}

/** Throws DataError when a file does not begin as an AIFF file does. */
export function checkAiffStart(start: Uint8Array, what: string): void {
  if (!isAiff(start)) throw new DataError(`${what} is not an AIFF file: it does not begin with FORM … AIFF (byte 0).`);
}

/** What the chunks of an AIFF file of `size` bytes say. Throws DataError as `readAiff` does. */
export function describeAiff(chunks: readonly Chunk[], fileSize: number, what: string): PcmFile {
  let layout: Layout | undefined;
  let sound: { start: number; size: number } | undefined;
  const details: { cues: FileDetails['cues'][number][]; description?: string; recordist?: string } = { cues: [] };
  for (const { id, start, size, body } of chunks) {
    if (id === 'COMM') layout = readLayout(body, start, what);
    else if (id === 'SSND' && size >= 8) sound = { start: start + 8 + body.getUint32(0), size: size - 8 - body.getUint32(0) };
    else if (id === 'MARK' && size >= 2) details.cues = readMarkers(body);
    else if (id === 'ANNO' || id === 'NAME') details.description ??= textOf(body);
    else if (id === 'AUTH') details.recordist ??= textOf(body).slice(0, 200);
  }
  if (!layout) throw new DataError(`${what} has no “COMM” chunk, so its samples cannot be understood.`);
  if (!sound || sound.size <= 0) throw new DataError(`${what} has no “SSND” chunk: the file ends at byte ${fileSize} without samples.`);
  const { channels, sampleRate, type } = layout;
  const bytesPerSample = sampleBytes[type] ?? Math.ceil(layout.bits / 8);
  const frameBytes = bytesPerSample * channels;
  const available = Math.floor(Math.min(sound.size, fileSize - sound.start) / frameBytes);
  const frames = Math.min(layout.frames, available);
  if (frames <= 0) throw new DataError(`${what} holds no samples.`);
  const notes =
    available < layout.frames ? [`The header promises ${layout.frames} frames, the file holds ${available}; read as far as it goes.`] : [];
  const float = type === 'fl32' || type === 'fl64';
  return {
    sampleRate,
    channelCount: channels,
    frames,
    encoding: `${bytesPerSample * 8} bit${float ? ' float' : ''}`,
    notes,
    details: { ...details, cues: details.cues.filter(({ frame }) => frame < frames) },
    start: sound.start,
    frameBytes,
    decode: (bytes, target) => {
      const count = Math.floor(bytes.length / frameBytes);
      const read = sampleReader(viewOf(bytes), type, bytesPerSample);
      target.forEach((channel, c) => {
        for (let i = 0, at = c * bytesPerSample; i < count; i++, at += frameBytes) channel[i] = read(at);
      });
      return float ? silenceInvalid(target, count) : 0;
    },
  };
}

function textOf(body: DataView): string {
  return strFromU8(new Uint8Array(body.buffer, body.byteOffset, body.byteLength))
    .replaceAll('\0', '')
    .trim()
    .slice(0, 10_000);
}

function readLayout(view: DataView, start: number, what: string): Layout {
  const size = view.byteLength;
  const at = `(“COMM” chunk at byte ${start - 8})`;
  if (size < 18) throw new DataError(`${what} has a format description of ${size} bytes; at least 18 are needed ${at}.`);
  const channels = view.getInt16(0);
  const frames = view.getUint32(2);
  const bits = view.getInt16(6);
  const sampleRate = readExtended(view, 8);
  const type = size >= 22 ? idAt(view, 18) : 'NONE';
  if (channels < 1 || channels > mostChannels)
    throw new DataError(`${what} declares ${channels} channels; 1 to ${mostChannels} can be read ${at}.`);
  if (!(sampleRate >= lowestRate && sampleRate <= highestRate))
    throw new DataError(`${what} declares a sampling rate of ${sampleRate} Hz; ${lowestRate} to ${highestRate} can be read ${at}.`);
  const known = ['NONE', 'twos', 'sowt', 'in24', 'in32', 'fl32', 'FL32', 'fl64', 'FL64'];
  if (!known.includes(type)) throw new UnknownFormat(`${what} is compressed as “${type}”, which cannot be read ${at}.`);
  if (bits < 1 || bits > 64) throw new DataError(`${what} has samples of ${bits} bits; 1 to 64 can be read ${at}.`);
  return { channels, frames, bits, sampleRate, type: type.startsWith('FL') ? type.toLowerCase() : type };
}

/** An 80-bit IEEE 754 extended number, which AIFF uses for its sampling rate. */
function readExtended(view: DataView, offset: number): number {
  const exponent = view.getUint16(offset) & 0x7fff;
  const high = view.getUint32(offset + 2);
  const low = view.getUint32(offset + 6);
  return (high * 2 ** -31 + low * 2 ** -63) * 2 ** (exponent - 16_383);
}

function readMarkers(view: DataView): FileDetails['cues'][number][] {
  const cues: FileDetails['cues'][number][] = [];
  const count = view.getUint16(0);
  let at = 2;
  for (let i = 0; i < count && at + 7 <= view.byteLength; i++) {
    const frame = view.getUint32(at + 2);
    const length = Math.min(view.getUint8(at + 6), view.byteLength - at - 7);
    const name = strFromU8(new Uint8Array(view.buffer, view.byteOffset + at + 7, length)).trim();
    cues.push({ name: name || `Cue ${i + 1}`, frame });
    // Names are Pascal strings, padded to an even length with their length byte.
    at += 7 + length + ((length + 1) % 2);
  }
  return cues;
}

function sampleReader(view: DataView, type: string, bytesPerSample: number): (offset: number) => number {
  if (type === 'fl32') return (offset) => view.getFloat32(offset);
  if (type === 'fl64') return (offset) => view.getFloat64(offset);
  const little = type === 'sowt';
  switch (bytesPerSample) {
    case 1:
      return (offset) => view.getInt8(offset) / 128;
    case 2:
      return (offset) => view.getInt16(offset, little) / 32_768;
    case 3:
      return little
        ? (offset) => ((view.getInt8(offset + 2) << 16) | view.getUint16(offset, true)) / 8_388_608
        : (offset) => ((view.getInt8(offset) << 16) | view.getUint16(offset + 1)) / 8_388_608;
    default:
      return (offset) => view.getInt32(offset, little) / 2_147_483_648;
  }
}
