import type { CurvePoint } from '../project/schema';

/**
 * The fewest points of a curve that stay within a tolerance of it, after Ramer (1972) and Douglas & Peucker (1973), with distances taken along the value. If those are too
 * many, the tolerance grows.
 * @param points in the order of their places
 */
export function simplified(points: readonly CurvePoint[], tolerance: number, most: number): CurvePoint[] {
  for (let within = tolerance; ; within *= 2) {
    const kept = keptPoints(points, within);
    if (kept.length <= most) return kept;
  }
}

function keptPoints(points: readonly CurvePoint[], tolerance: number): CurvePoint[] {
  const keeps = new Uint8Array(points.length);
  const spans: [number, number][] = points.length === 0 ? [] : [[0, points.length - 1]];
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span;
    keeps[from] = keeps[to] = 1;
    const start = points[from]!;
    const slope = (points[to]!.value - start.value) / (points[to]!.at - start.at || 1);
    let farthest = tolerance;
    let place = -1;
    for (let i = from + 1; i < to; i++) {
      const beside = Math.abs(points[i]!.value - start.value - slope * (points[i]!.at - start.at));
      if (beside > farthest) [farthest, place] = [beside, i];
    }
    if (place > 0) spans.push([from, place], [place, to]);
  }
  return points.filter((_, i) => keeps[i] === 1);
}
