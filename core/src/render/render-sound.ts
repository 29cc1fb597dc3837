import type { Audio } from '../audio/audio';
import { silence } from '../audio/audio';
import { Cancelled } from '../cancelled';
import { maxBlock } from '../dsp/block';
import { channelsOf } from '../audio/layout';
import { withoutSolos } from '../project/listening';
import { soundEnd } from '../project/time/clip-times';
import type { Sound, TailMode } from '../project/schema';
import { TreatmentCache } from '../treatments/treat-clip';
import type { Frames, Seconds } from '../units';
import { decibelsToGain } from '../units';
import type { RenderContext } from './library';
import { SoundGraph, soundTail } from './sound-graph';

export interface RenderOptions {
  /** What happens behind the last clip. */
  readonly tail: TailMode;
  /** Length for the tail mode “fixed length”. */
  readonly length?: Seconds;
  readonly cache?: TreatmentCache;
  /** Called now and then with the finished share; returning false stops the render. */
  readonly progress?: (share: number) => boolean;
}

/** How many samples a render may have over all channels: what a page can hold beside everything else. */
const mostSamples = 2 ** 29;
/** Level below which a ringing tail counts as over. */
const tailFloor = decibelsToGain(-96);
/** Fade at a cut through sounding audio. */
const cutFade: Seconds = 0.01;

/**
 * Renders a sound from its beginning in its layout at the project's rate: everything that is not muted, whatever is soloed. The same sound gives
 * the same samples. Throws Cancelled when `progress` says so, RangeError when it is too long to be held, Error when it does not come out as numbers.
 */
export function renderSound(heard: Sound, context: RenderContext, options: RenderOptions): Audio {
  const sound = withoutSolos(heard);
  const { sampleRate } = context;
  const clipsEnd = Math.round(soundEnd(sound) * sampleRate);
  const longestTail = soundTail(sound, context);
  const frames =
    options.tail === 'ring out' || options.tail === 'seamless loop'
      ? clipsEnd + longestTail
      : options.tail === 'fixed length'
        ? Math.round((options.length ?? 0) * sampleRate)
        : clipsEnd;
  const channels = channelsOf(sound.layout);
  if (frames * channels > mostSamples)
    throw new RangeError(
      `“${sound.name}” would last ${Math.round(frames / sampleRate / 60)} minutes; at most ${Math.floor(mostSamples / channels / sampleRate / 60)} can be rendered at once.`,
    );
  const output = silence(sampleRate, channels, frames);
  const graph = new SoundGraph(sound, { ...context, offline: true }, options.cache ?? new TreatmentCache());
  graph.startAt(0, 0);
  for (let position = 0; position < frames; position += maxBlock) {
    const count = Math.min(maxBlock, frames - position);
    const block = graph.next(count);
    output.channels.forEach((channel, c) => channel.set(block.channels[c]!.subarray(0, count), position));
    if (options.progress && (position / maxBlock) % 16 === 0 && !options.progress(position / frames)) throw new Cancelled();
  }
  checkNumbers(output, sound.name);
  if (options.tail === 'ring out') return withoutSilentEnd(output, clipsEnd);
  if (options.tail === 'seamless loop') return foldTail(output, clipsEnd);
  fadeEnd(output, Math.round(cutFade * sampleRate));
  return output;
}

/** A file with samples that are no numbers is worse than none. */
function checkNumbers({ channels, sampleRate }: Audio, name: string): void {
  for (const channel of channels)
    for (let i = 0; i < channel.length; i++)
      if (!Number.isFinite(channel[i]!))
        throw new Error(
          `“${name}” does not come out as sound from ${(i / sampleRate).toFixed(3)} s on: a step there goes beyond all numbers.`,
        );
}

/** Leaves out what has fallen below the floor behind the last clip. */
function withoutSilentEnd(audio: Audio, keep: Frames): Audio {
  let end = audio.channels[0]!.length;
  while (end > keep && audio.channels.every((channel) => Math.abs(channel[end - 1]!) < tailFloor)) end--;
  // What is long is not held twice; tails are short beside it.
  return { ...audio, channels: audio.channels.map((channel) => channel.subarray(0, end)) };
}

/** Lets what rings on behind `length` go on at the beginning, as it does when a loop comes round. */
function foldTail(audio: Audio, length: Frames): Audio {
  const channels = audio.channels.map((channel) => {
    const folded = channel.slice(0, length);
    for (let i = length; length > 0 && i < channel.length; i++) folded[i % length]! += channel[i]!;
    return folded;
  });
  return { ...audio, channels };
}

/** Takes the end down where it still sounds, so that the cut does not click. */
function fadeEnd(audio: Audio, frames: Frames): void {
  for (const channel of audio.channels) {
    if (channel.length === 0 || Math.abs(channel[channel.length - 1]!) < tailFloor) continue;
    const count = Math.min(frames, channel.length);
    for (let i = 0; i < count; i++) channel[channel.length - 1 - i]! *= (i + 0.5) / count;
  }
}
