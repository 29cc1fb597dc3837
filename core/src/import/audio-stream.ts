import type { Audio } from '../audio/audio';
import { inMemory, piecesOf } from '../audio/recording';
import { noteRepaired } from '../formats/pcm-file';
import type { PcmFile } from '../formats/pcm-file';
import type { ByteSource } from '../formats/byte-source';
import type { FileDetails } from '../formats/audio-file';
import { describeFlac, flacPieces, flacStart } from '../formats/flac/flac-read';
import { DataError } from '../project/parse';
import { pcmRecording } from '../formats/open-recording';
import type { Frames, Hertz } from '../units';

/** A sound file that is read from its beginning to its end, piece by piece, at its own rate. */
export interface AudioStream {
  readonly sampleRate: Hertz;
  readonly channelCount: number;
  /** Frames that will probably come; compressed files do not always tell. */
  readonly expectedFrames: Frames;
  /** For example “24 bit”, “32 bit float” or “MP3”. */
  readonly encoding: string;
  readonly details: FileDetails;
  pieces(): AsyncIterable<readonly Float32Array[]>;
  /** What was not quite right but could be read; complete behind the last piece. */
  notes(): readonly string[];
  /** Where in the file the samples lie, if a WAV file of ours has the same bytes for them. */
  readonly sameBytes?: { readonly encoding: '16' | '24'; readonly from: number; readonly to: number };
}

/** Frames that are worked on at once. */
const pieceFrames: Frames = 2 ** 18;

/** The stream of an uncompressed file. */
export function pcmStream(source: ByteSource, file: PcmFile): AudioStream {
  const { sampleRate, channelCount, frames, encoding, details, start, frameBytes, sameBytes } = file;
  let repaired = 0;
  const counting: PcmFile = {
    ...file,
    decode: (bytes, channels) => {
      const count = file.decode(bytes, channels);
      repaired += count;
      return count;
    },
  };
  return {
    sampleRate,
    channelCount,
    expectedFrames: frames,
    encoding,
    details,
    pieces: async function* () {
      for await (const { channels } of piecesOf(pcmRecording(source, counting), pieceFrames)) yield channels;
    },
    notes: () => [...file.notes, ...noteRepaired(repaired)],
    ...(sameBytes && { sameBytes: { encoding: sameBytes, from: start, to: start + frames * frameBytes } }),
  };
}

/** The stream of a FLAC file; undefined where a file is none. Rejects with DataError that names the file, as its pieces do. */
export async function openFlac(source: ByteSource, what: string): Promise<AudioStream | undefined> {
  const start = await flacStart(source);
  if (start === undefined) return undefined;
  const file = await describeFlac(source, start, what);
  const { sampleRate, channelCount, bits, frames, details } = file;
  const gaps: { readonly from: Frames; readonly frames: Frames }[] = [];
  let read: Frames = 0;
  return {
    sampleRate,
    channelCount,
    expectedFrames: frames,
    encoding: `FLAC, ${bits} bit`,
    details,
    pieces: async function* () {
      for await (const piece of flacPieces(source, file, (from, count) => gaps.push({ from, frames: count }))) {
        read += piece[0]!.length;
        yield piece;
      }
      const silent = gaps.reduce((sum, gap) => sum + (gap.from < read ? gap.frames : 0), 0);
      if (read - silent <= 0) throw new DataError(`${what} holds no block of samples that can be decoded.`);
    },
    notes: () => gaps.map((gap) => noteGap(gap, read, sampleRate)),
  };
}

function noteGap({ from, frames }: { readonly from: Frames; readonly frames: Frames }, read: Frames, sampleRate: Hertz): string {
  const at = (from / sampleRate).toFixed(3);
  return from >= read
    ? `The file promises ${((from + frames) / sampleRate).toFixed(1)} s and holds ${(from / sampleRate).toFixed(1)} s; read as far as it goes.`
    : `Damaged at ${at} s: ${frames} frames could not be decoded and are silent.`;
}

/** The stream of what lies in memory already, such as a take. */
export function memoryStream(audio: Audio, about: Pick<AudioStream, 'encoding' | 'details'> & { notes?: readonly string[] }): AudioStream {
  const recording = inMemory(audio);
  return {
    sampleRate: audio.sampleRate,
    channelCount: recording.channelCount,
    expectedFrames: recording.frames,
    encoding: about.encoding,
    details: about.details,
    pieces: async function* () {
      for await (const { channels } of piecesOf(recording, pieceFrames)) yield channels;
    },
    notes: () => about.notes ?? [],
  };
}
