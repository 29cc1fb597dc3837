import type { Audio } from './audio';
import { frameCount, silence, toStereo } from './audio';

/** Where a loudspeaker stands: -1 left, 0 in the middle, 1 right. */
export type Side = -1 | 0 | 1;

/** One channel of a layout. */
export interface Speaker {
  readonly label: string;
  readonly side: Side;
  /** True for the channel of low-frequency effects, which is no place to hear anything from. */
  readonly lowFrequency?: boolean;
}

/** How many channels a sound has, and where each of them is heard. */
export interface Layout {
  readonly id: LayoutId;
  readonly speakers: readonly Speaker[];
}

/** In the order in which they are offered. */
export const layoutIds = ['mono', 'stereo', '5.1', '7.1', '7.1.4'] as const;
export type LayoutId = (typeof layoutIds)[number];

const left = (label: string): Speaker => ({ label, side: -1 });
const middle = (label: string): Speaker => ({ label, side: 0 });
const right = (label: string): Speaker => ({ label, side: 1 });
const lowFrequency: Speaker = { label: 'LFE', side: 0, lowFrequency: true };
const front = [left('L'), right('R'), middle('C'), lowFrequency];
const beds = [...front, left('Lrs'), right('Rrs'), left('Lss'), right('Rss')];
const tops = [left('Ltf'), right('Rtf'), left('Ltr'), right('Rtr')];

/** Channels in the order of WAV files (SMPTE ST 2036-2, ITU-R BS.2051). */
export const layouts: Readonly<Record<LayoutId, Layout>> = {
  mono: { id: 'mono', speakers: [middle('M')] },
  stereo: { id: 'stereo', speakers: [left('L'), right('R')] },
  '5.1': { id: '5.1', speakers: [...front, left('Ls'), right('Rs')] },
  '7.1': { id: '7.1', speakers: beds },
  '7.1.4': { id: '7.1.4', speakers: [...beds, ...tops] },
};

/** How many channels a layout has. */
export function channelsOf(layout: LayoutId): number {
  return layouts[layout].speakers.length;
}

/** Where the channels of something with so many of them are heard; of counts that no layout has, left and right in turns. */
export function sidesOf(channels: number): readonly Side[] {
  const layout = layoutIds.find((id) => channelsOf(id) === channels);
  if (layout) return layouts[layout].speakers.map(({ side }) => side);
  return Array.from({ length: channels }, (_, c) => (c % 2 ? 1 : -1));
}

/**
 * A recording in the channels of a layout. What has as many channels already stays as it is; anything else is folded down to two (ITU-R
 * BS.775, see `toStereo`), which become the front pair, or their mean in mono. Without channels it is silence.
 */
export function toLayout(audio: Audio, layout: LayoutId): Audio {
  const count = channelsOf(layout);
  if (audio.channels.length === count) return audio;
  const pair = toStereo(audio);
  if (count === 2) return pair;
  const { sampleRate } = audio;
  const [first, second] = pair.channels;
  if (count === 1) {
    if (audio.channels.length === 0) return silence(sampleRate, 1, 0);
    return { sampleRate, channels: [first!.map((sample, i) => (sample + second![i]!) / 2)] };
  }
  const none = new Float32Array(frameCount(pair));
  return { sampleRate, channels: layouts[layout].speakers.map((_, c) => pair.channels[c] ?? none) };
}
