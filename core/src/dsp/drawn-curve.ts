import type { ShaperFunction } from './shaper-curves';

/**
 * A curve drawn through heights at even places from -1 to 1, straight between them and level beyond, with the antiderivatives that keep it free
 * of aliases (see `CurveShaper`).
 *
 * @param heights what comes out at each place, two at least
 */
export function drawnCurve(heights: readonly number[]): ShaperFunction {
  const pieces = heights.length - 1;
  const width = 2 / pieces;
  // First and second antiderivative at each place.
  const areas = new Float64Array(heights.length);
  const volumes = new Float64Array(heights.length);
  for (let i = 0; i < pieces; i++) {
    const [here, next] = [heights[i]!, heights[i + 1]!];
    areas[i + 1] = areas[i]! + (width * (here + next)) / 2;
    volumes[i + 1] = volumes[i]! + width * areas[i]! + width * width * (here / 3 + next / 6);
  }
  const pieceOf = (x: number): number => Math.max(0, Math.min(pieces - 1, Math.floor((x + 1) / width)));
  /** Level beyond the ends, from where they are. */
  const beyond = (x: number): number => (x > 1 ? pieces : x < -1 ? 0 : -1);
  const endOf = (place: number): number => (place === 0 ? -1 : 1);
  return {
    value: (x) => {
      const end = beyond(x);
      if (end >= 0) return heights[end]!;
      const i = pieceOf(x);
      const t = (x + 1) / width - i;
      return heights[i]! + (heights[i + 1]! - heights[i]!) * t;
    },
    first: (x) => {
      const end = beyond(x);
      if (end >= 0) return areas[end]! + heights[end]! * (x - endOf(end));
      const i = pieceOf(x);
      const d = x + 1 - i * width;
      return areas[i]! + d * (heights[i]! + ((heights[i + 1]! - heights[i]!) * d) / (2 * width));
    },
    second: (x) => {
      const end = beyond(x);
      if (end >= 0) {
        const d = x - endOf(end);
        return volumes[end]! + d * (areas[end]! + (heights[end]! * d) / 2);
      }
      const i = pieceOf(x);
      const d = x + 1 - i * width;
      return volumes[i]! + d * (areas[i]! + d * (heights[i]! / 2 + ((heights[i + 1]! - heights[i]!) * d) / (6 * width)));
    },
  };
}
