import type * as flacLibrary from 'libflacjs/dist/libflac';
import type { EncodeInput } from './index';
import { commentList, joined, text } from './bytes';

type FlacInput = Extract<EncodeInput, { format: 'flac' }>;

/** Where the library stands between speed and size: its own middle. */
const compression = 5;
/** Frames that are handed over at once. */
const piece = 65_536;
const vendor = 'reference libFLAC 1.3.4 20220220';

type Library = typeof flacLibrary;
let library: Promise<Library> | undefined;

function loadLibrary(): Promise<Library> {
  return (library ??= import('libflacjs/dist/libflac.js').then(async (module) => {
    // A CommonJS module, which bundlers and Node hand over as the default of another.
    const flac: Library = 'default' in module ? (module.default as Library) : module;
    if (!flac.isReady()) await new Promise<void>((resolve) => flac.on('ready', () => resolve()));
    return flac;
  }));
}

/** Encodes FLAC (RFC 9639), with the length and the MD5 of its samples, which a stream does not have by itself. */
export async function encodeFlac({ sampleRate, channelCount, bits, samples, comments }: FlacInput): Promise<Uint8Array<ArrayBuffer>> {
  const flac = await loadLibrary();
  const bytes = bits / 8;
  const frames = samples.length / bytes / channelCount;
  const encoder = flac.create_libflac_encoder(sampleRate, channelCount, bits, compression, frames, false, 0);
  if (!encoder) throw new Error('The FLAC encoder could not be made.');
  const written: Uint8Array[] = [];
  let md5 = '';
  try {
    const status = flac.init_encoder_stream(
      encoder,
      (data, _length, count) => {
        if (count > 0) written.push(data.slice());
      },
      (metadata) => (md5 = metadata?.md5sum ?? ''),
    );
    if (status !== 0) throw new Error(`The FLAC encoder does not begin (${status}).`);
    for (let from = 0; from < frames; from += piece) {
      const count = Math.min(piece, frames - from);
      const numbers = wholeNumbers(samples, bytes, from * channelCount, count * channelCount);
      if (!flac.FLAC__stream_encoder_process_interleaved(encoder, numbers, count)) throw new Error('The FLAC encoder stopped.');
    }
    if (!flac.FLAC__stream_encoder_finish(encoder)) throw new Error('The FLAC encoder did not finish.');
  } finally {
    flac.FLAC__stream_encoder_delete(encoder);
  }
  const information = streamInformation({ sampleRate, channelCount, bits, frames, written, md5 });
  return joined([text('fLaC'), block(0, false, information), block(4, true, commentList(vendor, comments)), ...written]);
}

function wholeNumbers(samples: Uint8Array, bytes: number, from: number, count: number): Int32Array<ArrayBuffer> {
  const numbers = new Int32Array(count);
  for (let i = 0, at = from * bytes; i < count; i++, at += bytes) {
    const low = samples[at]! | (samples[at + 1]! << 8);
    numbers[i] = bytes === 2 ? (low << 16) >> 16 : ((low | (samples[at + 2]! << 16)) << 8) >> 8;
  }
  return numbers;
}

/** A block of metadata (RFC 9639, 8.1). */
function block(kind: number, last: boolean, content: Uint8Array): Uint8Array {
  const { length } = content;
  return joined([Uint8Array.of(kind | (last ? 0x80 : 0), length >>> 16, length >>> 8, length), content]);
}

interface Information {
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly bits: number;
  readonly frames: number;
  readonly written: readonly Uint8Array[];
  readonly md5: string;
}

/** STREAMINFO (RFC 9639, 8.2); the library takes 4096 frames at a time at this compression. */
function streamInformation({ sampleRate, channelCount, bits, frames, written, md5 }: Information): Uint8Array {
  const blockFrames = 4_096;
  const sizes = written.map(({ length }) => length);
  const view = new DataView(new ArrayBuffer(34));
  view.setUint16(0, blockFrames);
  view.setUint16(2, blockFrames);
  const u24 = (at: number, value: number): void => {
    view.setUint8(at, value >>> 16);
    view.setUint16(at + 1, value & 0xffff);
  };
  u24(4, sizes.length > 0 ? sizes.reduce((least, size) => Math.min(least, size)) : 0);
  u24(
    7,
    sizes.reduce((most, size) => Math.max(most, size), 0),
  );
  const packed = (BigInt(sampleRate) << 44n) | (BigInt(channelCount - 1) << 41n) | (BigInt(bits - 1) << 36n) | BigInt(frames);
  view.setBigUint64(10, packed);
  for (let i = 0; i < 16; i++) view.setUint8(18 + i, Number.parseInt(md5.slice(2 * i, 2 * i + 2) || '0', 16));
  return new Uint8Array(view.buffer);
}
