import type { Decibels, Frames, Hertz } from '../units';
import { decibelsToGain } from '../units';

/** Samples in planar form: one Float32Array per channel, all of the same length; full scale is ±1. */
export interface Audio {
  readonly sampleRate: Hertz;
  readonly channels: readonly Float32Array[];
}

/** Length in samples per channel; 0 when there is no channel. */
export function frameCount(audio: Audio): Frames {
  return audio.channels[0]?.length ?? 0;
}

/** Silence of the given size. */
export function silence(sampleRate: Hertz, channelCount: number, frames: Frames): Audio {
  return { sampleRate, channels: Array.from({ length: channelCount }, () => new Float32Array(frames)) };
}

/**
 * The same sound as two channels. Mono goes to both sides unchanged; of more than two channels the front pair is kept and
 * the others are added at -3 dB to the side they stand on (ITU-R BS.775 down-mix; LFE, the fourth, is left out).
 */
export function toStereo(audio: Audio): Audio {
  const [first, second] = audio.channels;
  if (!first) return silence(audio.sampleRate, 2, 0);
  if (!second) return { sampleRate: audio.sampleRate, channels: [first, first] };
  if (audio.channels.length === 2) return audio;
  const left = Float32Array.from(first);
  const right = Float32Array.from(second);
  audio.channels.forEach((channel, index) => {
    if (index < 2 || (index === 3 && audio.channels.length >= 6)) return;
    const centre = index === 2;
    const onLeft = centre || index % 2 === 0;
    const onRight = centre || index % 2 === 1;
    for (let i = 0; i < left.length; i++) {
      if (onLeft) left[i]! += channel[i]! * Math.SQRT1_2;
      if (onRight) right[i]! += channel[i]! * Math.SQRT1_2;
    }
  });
  return { sampleRate: audio.sampleRate, channels: [left, right] };
}

/** The same sound as one channel: the mean of all channels. */
export function toMono(audio: Audio): Audio {
  const only = audio.channels[0];
  if (!only) return silence(audio.sampleRate, 1, 0);
  if (audio.channels.length === 1) return audio;
  const mono = new Float32Array(only.length);
  const weight = 1 / audio.channels.length;
  for (const channel of audio.channels) for (let i = 0; i < mono.length; i++) mono[i]! += channel[i]! * weight;
  return { sampleRate: audio.sampleRate, channels: [mono] };
}

/** Copies what there is from frame `first` on; everything outside the input is silence. */
export function copyPadded(input: Float32Array, first: Frames, target: Float32Array | Float64Array): void {
  target.fill(0);
  const from = Math.max(0, first);
  const part = input.subarray(from, Math.max(from, first + target.length));
  if (part.length > 0) target.set(part, from - first);
}

/** Turns samples where they lie, for what is long and nobody else's. */
export function turn(audio: Audio, by: Decibels): void {
  if (by === 0) return;
  const factor = decibelsToGain(by);
  for (const channel of audio.channels) for (let i = 0; i < channel.length; i++) channel[i] = channel[i]! * factor;
}

/** The same samples with gain; the same object without. */
export function withGain<T extends { readonly channels: readonly Float32Array[] }>(audio: T, by: Decibels): T {
  if (by === 0) return audio;
  const factor = decibelsToGain(by);
  return { ...audio, channels: audio.channels.map((channel) => channel.map((sample) => sample * factor)) };
}
