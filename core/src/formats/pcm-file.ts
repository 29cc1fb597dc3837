import type { Frames, Hertz } from '../units';
import type { AudioFile, FileDetails } from './audio-file';

/** A file of uncompressed samples, as its header describes it; its samples are read apart from that, all or piece by piece. */
export interface PcmFile {
  readonly sampleRate: Hertz;
  readonly channelCount: number;
  readonly frames: Frames;
  /** For example “24 bit” or “32 bit float”. */
  readonly encoding: string;
  /** What was not quite right but could be read. */
  readonly notes: readonly string[];
  readonly details: FileDetails;
  /** Where its samples begin in the file, and the bytes of one frame. */
  readonly start: number;
  readonly frameBytes: number;
  /** Set where a WAV file of ours has the same bytes for the same samples. */
  readonly sameBytes?: '16' | '24';
  /** Reads whole frames into the beginning of `channels`. Returns how many samples were not numbers; these become silent. */
  decode(bytes: Uint8Array, channels: readonly Float32Array[]): number;
}

/** All samples of a file in memory. */
export function decodeWhole(file: PcmFile, bytes: Uint8Array): AudioFile {
  const { sampleRate, channelCount, frames, encoding, details, start, frameBytes } = file;
  const channels = Array.from({ length: channelCount }, () => new Float32Array(frames));
  const repaired = file.decode(bytes.subarray(start, start + frames * frameBytes), channels);
  return { audio: { sampleRate, channels }, encoding, notes: [...file.notes, ...noteRepaired(repaired)], details };
}

export function noteRepaired(samples: number): string[] {
  return samples > 0 ? [`${samples} samples were not numbers and are now silent.`] : [];
}

/** Makes the first `frames` samples that are not numbers silent, and counts them. */
export function silenceInvalid(channels: readonly Float32Array[], frames: Frames): number {
  let count = 0;
  for (const channel of channels) {
    for (let i = 0; i < frames; i++) {
      if (!Number.isFinite(channel[i])) {
        channel[i] = 0;
        count++;
      }
    }
  }
  return count;
}
