import type { DrawnPoint } from '@tangled-choir/core';
import type { GraphPoint, PointMove } from './point-graph';
import { graphY } from './point-graph';
import { signed } from './quantity';

const columns = 200;

/** The points of a drawn curve, for a graph; `whole` is what their places are shares of. */
export function drawnPoints(points: readonly DrawnPoint[], whole: string): GraphPoint[] {
  return points.map(({ at, value }) => ({
    x: at,
    y: value,
    label: `Point at ${(at * 100).toFixed(0)} % of ${whole}`,
    text: `${signed(value * 100, 0)} % at ${(at * 100).toFixed(0)} % of ${whole}`,
  }));
}

/** A curve from its beginning to its end as the path of a graph. */
export function drawnPath(heightAt: (place: number) => number): string {
  return Array.from({ length: columns + 1 }, (_, i) => {
    const place = Math.min(i / columns, 0.9999);
    return `${i === 0 ? 'M' : 'L'}${(place * 100).toFixed(2)} ${graphY(heightAt(place)).toFixed(2)}`;
  }).join('');
}

/** The points with one moved; it stays between its neighbours, so that a drag does not change which one it is. */
export function withMovedPoint<P extends DrawnPoint>(
  points: readonly P[],
  { index, byX, byY }: Pick<PointMove, 'index' | 'byX' | 'byY'>,
): P[] {
  const after = points[index - 1]?.at ?? 0;
  const before = points[index + 1]?.at ?? 1;
  return points.map((point, i) =>
    i === index
      ? { ...point, at: Math.max(after, Math.min(before, point.at + byX)), value: Math.max(-1, Math.min(1, point.value + byY)) }
      : point,
  );
}
