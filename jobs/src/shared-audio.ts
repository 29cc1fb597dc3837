import type { Audio, Frames, Recording } from '@tangled-choir/core';

/** Sampled audio as it travels: planar, in shared memory where there is such, so that all threads use one copy. */
export interface SharedAudio {
  readonly sampleRate: number;
  readonly channels: readonly Float32Array[];
}

/** A stretch of a recording, in frames. */
export interface FrameRange {
  readonly from: Frames;
  readonly to: Frames;
}

/** Frames that are read at once. */
const pieceFrames = 2 ** 18;

/** Reads stretches of a recording into memory of its full length, a piece at a time. */
export async function readInto(audio: SharedAudio, recording: Recording, ranges: readonly FrameRange[]): Promise<void> {
  for (const { from, to } of ranges)
    for (let at = from; at < to; at += pieceFrames) {
      const piece = await recording.read(at, Math.min(to, at + pieceFrames));
      audio.channels.forEach((channel, c) => channel.set(piece.channels[c]!, at));
    }
}

/** Memory for all samples of a recording. */
export function roomFor({ sampleRate, channelCount, frames }: Recording): SharedAudio {
  return { sampleRate, channels: Array.from({ length: channelCount }, () => sharedSamples(frames)) };
}

/** Reads a whole recording. */
export async function readShared(recording: Recording): Promise<SharedAudio> {
  const audio = roomFor(recording);
  await readInto(audio, recording, [{ from: 0, to: recording.frames }]);
  return audio;
}

/** Moves samples into shared memory. */
export function share(audio: Audio): SharedAudio {
  if (typeof SharedArrayBuffer === 'undefined') return audio;
  return { sampleRate: audio.sampleRate, channels: audio.channels.map(shareSamples) };
}

function shareSamples(samples: Float32Array): Float32Array {
  const shared = sharedSamples(samples.length);
  shared.set(samples);
  return shared;
}

function sharedSamples(frames: Frames): Float32Array {
  return typeof SharedArrayBuffer === 'undefined'
    ? new Float32Array(frames)
    : new Float32Array(new SharedArrayBuffer(frames * Float32Array.BYTES_PER_ELEMENT));
}
