import type { Audio } from '../audio/audio';
import { toMono } from '../audio/audio';
import type { Overview } from '../audio/overview';
import { OverviewMeter } from '../audio/overview';
import type { Recording } from '../audio/recording';
import { partOfRecording, stretchesOf } from '../audio/recording';
import { hashSource } from '../formats/hash';
import { encodeSamples, frameBytes, wavFrame } from '../formats/wav/wav-write';
import type { NewSource } from '../project/edits';
import type { Source } from '../project/schema';
import type { Frames, Seconds, Unit } from '../units';
import type { ImportTarget } from './import-audio';

/** A part of a source that becomes a source of its own. */
export interface CutPart {
  readonly name: string;
  readonly from: Seconds;
  readonly to: Seconds;
}

/** All channels as they are, their mean, or one of them by its number from 0 on. */
export type ChannelChoice = 'all' | 'mean' | number;

/** Frames that are read at once. */
const pieceFrames: Frames = 2 ** 18;

/**
 * Cuts a part out of a source as a source of its own, which remembers where it was cut from. Samples stay as they are; only the mean of
 * channels is computed anew. The part is read and written piece by piece, however long it is.
 * @param recording the source's own
 * @param target where the WAV file of the part comes into being
 * @param progress called with the finished share; false stops the work with `Cancelled`
 */
export async function cutSource(
  recording: Recording,
  source: Source,
  { name, from, to }: CutPart,
  channel: ChannelChoice,
  target: ImportTarget,
  progress?: (share: Unit) => boolean,
): Promise<{ source: NewSource; overview: Overview }> {
  const { sampleRate } = recording;
  const first = Math.max(0, Math.min(recording.frames - 1, Math.round(from * sampleRate)));
  const last = Math.min(recording.frames, Math.max(first + 1, Math.round(to * sampleRate)));
  const frames = last - first;
  const shape = { sampleRate, channelCount: channel === 'all' ? recording.channelCount : 1, encoding: '32f', frames } as const;
  const meter = new OverviewMeter(frames);
  for await (const { audio } of stretchesOf(partOfRecording(recording, first, last), pieceFrames, 0, progress)) {
    const channels = chosenChannels(audio, channel);
    const bytes = new Uint8Array((channels[0]?.length ?? 0) * frameBytes(shape));
    encodeSamples(channels, shape.encoding, bytes);
    meter.process(channels);
    target.write(bytes);
  }
  const { head, tail } = wavFrame(shape);
  const inside = (time: Seconds): boolean => time >= from && time <= to;
  return {
    overview: meter.overview,
    source: {
      kind: 'recording',
      name,
      audio: await hashSource(target.finish(head, 'written', tail)),
      frames,
      channels: shape.channelCount,
      ...(source.role && { role: source.role }),
      tags: [...source.tags],
      notes: source.notes,
      regions: [],
      cues: source.cues.filter(({ time }) => inside(time)).map((cue) => ({ ...cue, time: cue.time - from })),
      origin: { ...source.origin, cutFrom: { name: source.name, audio: source.audio, from: first / sampleRate, to: last / sampleRate } },
    },
  };
}

function chosenChannels(audio: Audio, channel: ChannelChoice): readonly Float32Array[] {
  if (channel === 'all') return audio.channels;
  if (channel === 'mean') return toMono(audio).channels;
  return [audio.channels[channel] ?? audio.channels[0]!];
}
