import { bentShare } from './lane-value';

/** A point of a drawn curve: its place, 0 to 1, its height, -1 to 1, and how the way to the next one bends. */
export interface DrawnPoint {
  readonly at: number;
  readonly value: number;
  readonly bend: number;
}

/** A curve of points in the order of their places; it goes once, or round and round. */
export interface DrawnCurve {
  readonly points: readonly DrawnPoint[];
  readonly rounds: boolean;
}

/**
 * Height of a drawn curve, -1 to 1, where a share of it is over: in straight or bent ways from point to point. Going round, the last point leads back to the
 * first; going once, the first and the last hold. Without points it is 0.
 */
export function curveHeight({ points, rounds }: DrawnCurve, along: number): number {
  const [first] = points;
  const last = points.at(-1);
  if (!first || !last) return 0;
  const place = rounds ? along - Math.floor(along) : Math.min(1, along);
  let next = 0;
  while (next < points.length && points[next]!.at <= place) next++;
  const before = points[next - 1];
  const behind = points[next];
  if (before && behind) return way(before, behind, (place - before.at) / (behind.at - before.at));
  if (!rounds) return before ? last.value : first.value;
  // Across the end of a round.
  const gap = first.at + 1 - last.at;
  return gap <= 0 ? last.value : way(last, first, (before ? place - last.at : place + 1 - last.at) / gap);
}

function way(from: DrawnPoint, to: DrawnPoint, share: number): number {
  return from.value + (to.value - from.value) * bentShare(share, from.bend);
}
