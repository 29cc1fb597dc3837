import type { Overview } from '@tangled-choir/core';

/** Which frame of the recording is drawn at a share of the width, from 0 to 1. */
export type FramePlaces = (share: number) => number;

/** Something that draws: the part of a canvas context that waveforms need. */
export type WaveformContext = Pick<CanvasRenderingContext2D, 'fillRect' | 'clearRect'>;

/**
 * Draws a part of a recording into `width` × `height` pixels, one column a pixel, from the lowest to the highest sample of the overview that
 * falls into it. The places may run backwards, faster and slower, or jump. `gain` scales the height; silence is a line one pixel high.
 */
export function drawWaveform(
  context: WaveformContext,
  overview: Overview,
  places: FramePlaces,
  width: number,
  height: number,
  gain = 1,
): void {
  context.clearRect(0, 0, width, height);
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
    context.fillRect(x, top, 1, Math.max(1, bottom - top));
  }
}
