/** Units as named types: a bare `number` in a public signature says too little. */

/** Time in seconds. */
export type Seconds = number;
/** A count of samples per channel. */
export type Frames = number;
/** Frequency in cycles per second. */
export type Hertz = number;
/** A level or a gain in decibels; `-Infinity` is silence. */
export type Decibels = number;
/** A pitch interval in equal-tempered semitones. */
export type Semitones = number;
/** A plain factor; 1 changes nothing. */
export type Ratio = number;
/** A number from 0 to 1. */
export type Unit = number;

/** A stretch of time: of the time axis, or of a recording. */
export interface Stretch {
  readonly from: Seconds;
  readonly to: Seconds;
}

/** Amplitude factor of a gain in decibels. */
export function decibelsToGain(decibels: Decibels): Ratio {
  return Math.pow(10, decibels / 20);
}

/** Gain in decibels of an amplitude factor; `-Infinity` for zero and below. */
export function gainToDecibels(gain: Ratio): Decibels {
  return gain > 0 ? 20 * Math.log10(gain) : -Infinity;
}

/** Speed factor of an interval: +12 st doubles the speed. */
export function semitonesToRatio(semitones: Semitones): Ratio {
  return Math.pow(2, semitones / 12);
}

/** The interval between a speed and the original; 2 is an octave up. */
export function ratioToSemitones(ratio: Ratio): Semitones {
  return 12 * Math.log2(ratio);
}
