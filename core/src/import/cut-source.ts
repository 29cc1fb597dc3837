import type { Audio } from '../audio/audio';
import { frameCount, toMono } from '../audio/audio';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav-write';
import type { NewSource } from '../project/edits';
import type { Source } from '../project/schema';
import type { Seconds } from '../units';

/** A part of a source that becomes a source of its own. */
export interface CutPart {
  readonly name: string;
  readonly from: Seconds;
  readonly to: Seconds;
}

/** All channels as they are, their mean, or one of them by its number from 0 on. */
export type ChannelChoice = 'all' | 'mean' | number;

/**
 * Cuts parts out of a source as sources of their own, each of which remembers where it was cut from. Samples stay as they are; only the
 * mean of channels is computed anew.
 */
export function cutSource(
  audio: Audio,
  source: Source,
  parts: readonly CutPart[],
  channel: ChannelChoice = 'all',
): { audio: Audio; source: NewSource; wav: Uint8Array<ArrayBuffer> }[] {
  const { sampleRate } = audio;
  const taken =
    channel === 'all'
      ? audio
      : channel === 'mean'
        ? toMono(audio)
        : { sampleRate, channels: [audio.channels[channel] ?? audio.channels[0]!] };
  return parts.map(({ name, from, to }) => {
    const first = Math.max(0, Math.round(from * sampleRate));
    const last = Math.min(frameCount(audio), Math.max(first + 1, Math.round(to * sampleRate)));
    const part: Audio = { sampleRate, channels: taken.channels.map((samples) => samples.slice(first, last)) };
    const wav = writeWav(part, { encoding: '32f' });
    const inside = (time: Seconds): boolean => time >= from && time <= to;
    return {
      audio: part,
      wav,
      source: {
        name,
        audio: hashBytes(wav),
        frames: last - first,
        channels: part.channels.length,
        ...(source.role && { role: source.role }),
        tags: [...source.tags],
        notes: source.notes,
        regions: [],
        cues: source.cues.filter(({ time }) => inside(time)).map((cue) => ({ ...cue, time: cue.time - from })),
        origin: { ...source.origin, cutFrom: { name: source.name, audio: source.audio, from: first / sampleRate, to: last / sampleRate } },
      },
    };
  });
}
