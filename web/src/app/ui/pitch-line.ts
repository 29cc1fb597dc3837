import type { HeardPitch, Note } from '@tangled-choir/core';
import { centsOff, noteName, noteToFrequency } from '@tangled-choir/core';
import { signed } from './quantity';

/** A note with what it is off by, and its frequency: “A4 +3 ct · 440.8 Hz”. */
export function formatPitch(note: Note): string {
  const cents = centsOff(note);
  const frequency = noteToFrequency(note);
  return `${noteName(note)}${cents === 0 ? '' : ` ${signed(cents, 0)} ct`} · ${frequency.toFixed(frequency < 1_000 ? 1 : 0)} Hz`;
}

/** What is heard at a moment, and how surely; empty where that is not known yet. */
export function formatHeard(heard: HeardPitch | undefined): string {
  if (!heard) return '';
  return heard.note === undefined ? 'no pitch' : `${formatPitch(heard.note)} · ${Math.round(heard.confidence * 100)} % sure`;
}

/** A stretch of a pitch track without a break: places in pixels, from left to right. */
export interface PitchStroke {
  readonly places: readonly { readonly x: number; readonly note: Note }[];
  /** The mean along it. */
  readonly confidence: number;
}

/** A tone that is held long enough to be named. */
export interface HeldTone {
  readonly x: number;
  readonly note: Note;
  readonly name: string;
}

/** The pitch is looked at every so many pixels. */
const step = 2;
/** Farther apart than this, two tones are not one that glides. */
const leap = 1.5;
/** A tone that moves by less is held. */
const steady = 0.45;
const narrowestName = 26;
/** What is less sure is not drawn. */
const leastConfidence = 0.6;

/** The line of a pitch track from pixel to pixel, broken where nothing has a pitch and where it leaps. */
export function pitchStrokes(read: (x: number) => HeardPitch | undefined, from: number, to: number): PitchStroke[] {
  const strokes: { places: { x: number; note: Note }[]; confidence: number }[] = [];
  let last: Note | undefined;
  for (let x = from; x <= to; x += step) {
    const heard = read(x);
    const note = heard && heard.confidence >= leastConfidence ? heard.note : undefined;
    if (note !== undefined) {
      if (last === undefined || Math.abs(note - last) >= leap) strokes.push({ places: [], confidence: 0 });
      const stroke = strokes.at(-1)!;
      stroke.confidence += (heard!.confidence - stroke.confidence) / (stroke.places.length + 1);
      stroke.places.push({ x, note });
    }
    last = note;
  }
  return strokes.filter(({ places }) => places.length > 1);
}

/** The tones that are held in a line, where there is room for their names. */
export function heldTones(strokes: readonly PitchStroke[]): HeldTone[] {
  const tones: HeldTone[] = [];
  let free = -Infinity;
  for (const { places } of strokes)
    for (let first = 0; first < places.length;) {
      let end = first;
      while (end < places.length && Math.abs(places[end]!.note - places[first]!.note) < steady) end++;
      const x = places[first]!.x;
      if (places[end - 1]!.x - x >= narrowestName && x >= free) {
        const { note } = places[(first + end) >> 1]!;
        tones.push({ x, note, name: noteName(note) });
        free = x + narrowestName;
      }
      first = end;
    }
  return tones;
}

/** An SVG path along strokes; `y` is where a note lies. */
export function strokePath({ places }: PitchStroke, y: (note: Note) => number): string {
  return places.map(({ x, note }, i) => `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y(note).toFixed(1)}`).join('');
}
