import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import type { Recording } from '../audio/recording';
import type { Note } from '../tuning';
import { frequencyToNote } from '../tuning';
import type { Frames, Hertz, Seconds, Unit } from '../units';
import { loudestChannel } from './onsets';
import { YinDetector } from './pitch';

/** The pitch of a part of a recording at even moments. */
export interface PitchTrack {
  /** The first moment, in seconds of the recording. */
  readonly from: Seconds;
  readonly hop: Seconds;
  /** NaN where nothing has a pitch. */
  readonly notes: Float32Array;
  readonly confidence: Float32Array;
}

/** The pitch at one moment. */
export interface HeardPitch {
  /** Undefined where nothing has a pitch. */
  readonly note: Note | undefined;
  readonly confidence: Unit;
}

/** What a frame's neighbours say decides between octaves: so many to either side. */
const neighbours = 8;
/** A frame so far from a whole number of octaves beside its neighbours is a leap and no mistake. */
const octaveSlack = 0.7;

/**
 * The pitch of a recording between two moments, by YIN on its loudest channel there; frames that lie an octave or two beside what is heard
 * around them are put there. No more is read than that takes.
 * @param from a multiple of `hop`, so that parts of a recording lie in one grid
 */
export async function trackRecording(recording: Recording, from: Seconds, to: Seconds, hop: Seconds): Promise<PitchTrack> {
  const detector = new YinDetector(recording.sampleRate);
  const { first, last } = neededFrames(recording.sampleRate, recording.frames, from, to, detector);
  return track(await recording.read(first, last), first, from, to, hop, detector);
}

/** The same of audio that is in memory. */
export function trackPart(audio: Audio, from: Seconds, to: Seconds, hop: Seconds): PitchTrack {
  const detector = new YinDetector(audio.sampleRate);
  const { first, last } = neededFrames(audio.sampleRate, frameCount(audio), from, to, detector);
  const channels = audio.channels.map((channel) => channel.subarray(first, last));
  return track({ ...audio, channels }, first, from, to, hop, detector);
}

/** The frames that the pitch between two moments is measured in. */
function neededFrames(
  sampleRate: Hertz,
  frames: Frames,
  from: Seconds,
  to: Seconds,
  { length }: YinDetector,
): { readonly first: Frames; readonly last: Frames } {
  const first = Math.max(0, Math.min(frames, Math.round(from * sampleRate) - length));
  return { first, last: Math.max(first, Math.min(frames, Math.round(to * sampleRate) + length)) };
}

/** @param part of the recording, from frame `first` on */
function track(part: Audio, first: Frames, from: Seconds, to: Seconds, hop: Seconds, detector: YinDetector): PitchTrack {
  const samples = loudestChannel(part);
  const count = Math.max(1, Math.round((to - from) / hop));
  const notes = new Float32Array(count);
  const confidence = new Float32Array(count);
  for (let n = 0; n < count; n++) {
    const middle = Math.round((from + n * hop) * part.sampleRate) - first;
    // At the ends of a recording, what is nearest to them.
    const start = Math.max(0, Math.min(samples.length - detector.length, middle - (detector.length >> 1)));
    const frame = detector.detect(samples, start);
    notes[n] = frame.frequency === undefined ? NaN : frequencyToNote(frame.frequency);
    confidence[n] = frame.confidence;
  }
  return { from, hop, notes: withoutOctaveSlips(notes), confidence };
}

/** The pitch at a moment within a track, along a line between its frames. */
export function pitchAt({ from, hop, notes, confidence }: PitchTrack, time: Seconds): HeardPitch {
  const place = Math.max(0, Math.min(notes.length - 1, (time - from) / hop));
  const before = Math.floor(place);
  const after = Math.min(notes.length - 1, before + 1);
  const share = place - before;
  const [low, high] = [notes[before]!, notes[after]!];
  const nearest = share < 0.5 ? before : after;
  // A leap is no glide, and what has a pitch does not glide out of nothing.
  const glides = Math.abs(high - low) < 1;
  const note = glides ? low + share * (high - low) : notes[nearest]!;
  return { note: Number.isNaN(note) ? undefined : note, confidence: confidence[nearest]! };
}

function withoutOctaveSlips(notes: Float32Array): Float32Array {
  const around: number[] = [];
  return notes.map((note, n) => {
    if (Number.isNaN(note)) return note;
    around.length = 0;
    for (let i = Math.max(0, n - neighbours); i <= Math.min(notes.length - 1, n + neighbours); i++)
      if (!Number.isNaN(notes[i]!)) around.push(notes[i]!);
    around.sort((a, b) => a - b);
    const beside = note - around[around.length >> 1]!;
    const octaves = 12 * Math.round(beside / 12);
    return octaves !== 0 && Math.abs(beside - octaves) < octaveSlack ? note - octaves : note;
  });
}
