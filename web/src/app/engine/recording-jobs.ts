import type { Audio, NewSource, Recording } from '@tangled-choir/core';
import { measureOverview, openWav, pcmRecording } from '@tangled-choir/core';
import { blobSource } from './blob-source';
import type { JobRequest, SharedAudio, StoredRecording, StoredSource } from './protocol';

/** Frames that are read at once. */
const pieceFrames = 2 ** 18;

/** A recording of the database, read where it is needed. */
export async function openStored({ wav, name }: StoredRecording): Promise<Recording> {
  const source = blobSource(wav);
  return pcmRecording(source, await openWav(source, name));
}

/** Reads ranges of a recording into memory of its full length. */
export async function readRanges(request: Extract<JobRequest, { kind: 'read' }>): Promise<SharedAudio> {
  const recording = await openStored(request);
  const { sampleRate, channelCount, frames } = recording;
  const audio = request.into ?? { sampleRate, channels: Array.from({ length: channelCount }, () => sharedSamples(frames)) };
  const ranges = request.ranges === 'all' ? [{ from: 0, to: frames }] : request.ranges;
  for (const { from, to } of ranges)
    for (let at = from; at < to; at += pieceFrames) {
      const piece = await recording.read(at, Math.min(to, at + pieceFrames));
      audio.channels.forEach((channel, c) => channel.set(piece.channels[c]!, at));
    }
  return audio;
}

/** What was made of a recording here, ready to be stored. */
export function stored(made: { readonly audio: Audio; readonly source: NewSource; readonly wav: Uint8Array<ArrayBuffer> }): StoredSource {
  return {
    source: made.source,
    wav: new Blob([made.wav], { type: 'audio/wav' }),
    overview: measureOverview(made.audio),
  };
}

/** Moves samples into shared memory, so that page and workers use one copy. */
export function share(audio: Audio): SharedAudio {
  if (typeof SharedArrayBuffer === 'undefined') return audio;
  const channels = audio.channels.map((channel) => {
    const shared = sharedSamples(channel.length);
    shared.set(channel);
    return shared;
  });
  return { sampleRate: audio.sampleRate, channels };
}

function sharedSamples(frames: number): Float32Array {
  return typeof SharedArrayBuffer === 'undefined'
    ? new Float32Array(frames)
    : new Float32Array(new SharedArrayBuffer(frames * Float32Array.BYTES_PER_ELEMENT));
}
