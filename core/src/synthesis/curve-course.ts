import { bentShare } from '../automation/lane-value';
import type { PatchCurve } from '../project/patch/patch-schema';
import type { Seconds } from '../units';

/** How long a curve is for a note of a length, at a tempo. */
export function curveSeconds({ length, unit }: Pick<PatchCurve, 'length' | 'unit'>, note: Seconds, bpm: number): Seconds {
  if (unit === 'note') return Math.max(0.001, note * length);
  return unit === 'beats' ? (length * 60) / bpm : length;
}

/**
 * Height of a curve, -1 to 1, where a share of it is over: in straight or bent ways from point to point. Going round, the last point leads back to the
 * first; going once, the first and the last hold.
 */
export function curveHeight({ points, rounds }: Pick<PatchCurve, 'points' | 'rounds'>, along: number): number {
  const place = rounds ? along - Math.floor(along) : Math.min(1, along);
  let next = 0;
  while (next < points.length && points[next]!.at <= place) next++;
  const before = points[next - 1];
  const behind = points[next];
  if (before && behind) return way(before, behind, (place - before.at) / (behind.at - before.at));
  const first = points[0]!;
  const last = points.at(-1)!;
  if (!rounds) return before ? last.value : first.value;
  // Across the end of a round.
  const gap = first.at + 1 - last.at;
  return gap <= 0 ? last.value : way(last, first, (before ? place - last.at : place + 1 - last.at) / gap);
}

function way(from: PatchCurve['points'][number], to: PatchCurve['points'][number], share: number): number {
  return from.value + (to.value - from.value) * bentShare(share, from.bend);
}
