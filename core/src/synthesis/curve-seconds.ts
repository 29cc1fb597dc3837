import type { PatchCurve } from '../project/patch/patch-schema';
import type { Seconds } from '../units';

/** How long a curve is for a note of a length, at a tempo. */
export function curveSeconds({ length, unit }: Pick<PatchCurve, 'length' | 'unit'>, note: Seconds, bpm: number): Seconds {
  if (unit === 'note') return Math.max(0.001, note * length);
  return unit === 'beats' ? (length * 60) / bpm : length;
}
