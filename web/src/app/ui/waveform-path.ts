import type { Overview } from '@tangled-choir/core';

/** Which frame of the recording is drawn at a share of the width, from 0 to 1. */
export type FramePlaces = (share: number) => number;

/**
 * Where a part of a recording lies in `width` × `height` pixels, one column a pixel, from the lowest to the highest sample of the overview that
 * falls into it: `place` gets its left edge, its top and its height. The places may run backwards, faster and slower, or jump. `gain`
 * scales the height; silence is a line one pixel high.
 */
export function placeColumns(
  overview: Overview,
  places: FramePlaces,
  { width, height, gain = 1 }: { readonly width: number; readonly height: number; readonly gain?: number },
  place: (x: number, top: number, height: number) => void,
): void {
  const middle = height / 2;
  let next = places(0);
  let step = 0;
  for (let x = 0; x < width; x++) {
    const at = next;
    next = places((x + 1) / width);
    // Where a loop leads back, the pixel shows what follows on from where it is.
    if (x === 0 || (next - at) * step >= 0) step = next - at;
    const first = Math.floor(Math.min(at, at + step) / overview.framesPerColumn);
    const last = Math.max(first, Math.ceil(Math.max(at, at + step) / overview.framesPerColumn) - 1);
    let low = Infinity;
    let high = -Infinity;
    for (let column = Math.max(0, first); column <= last && column < overview.low.length; column++) {
      low = Math.min(low, overview.low[column]!);
      high = Math.max(high, overview.high[column]!);
    }
    if (high < low) continue;
    const top = middle - Math.min(1, high * gain) * middle;
    const bottom = middle - Math.max(-1, low * gain) * middle;
    place(x, top, Math.max(1, bottom - top));
  }
}

/** The outline of these columns as the data of an SVG path: forward along their tops, back along their bottoms. */
export function waveformPath(overview: Overview, places: FramePlaces, box: { width: number; height: number; gain?: number }): string {
  const parts: string[] = [];
  let start = 0;
  let tops: string[] = [];
  let bottoms: string[] = [];
  const close = (): void => {
    if (tops.length > 0) parts.push(`M${start} ${tops[0]}${tops.map((top) => `V${top}h1`).join('')}${bottoms.reverse().join('')}Z`);
    tops = [];
    bottoms = [];
  };
  placeColumns(overview, places, box, (x, top, height) => {
    if (x !== start + tops.length) close();
    if (tops.length === 0) start = x;
    tops.push(short(top));
    bottoms.push(`V${short(top + height)}h-1`);
  });
  close();
  return parts.join('');
}

/** A tenth of a pixel is as much as can be seen. */
const short = (pixels: number): string => String(Math.round(pixels * 10) / 10);
