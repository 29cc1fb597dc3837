import { encodeFlac } from './flac';
import { encodeOpus } from './opus';
import { encodeVorbis } from './vorbis';

/** Samples to be encoded, and what the file tells of itself. */
export type EncodeInput =
  | {
      readonly format: 'flac';
      readonly sampleRate: number;
      readonly channelCount: number;
      readonly bits: 16 | 24;
      /** Interleaved whole numbers, least byte first. */
      readonly samples: Uint8Array;
      /** Vorbis comments, `NAME=value`. */
      readonly comments: readonly string[];
    }
  | {
      readonly format: 'opus' | 'vorbis';
      readonly sampleRate: number;
      /** One or two. */
      readonly channels: readonly Float32Array[];
      /** kbit/s over all channels. */
      readonly bitrate: number;
      readonly comments: readonly string[];
      /** Tells the stream of an Ogg file apart; 32 bits. */
      readonly serial: number;
    };

/** A file, and what a lossy one sounds like. */
export interface EncodedFile {
  readonly bytes: Uint8Array<ArrayBuffer>;
  /** What comes out of a decoder, peaks above full scale included. */
  readonly heard?: readonly Float32Array<ArrayBuffer>[];
}

/** Encodes a whole file. The same input gives the same bytes. Throws Error where an encoder refuses, which none does within the ranges of deliveries. */
export async function encodeFile(input: EncodeInput): Promise<EncodedFile> {
  if (input.format === 'flac') return { bytes: await encodeFlac(input) };
  return input.format === 'opus' ? encodeOpus(input) : encodeVorbis(input);
}
