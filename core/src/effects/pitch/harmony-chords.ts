import type { Semitones } from '../../units';

/** Intervals of up to four voices above the sound itself. */
export const chords: Readonly<Record<string, readonly [Semitones, Semitones, Semitones, Semitones]>> = {
  major: [4, 7, 12, -12],
  minor: [3, 7, 12, -12],
  suspended: [5, 7, 12, -12],
  diminished: [3, 6, 9, -12],
  augmented: [4, 8, 12, -12],
  'stacked fourths': [5, 10, 15, -12],
  'fifth and octaves': [7, 12, -12, 19],
  octaves: [12, -12, 24, -24],
};
export const mostVoices = 4;
