import type { Semitones } from '@tangled-choir/core';

/** A key of the computer's keyboard that plays a note. */
export interface NoteKey {
  /** Where it lies on the keyboard, whatever is printed on it. */
  readonly code: string;
  readonly print: string;
  /** Above the lowest key. */
  readonly interval: Semitones;
}

/** From one row to the next above it. */
const rowInterval: Semitones = 5;
const letters = (row: string): [string, string][] => [...row].map((letter) => [`Key${letter}`, letter]);
const rows: readonly (readonly (readonly [string, string])[])[] = [
  [...letters('ZXCVBNM'), ['Comma', ','], ['Period', '.'], ['Slash', '/']],
  [...letters('ASDFGHJKL'), ['Semicolon', ';'], ['Quote', '’']],
  [...letters('QWERTYUIOP'), ['BracketLeft', '['], ['BracketRight', ']']],
];

/**
 * The keys that play, row by row from the lowest: a semitone from key to key, a fourth from row to row, as on the strings of a bass. An interval has the
 * same shape wherever it begins.
 */
export const keyRows: readonly (readonly NoteKey[])[] = rows.map((row, r) =>
  row.map(([code, print], i) => ({ code, print, interval: r * rowInterval + i })),
);

const intervals = new Map(keyRows.flat().map(({ code, interval }) => [code, interval]));

/** How far above the lowest key a key plays; undefined for one that plays nothing. */
export const intervalOf = (code: string): Semitones | undefined => intervals.get(code);

export const highestInterval = Math.max(...intervals.values());
