import { DataError } from '../../project/parse';
import type { AudioFile } from '../audio-file';
import { UnknownFormat } from '../audio-file';
import type { Chunk } from './chunks';
import { chunksInMemory, idAt, riff, unknownSize, viewOf } from './chunks';
import type { PcmFile } from '../pcm-file';
import { decodeWhole, silenceInvalid } from '../pcm-file';
import { readWavDetails } from './wav-details';

const pcmFormat = 1;
const floatFormat = 3;
const extensibleFormat = 0xfffe;
const lowestRate = 2_000;
const highestRate = 768_000;
const mostChannels = 64;

interface Layout {
  readonly format: number;
  readonly channels: number;
  readonly sampleRate: number;
  readonly bytesPerSample: number;
}

/**
 * Reads RIFF, RF64 and BW64 WAV files: 8 to 32 bit integer, 32 and 64 bit float, plain or extensible, any number of other chunks.
 * A data chunk that promises more than the file holds is read as far as it goes, with a note. Throws DataError that names the
 * byte where the file stops making sense.
 * @param bytes the whole file
 * @param what how errors call it, usually its name
 */
export function readWav(bytes: Uint8Array, what = 'The file'): AudioFile {
  checkWavStart(bytes, bytes.length, what);
  return decodeWhole(describeWav(chunksInMemory(bytes, riff), bytes.length, what), bytes);
}

export function isWav(bytes: Uint8Array): boolean {
  if (bytes.length < 12) return false;
  const view = viewOf(bytes);
  return ['RIFF', 'RF64', 'BW64'].includes(idAt(view, 0)) && idAt(view, 8) === 'WAVE';
}

/** Throws DataError when a file of `size` bytes does not begin as a WAV file does. */
export function checkWavStart(start: Uint8Array, size: number, what: string): void {
  if (size === 0) throw new DataError(`${what} is empty (0 bytes).`);
  if (size < 12) throw new DataError(`${what} is too short for a WAV file (${size} bytes).`);
  if (!isWav(start)) throw new DataError(`${what} is not a WAV file: it does not begin with RIFF … WAVE (byte 0).`);
}

/** What the chunks of a WAV file of `size` bytes say. Throws DataError as `readWav` does. */
export function describeWav(chunks: readonly Chunk[], fileSize: number, what: string): PcmFile {
  let layout: Layout | undefined;
  let data: Chunk | undefined;
  let largeDataSize: number | undefined;
  for (const chunk of chunks) {
    if (chunk.id === 'ds64' && chunk.size >= 24) largeDataSize = Number(chunk.body.getBigUint64(8, true));
    else if (chunk.id === 'fmt ') layout = readLayout(chunk, what);
    else if (chunk.id === 'data' && !data) data = chunk;
  }
  if (!layout) throw new DataError(`${what} has no “fmt ” chunk, so its samples cannot be understood.`);
  if (!data) throw new DataError(`${what} has no “data” chunk: the file ends at byte ${fileSize} without samples.`);

  const notes: string[] = [];
  const frameBytes = layout.bytesPerSample * layout.channels;
  const available = fileSize - data.start;
  const declared = data.declared === unknownSize ? (largeDataSize ?? available) : data.declared;
  const size = Math.min(declared, available);
  if (declared > available)
    notes.push(`The header promises ${declared} bytes of samples, the file holds ${available}; read as far as it goes.`);
  const frames = Math.floor(size / frameBytes);
  if (frames === 0)
    throw new DataError(
      `${what} holds no samples: its data chunk at byte ${data.start - 8} has ${size} of the ${frameBytes} bytes of one frame.`,
    );
  if (size % frameBytes) notes.push(`The last frame is incomplete and was left out.`);
  const { format, bytesPerSample, sampleRate, channels } = layout;
  return {
    sampleRate,
    channelCount: channels,
    frames,
    encoding: `${bytesPerSample * 8} bit${format === floatFormat ? ' float' : ''}`,
    notes,
    details: readWavDetails(chunks),
    start: data.start,
    frameBytes,
    ...(format === pcmFormat && bytesPerSample === 2 && { sameBytes: '16' }),
    ...(format === pcmFormat && bytesPerSample === 3 && { sameBytes: '24' }),
    decode: (bytes, target) => {
      readSamples(bytes, layout, target);
      return format === floatFormat ? silenceInvalid(target, Math.floor(bytes.length / frameBytes)) : 0;
    },
  };
}

function readLayout(chunk: Chunk, what: string): Layout {
  const { body } = chunk;
  const at = `(“fmt ” chunk at byte ${chunk.start - 8})`;
  if (chunk.size < 16) throw new DataError(`${what} has a format description of ${chunk.size} bytes; at least 16 are needed ${at}.`);
  let format = body.getUint16(0, true);
  const channels = body.getUint16(2, true);
  const sampleRate = body.getUint32(4, true);
  const bits = body.getUint16(14, true);
  if (format === extensibleFormat && chunk.size >= 26) format = body.getUint16(24, true);
  if (channels === 0) throw new DataError(`${what} declares zero channels ${at}.`);
  if (channels > mostChannels) throw new DataError(`${what} declares ${channels} channels; at most ${mostChannels} can be read ${at}.`);
  if (sampleRate < lowestRate || sampleRate > highestRate)
    throw new DataError(`${what} declares a sampling rate of ${sampleRate} Hz; ${lowestRate} to ${highestRate} can be read ${at}.`);
  const known = format === pcmFormat ? [8, 16, 24, 32] : format === floatFormat ? [32, 64] : [];
  if (known.length === 0) throw new UnknownFormat(`${what} is encoded in format ${format}, which is neither integer nor float PCM ${at}.`);
  const stored = Math.ceil(bits / 8) * 8;
  if (!known.includes(stored))
    throw new UnknownFormat(`${what} has samples of ${bits} bits in format ${format}; ${known.join(', ')} can be read ${at}.`);
  return { format, channels, sampleRate, bytesPerSample: stored / 8 };
}

function readSamples(bytes: Uint8Array, layout: Layout, channels: readonly Float32Array[]): void {
  const { format, bytesPerSample } = layout;
  const frames = Math.floor(bytes.length / (bytesPerSample * channels.length));
  if (format === pcmFormat && bytesPerSample === 3) {
    readThreeBytes(bytes, channels, frames);
    return;
  }
  const read = sampleReader(viewOf(bytes), layout);
  const frameBytes = bytesPerSample * channels.length;
  channels.forEach((channel, c) => {
    for (let i = 0, at = c * bytesPerSample; i < frames; i++, at += frameBytes) channel[i] = read(at);
  });
}

/** Most long recordings have 24 bits, so these are read without a call for every sample. */
function readThreeBytes(bytes: Uint8Array, channels: readonly Float32Array[], frames: number): void {
  const frameBytes = 3 * channels.length;
  channels.forEach((channel, c) => {
    for (let i = 0, at = 3 * c; i < frames; i++, at += frameBytes)
      channel[i] = ((bytes[at]! << 8) | (bytes[at + 1]! << 16) | (bytes[at + 2]! << 24)) / 2_147_483_648;
  });
}

function sampleReader(view: DataView, { format, bytesPerSample }: Layout): (offset: number) => number {
  if (format === floatFormat)
    return bytesPerSample === 4 ? (offset) => view.getFloat32(offset, true) : (offset) => view.getFloat64(offset, true);
  switch (bytesPerSample) {
    case 1:
      return (offset) => (view.getUint8(offset) - 128) / 128;
    case 2:
      return (offset) => view.getInt16(offset, true) / 32_768;
    default:
      return (offset) => view.getInt32(offset, true) / 2_147_483_648;
  }
}
