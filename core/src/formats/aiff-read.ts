import { strFromU8 } from 'fflate';
import { DataError } from '../project/parse';
import type { AudioFile, FileDetails } from './audio-file';
import { UnknownFormat } from './audio-file';

const lowestRate = 2_000;
const highestRate = 768_000;
const mostChannels = 64;

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
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (!isAiff(bytes)) throw new DataError(`${what} is not an AIFF file: it does not begin with FORM … AIFF (byte 0).`);
  let layout: Layout | undefined;
  let sound: { start: number; size: number } | undefined;
  const details: { cues: FileDetails['cues'][number][]; description?: string; recordist?: string } = { cues: [] };
  for (let at = 12; at + 8 <= bytes.length;) {
    const id = idAt(view, at);
    const declared = view.getUint32(at + 4);
    const start = at + 8;
    const size = Math.min(declared, bytes.length - start);
    if (id === 'COMM') layout = readLayout(view, start, size, what);
    else if (id === 'SSND' && size >= 8) sound = { start: start + 8 + view.getUint32(start), size: size - 8 - view.getUint32(start) };
    else if (id === 'MARK' && size >= 2) details.cues = readMarkers(view, start, size);
    else if (id === 'ANNO' || id === 'NAME') details.description ??= textOf(bytes, start, size);
    else if (id === 'AUTH') details.recordist ??= textOf(bytes, start, size).slice(0, 200);
    at = start + size + (size % 2);
  }
  if (!layout) throw new DataError(`${what} has no “COMM” chunk, so its samples cannot be understood.`);
  if (!sound || sound.size <= 0) throw new DataError(`${what} has no “SSND” chunk: the file ends at byte ${bytes.length} without samples.`);
  const bytesPerSample = layout.type === 'fl64' ? 8 : Math.ceil(layout.bits / 8);
  const frameSize = bytesPerSample * layout.channels;
  const available = Math.floor(Math.min(sound.size, bytes.length - sound.start) / frameSize);
  const frames = Math.min(layout.frames, available);
  if (frames <= 0) throw new DataError(`${what} holds no samples.`);
  const notes =
    available < layout.frames ? [`The header promises ${layout.frames} frames, the file holds ${available}; read as far as it goes.`] : [];
  const read = sampleReader(new DataView(bytes.buffer, bytes.byteOffset + sound.start, frames * frameSize), layout, bytesPerSample);
  const channels = Array.from({ length: layout.channels }, (_, c) => {
    const channel = new Float32Array(frames);
    for (let i = 0; i < frames; i++) {
      const value = read(i * frameSize + c * bytesPerSample);
      channel[i] = Number.isFinite(value) ? value : 0;
    }
    return channel;
  });
  const float = layout.type === 'fl32' || layout.type === 'fl64';
  return {
    audio: { sampleRate: layout.sampleRate, channels },
    encoding: `${bytesPerSample * 8} bit${float ? ' float' : ''}`,
    notes,
    details: { ...details, cues: details.cues.filter(({ frame }) => frame < frames) },
  };
}

export function isAiff(bytes: Uint8Array): boolean {
  if (bytes.length < 12) return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, 12);
  return idAt(view, 0) === 'FORM' && (idAt(view, 8) === 'AIFF' || idAt(view, 8) === 'AIFC');
}

function idAt(view: DataView, offset: number): string {
  return String.fromCharCode(view.getUint8(offset), view.getUint8(offset + 1), view.getUint8(offset + 2), view.getUint8(offset + 3));
}

function textOf(bytes: Uint8Array, start: number, size: number): string {
  return strFromU8(bytes.subarray(start, start + size))
    .replaceAll('\0', '')
    .trim()
    .slice(0, 10_000);
}

function readLayout(view: DataView, start: number, size: number, what: string): Layout {
  const at = `(“COMM” chunk at byte ${start - 8})`;
  if (size < 18) throw new DataError(`${what} has a format description of ${size} bytes; at least 18 are needed ${at}.`);
  const channels = view.getInt16(start);
  const frames = view.getUint32(start + 2);
  const bits = view.getInt16(start + 6);
  const sampleRate = readExtended(view, start + 8);
  const type = size >= 22 ? idAt(view, start + 18) : 'NONE';
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

function readMarkers(view: DataView, start: number, size: number): FileDetails['cues'][number][] {
  const cues: FileDetails['cues'][number][] = [];
  const count = view.getUint16(start);
  let at = start + 2;
  for (let i = 0; i < count && at + 7 <= start + size; i++) {
    const frame = view.getUint32(at + 2);
    const length = Math.min(view.getUint8(at + 6), start + size - at - 7);
    const name = strFromU8(new Uint8Array(view.buffer, view.byteOffset + at + 7, length)).trim();
    cues.push({ name: name || `Cue ${i + 1}`, frame });
    // Names are Pascal strings, padded to an even length with their length byte.
    at += 7 + length + ((length + 1) % 2);
  }
  return cues;
}

function sampleReader(view: DataView, { type }: Layout, bytesPerSample: number): (offset: number) => number {
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
