import type { HeardPitch } from '../analysis/pitch-track';
import { contentAtTime, curveAt, speedAt } from '../project/time/clip-pace';
import { clipDuration, contentPlace } from '../project/time/clip-times';
import type { Note } from '../tuning';
import type { Seconds, Semitones } from '../units';
import type { Treatment } from './treatment';

/** The pitch of a source at one of its moments; undefined where it is not known yet. */
export type PitchReader = (time: Seconds) => HeardPitch | undefined;

/** By how much the pitch of a clip is moved where `into` seconds of its content have been played. */
export function shiftAt(clip: Treatment, into: Seconds): Semitones {
  const own = clip.pitch + curveAt(clip, 'pitch', into);
  return speedAt(clip, into) + Math.max(-36, Math.min(36, own));
}

/** The pitch of a clip `time` seconds after its start, as its speed and its pitch make it; undefined outside the clip and where it is not known. */
export function heardPitchAt(clip: Treatment, read: PitchReader, time: Seconds): HeardPitch | undefined {
  if (time < 0 || time > clipDuration(clip)) return undefined;
  const into = contentAtTime(clip, time);
  const own = read(contentPlace(clip, into));
  return own && { ...own, note: own.note === undefined ? undefined : own.note + shiftAt(clip, into) };
}

/** Moments that the pitch of a whole clip is read at. */
const readings = 256;
const certain = 0.8;
/** With less of them sure, a clip as a whole has no pitch. */
const leastShare = 0.25;

/** The pitch of a clip as a whole: the middle one of all its moments that surely have one; undefined where too few have. */
export function clipNote(clip: Treatment, read: PitchReader): Note | undefined {
  const duration = clipDuration(clip);
  const notes: Note[] = [];
  let sounding = 0;
  for (let n = 0; n < readings; n++) {
    const heard = heardPitchAt(clip, read, ((n + 0.5) / readings) * duration);
    if (!heard || heard.confidence === 0) continue;
    sounding++;
    if (heard.note !== undefined && heard.confidence >= certain) notes.push(heard.note);
  }
  return notes.length < leastShare * sounding ? undefined : notes.sort((a, b) => a - b)[notes.length >> 1];
}
