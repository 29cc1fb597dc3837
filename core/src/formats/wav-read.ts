import { DataError } from '../project/parse';
import type { AudioFile } from './audio-file';
import { UnknownFormat } from './audio-file';
import { readWavDetails } from './wav-details';

const pcmFormat = 1;
const floatFormat = 3;
const extensibleFormat = 0xfffe;
const lowestRate = 2_000;
const highestRate = 768_000;
const mostChannels = 64;
/** Size that writers leave in a header they could not go back to. */
const unknownSize = 0xffffffff;

interface Layout {
  readonly format: number;
  readonly channels: number;
  readonly sampleRate: number;
  readonly bytesPerSample: number;
}

interface Chunk {
  readonly id: string;
  readonly start: number;
  readonly size: number;
  readonly declared: number;
}

/**
 * Reads RIFF, RF64 and BW64 WAV files: 8 to 32 bit integer, 32 and 64 bit float, plain or extensible, any number of other chunks.
 * A data chunk that promises more than the file holds is read as far as it goes, with a note. Throws DataError that names the
 * byte where the file stops making sense.
 * @param bytes the whole file
 * @param what how errors call it, usually its name
 */
export function readWav(bytes: Uint8Array, what = 'The file'): AudioFile {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length === 0) throw new DataError(`${what} is empty (0 bytes).`);
  if (bytes.length < 12) throw new DataError(`${what} is too short for a WAV file (${bytes.length} bytes).`);
  const container = idAt(view, 0);
  if (!['RIFF', 'RF64', 'BW64'].includes(container) || idAt(view, 8) !== 'WAVE')
    throw new DataError(`${what} is not a WAV file: it does not begin with RIFF … WAVE (byte 0).`);

  let layout: Layout | undefined;
  let data: Chunk | undefined;
  let largeDataSize: number | undefined;
  const chunks = [...chunksOf(view)];
  for (const chunk of chunks) {
    if (chunk.id === 'ds64' && chunk.size >= 24) largeDataSize = Number(view.getBigUint64(chunk.start + 8, true));
    else if (chunk.id === 'fmt ') layout = readLayout(view, chunk, what);
    else if (chunk.id === 'data' && !data) data = chunk;
  }
  if (!layout) throw new DataError(`${what} has no “fmt ” chunk, so its samples cannot be understood.`);
  if (!data) throw new DataError(`${what} has no “data” chunk: the file ends at byte ${bytes.length} without samples.`);

  const notes: string[] = [];
  const frameSize = layout.bytesPerSample * layout.channels;
  const available = bytes.length - data.start;
  const declared = data.declared === unknownSize ? (largeDataSize ?? available) : data.declared;
  const size = Math.min(declared, available);
  if (declared > available)
    notes.push(`The header promises ${declared} bytes of samples, the file holds ${available}; read as far as it goes.`);
  const frames = Math.floor(size / frameSize);
  if (frames === 0)
    throw new DataError(
      `${what} holds no samples: its data chunk at byte ${data.start - 8} has ${size} of the ${frameSize} bytes of one frame.`,
    );
  if (size % frameSize) notes.push(`The last frame is incomplete and was left out.`);

  const channels = Array.from({ length: layout.channels }, () => new Float32Array(frames));
  const samples = bytes.subarray(data.start, data.start + frames * frameSize);
  readSamples(new DataView(samples.buffer, samples.byteOffset, samples.byteLength), layout, channels);
  const repaired = silenceInvalid(channels);
  if (repaired > 0) notes.push(`${repaired} samples were not numbers and are now silent.`);
  return {
    audio: { sampleRate: layout.sampleRate, channels },
    encoding: `${layout.bytesPerSample * 8} bit${layout.format === floatFormat ? ' float' : ''}`,
    notes,
    details: readWavDetails(view, chunks),
    ...(layout.format === pcmFormat && layout.bytesPerSample === 2 && { encoded: { encoding: '16', bytes: samples } }),
    ...(layout.format === pcmFormat && layout.bytesPerSample === 3 && { encoded: { encoding: '24', bytes: samples } }),
  };
}

export function isWav(bytes: Uint8Array): boolean {
  if (bytes.length < 12) return false;
  const view = new DataView(bytes.buffer, bytes.byteOffset, 12);
  return ['RIFF', 'RF64', 'BW64'].includes(idAt(view, 0)) && idAt(view, 8) === 'WAVE';
}

function idAt(view: DataView, offset: number): string {
  return String.fromCharCode(view.getUint8(offset), view.getUint8(offset + 1), view.getUint8(offset + 2), view.getUint8(offset + 3));
}

function* chunksOf(view: DataView): Generator<Chunk> {
  let offset = 12;
  while (offset + 8 <= view.byteLength) {
    const declared = view.getUint32(offset + 4, true);
    const start = offset + 8;
    const size = Math.min(declared, view.byteLength - start);
    const chunk = { id: idAt(view, offset), start, size, declared };
    yield chunk;
    // A data chunk without a known size reaches to the end of the file.
    if (chunk.id === 'data' && declared === unknownSize) return;
    offset = start + size + (size % 2);
  }
}

function readLayout(view: DataView, chunk: Chunk, what: string): Layout {
  const at = `(“fmt ” chunk at byte ${chunk.start - 8})`;
  if (chunk.size < 16) throw new DataError(`${what} has a format description of ${chunk.size} bytes; at least 16 are needed ${at}.`);
  let format = view.getUint16(chunk.start, true);
  const channels = view.getUint16(chunk.start + 2, true);
  const sampleRate = view.getUint32(chunk.start + 4, true);
  const bits = view.getUint16(chunk.start + 14, true);
  if (format === extensibleFormat && chunk.size >= 26) format = view.getUint16(chunk.start + 24, true);
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

function readSamples(view: DataView, layout: Layout, channels: readonly Float32Array[]): void {
  const { bytesPerSample } = layout;
  if (layout.format === pcmFormat && bytesPerSample === 3) {
    readThreeBytes(new Uint8Array(view.buffer, view.byteOffset, view.byteLength), channels);
    return;
  }
  const read = sampleReader(view, layout);
  const frameSize = bytesPerSample * channels.length;
  channels.forEach((channel, c) => {
    let offset = c * bytesPerSample;
    for (let i = 0; i < channel.length; i++) {
      channel[i] = read(offset);
      offset += frameSize;
    }
  });
}

/** Most long recordings have 24 bits, so these are read without a call for every sample. */
function readThreeBytes(bytes: Uint8Array, channels: readonly Float32Array[]): void {
  const frameSize = 3 * channels.length;
  channels.forEach((channel, c) => {
    for (let i = 0, at = 3 * c; i < channel.length; i++, at += frameSize)
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

function silenceInvalid(channels: readonly Float32Array[]): number {
  let count = 0;
  for (const channel of channels) {
    for (let i = 0; i < channel.length; i++) {
      if (!Number.isFinite(channel[i])) {
        channel[i] = 0;
        count++;
      }
    }
  }
  return count;
}
