import type { Unit } from '../units';

/** Shapes a fade can have; every one runs from 0 to 1 as a fade-in and is mirrored in time as a fade-out. */
export const fadeShapes = ['linear', 'equal power', 's-curve', 'slow start', 'fast start'] as const;
export type FadeShape = (typeof fadeShapes)[number];

const steepness = 4;

/**
 * Gain of a fade-in at `position` from 0 (silent) to 1 (full). Linear; equal power (a quarter sine, so that two crossing
 * fades of unrelated signals keep their power); an S (raised cosine); exponential with a slow or a fast start.
 */
export function fadeGain(shape: FadeShape, position: Unit): Unit {
  const x = position <= 0 ? 0 : position >= 1 ? 1 : position;
  switch (shape) {
    case 'linear':
      return x;
    case 'equal power':
      return Math.sin((x * Math.PI) / 2);
    case 's-curve':
      return 0.5 - 0.5 * Math.cos(x * Math.PI);
    case 'slow start':
      return Math.expm1(steepness * x) / Math.expm1(steepness);
    case 'fast start':
      return 1 - Math.expm1(steepness * (1 - x)) / Math.expm1(steepness);
  }
}
