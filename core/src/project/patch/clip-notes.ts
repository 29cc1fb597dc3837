import type { Seconds, Semitones, Unit } from '../../units';
import type { Clip } from '../schema';
import { curveAt, timeOfContent } from '../time/clip-pace';

/** A note where it is heard on the time axis. */
export interface HeardNote {
  /** Of the note, and of the round of a loop that it is played in. */
  readonly id: string;
  readonly start: Seconds;
  readonly end: Seconds;
  readonly pitch: Semitones;
  readonly strength: Unit;
}

/** However short a loop is, more notes than this are not played out of it. */
const mostPlayed = 100_000;

/** By how much a clip moves a note that begins `from` seconds into its content, by its speed and its pitch. */
export function clipInterval(clip: Clip, from: Seconds): Semitones {
  return clip.speed + clip.pitch + curveAt(clip, 'speed', from) + curveAt(clip, 'pitch', from);
}

/**
 * The notes of a clip as they are heard, in the order of their starts: those that begin within it, at its pace, round and round in its loop, backwards when
 * it is reversed, and none longer than the clip. Its speed and its pitch move them up and down.
 */
export function heardNotes(clip: Clip): HeardNote[] {
  const heard: HeardNote[] = [];
  const { offset, length, loop, reversed } = clip;
  for (const note of clip.notes ?? []) {
    const first = reversed ? offset + length - note.start - note.length : note.start - offset;
    const round = loop && !reversed && note.start >= loop.from && note.start < loop.to ? loop.to - loop.from : 0;
    // Behind its loop nothing is played.
    if (loop && !reversed && note.start >= loop.to) continue;
    for (let into = first, n = 0; into < length && heard.length < mostPlayed; into += round, n++) {
      if (into >= 0 || reversed) {
        const from = Math.max(0, into);
        const to = Math.min(length, into + note.length);
        if (to < from) break;
        heard.push({
          id: n === 0 ? note.id : `${note.id} ${n}`,
          start: clip.start + timeOfContent(clip, from),
          end: clip.start + timeOfContent(clip, to),
          pitch: note.pitch + clipInterval(clip, from),
          strength: note.strength,
        });
      }
      if (round <= 0) break;
    }
  }
  return heard.sort((a, b) => a.start - b.start);
}
