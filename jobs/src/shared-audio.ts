import type { Audio, Frames } from '@tangled-choir/core';

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

export function sharedSamples(frames: Frames): Float32Array {
  return typeof SharedArrayBuffer === 'undefined'
    ? new Float32Array(frames)
    : new Float32Array(new SharedArrayBuffer(frames * Float32Array.BYTES_PER_ELEMENT));
}
