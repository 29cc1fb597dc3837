import type { Note } from './note';

/** The notes of scales in semitones above their root. */
const degrees = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  'harmonic minor': [0, 2, 3, 5, 7, 8, 11],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
  lydian: [0, 2, 4, 6, 7, 9, 11],
  mixolydian: [0, 2, 4, 5, 7, 9, 10],
  'five-note major': [0, 2, 4, 7, 9],
  'five-note minor': [0, 3, 5, 7, 10],
  'whole tones': [0, 2, 4, 6, 8, 10],
  chromatic: [0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11],
} as const;

export type ScaleKind = keyof typeof degrees;
// The keys of the table above, in its order.
export const scaleKinds = Object.keys(degrees) as [ScaleKind, ...ScaleKind[]];

/** A scale on a root, which is counted in semitones above C. */
export interface Scale {
  readonly root: number;
  readonly kind: ScaleKind;
}

/** The note of a scale that lies nearest; of two as near, the lower one. */
export function nearestInScale(scale: Scale, note: Note): Note {
  const around = degreeBelow(scale, note);
  const low = noteOfDegree(scale, around);
  const high = noteOfDegree(scale, around + 1);
  return high - note < note - low ? high : low;
}

/** The note that lies `steps` degrees of the scale above the nearest note of it, or below where that is negative; steps must be whole. */
export function stepsInScale(scale: Scale, note: Note, steps: number): Note {
  return noteOfDegree(scale, degreeBelow(scale, nearestInScale(scale, note)) + steps);
}

/** Which degree, counted on through all octaves from the root above note 0, is the last at or below a note. */
function degreeBelow({ root, kind }: Scale, note: Note): number {
  const steps = degrees[kind];
  const octave = Math.floor((note - root) / 12);
  const within = note - root - 12 * octave;
  let degree = steps.length - 1;
  while (degree > 0 && steps[degree]! > within) degree--;
  return octave * steps.length + degree;
}

function noteOfDegree({ root, kind }: Scale, degree: number): Note {
  const steps = degrees[kind];
  const octave = Math.floor(degree / steps.length);
  return root + 12 * octave + steps[degree - octave * steps.length]!;
}
