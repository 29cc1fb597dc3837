import type { GraphPlace, GraphPoint, PointMove } from '../ui/point-graph';
import { graphY } from '../ui/point-graph';

/** A point of a curve over a game parameter, in the units of both. */
export interface Point {
  readonly at: number;
  readonly value: number;
}

/** What a curve's axes go from and to. */
export interface Axes {
  readonly low: number;
  readonly high: number;
  readonly least: number;
  readonly most: number;
}

const toPlace = ({ low, high, least, most }: Axes, { at, value }: Point): GraphPlace => ({
  x: (at - low) / (high - low),
  y: ((value - least) / (most - least)) * 2 - 1,
});

/** Points for a graph, whose middle is the middle of the range of values. */
export function graphPoints(axes: Axes, points: readonly Point[], text: (point: Point) => string): GraphPoint[] {
  return points.map((point) => ({ ...toPlace(axes, point), label: text(point), text: text(point) }));
}

/** The curve through the points, flat beyond its ends. */
export function graphPath(axes: Axes, points: readonly Point[]): string {
  const places = points.map((point) => toPlace(axes, point));
  const [first, last] = [places[0], places.at(-1)];
  if (!first || !last) return '';
  return [{ x: 0, y: first.y }, ...places, { x: 1, y: last.y }]
    .map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${(x * 100).toFixed(2)} ${graphY(y).toFixed(2)}`)
    .join('');
}

export function withPoint({ low, high, least, most }: Axes, points: readonly Point[], { x, y }: GraphPlace): Point[] {
  const added = { at: low + x * (high - low), value: least + ((y + 1) / 2) * (most - least) };
  return [...points, added].sort((a, b) => a.at - b.at);
}

/** The points with one moved; it stays between its neighbours. */
export function withMoved({ low, high, least, most }: Axes, points: readonly Point[], { index, byX, byY }: PointMove): Point[] {
  const after = points[index - 1]?.at ?? low;
  const before = points[index + 1]?.at ?? high;
  return points.map((point, i) =>
    i === index
      ? {
          at: Math.max(after, Math.min(before, point.at + byX * (high - low))),
          value: Math.max(least, Math.min(most, point.value + (byY / 2) * (most - least))),
        }
      : point,
  );
}
