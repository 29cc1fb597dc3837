import type { Hertz } from '../units';

/** A pitch in semitones as MIDI counts them: 69 is A4 at 440 Hz, 60 is C4; cents are its fractions. */
export type Note = number;

const names = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'] as const;
const semitonesOf: Readonly<Record<string, number>> = { c: 0, d: 2, e: 4, f: 5, g: 7, a: 9, b: 11 };

/** The twelve notes of an octave from C upwards, by the names that they have here. */
export const pitchClasses: readonly string[] = names;

export function frequencyToNote(frequency: Hertz): Note {
  return 69 + 12 * Math.log2(frequency / 440);
}

export function noteToFrequency(note: Note): Hertz {
  return 440 * 2 ** ((note - 69) / 12);
}

/** The nearest note by its name: `A4`, `C♯-1`. */
export function noteName(note: Note): string {
  const nearest = Math.round(note);
  return `${names[((nearest % 12) + 12) % 12]!}${Math.floor(nearest / 12) - 1}`;
}

/** How far a note lies from the nearest one by name, in whole cents from −50 to 50. */
export function centsOff(note: Note): number {
  // Never the 0 with a sign.
  return Math.round(100 * (note - Math.round(note))) || 0;
}

/** Reads `A4`, `c#3`, `eb2 +20 ct`; undefined where that is no note. */
export function readNote(text: string): Note | undefined {
  const match = /^\s*([a-g])([#♯b♭]?)(-?\d)(?:\s*([+-]\s*\d+)\s*(?:ct|cents)?)?\s*$/i.exec(text);
  if (!match) return undefined;
  const [, letter, accidental, octave, cents = '0'] = match;
  const semitone = semitonesOf[letter!.toLowerCase()]! + (accidental === '' ? 0 : /[#♯]/.test(accidental!) ? 1 : -1);
  return 12 * (Number(octave) + 1) + semitone + Number(cents.replace(/\s/g, '')) / 100;
}
