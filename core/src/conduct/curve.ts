import type { CurvePoint } from './conduct-data';

/** Height of a curve of points in the order of their places: in straight lines, and flat beyond its ends. Without points it is 0. */
export function heightAt(points: readonly CurvePoint[], at: number): number {
  const [first] = points;
  if (!first) return 0;
  if (!(at > first.at)) return first.value;
  for (let next = 1; next < points.length; next++) {
    const to = points[next]!;
    if (at >= to.at) continue;
    const from = points[next - 1]!;
    return from.value + ((to.value - from.value) * (at - from.at)) / (to.at - from.at);
  }
  return points.at(-1)!.value;
}

/** The shares of power that the children of a Blend have where none is drawn: each has its turn, in straight lines between its neighbours. */
export function ownTurn(index: number, count: number): CurvePoint[] {
  if (count < 2) return [{ at: 0, value: 1 }];
  const peak = index / (count - 1);
  const step = 1 / (count - 1);
  return [
    ...(index > 0 ? [{ at: peak - step, value: 0 }] : []),
    { at: peak, value: 1 },
    ...(index < count - 1 ? [{ at: peak + step, value: 0 }] : []),
  ];
}
