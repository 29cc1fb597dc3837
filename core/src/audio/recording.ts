import { Cancelled } from '../cancelled';
import type { Frames, Hertz, Unit } from '../units';
import type { Audio } from './audio';
import { frameCount } from './audio';

/** A recording whose samples are read where they are needed, because it may be longer than what memory should hold. */
export interface Recording {
  readonly sampleRate: Hertz;
  readonly channelCount: number;
  readonly frames: Frames;
  /** The frames from `from` up to `to`; both within the recording. */
  read(from: Frames, to: Frames): Promise<Audio>;
}

/** A recording that lies in memory already; what is read of it shares its memory. */
export function inMemory(audio: Audio): Recording {
  return {
    sampleRate: audio.sampleRate,
    channelCount: audio.channels.length,
    frames: frameCount(audio),
    read: (from, to) =>
      Promise.resolve({ sampleRate: audio.sampleRate, channels: audio.channels.map((channel) => channel.subarray(from, to)) }),
  };
}

/** A part of a recording as a recording of its own. */
export function partOfRecording(recording: Recording, from: Frames, to: Frames): Recording {
  return {
    sampleRate: recording.sampleRate,
    channelCount: recording.channelCount,
    frames: to - from,
    read: (first, last) => recording.read(from + first, from + last),
  };
}

/** A part of a recording, with what lies beside it. */
export interface RecordingStretch {
  readonly from: Frames;
  readonly to: Frames;
  /** What was read: the stretch and its neighbours. */
  readonly audio: Audio;
  /** Frame of the recording with which `audio` begins. */
  readonly first: Frames;
}

/**
 * Stretches of a recording one behind the other, `size` frames each, the last one shorter. Each comes with up to `beside` frames of what lies
 * before and behind it, so that what crosses its borders is seen whole.
 * @param progress called with the finished share; false stops with `Cancelled`
 */
export async function* stretchesOf(
  recording: Recording,
  size: Frames,
  beside: Frames,
  progress: (share: Unit) => boolean = () => true,
): AsyncGenerator<RecordingStretch> {
  const { frames } = recording;
  for (let from = 0; from < frames; from += size) {
    if (!progress(from / frames)) throw new Cancelled();
    const to = Math.min(frames, from + size);
    const first = Math.max(0, from - beside);
    yield { from, to, first, audio: await recording.read(first, Math.min(frames, to + beside)) };
  }
}

/** Parts of a recording one behind the other, `size` frames each, the last one shorter. Each is read while the one before is worked on. */
export async function* piecesOf(recording: Recording, size: Frames): AsyncGenerator<Audio> {
  const readAt = (from: Frames): Promise<Audio> => recording.read(from, Math.min(recording.frames, from + size));
  let next = recording.frames > 0 ? readAt(0) : undefined;
  for (let from = 0; next; from += size) {
    const piece = await next;
    next = from + size < recording.frames ? readAt(from + size) : undefined;
    // Nobody waits for it yet: a failure is seen when it is its turn.
    next?.catch(() => undefined);
    yield piece;
  }
}
