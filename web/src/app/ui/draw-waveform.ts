import type { Overview } from '@tangled-choir/core';

/** Which part of a recording is drawn, in frames. */
export interface FrameRange {
  readonly from: number;
  readonly to: number;
}

/** Something that draws: the part of a canvas context that waveforms need. */
export type WaveformContext = Pick<CanvasRenderingContext2D, 'fillRect' | 'clearRect'>;

/**
 * Draws a part of a recording into `width` × `height` pixels, one column a pixel, from the lowest to the highest sample of the overview that
 * falls into it. `gain` scales the height; silence is a line one pixel high.
 */
export function drawWaveform(
  context: WaveformContext,
  overview: Overview,
  range: FrameRange,
  width: number,
  height: number,
  gain = 1,
): void {
  context.clearRect(0, 0, width, height);
  const middle = height / 2;
  const perPixel = (range.to - range.from) / Math.max(1, width);
  for (let x = 0; x < width; x++) {
    const first = Math.floor((range.from + x * perPixel) / overview.framesPerColumn);
    const last = Math.max(first, Math.ceil((range.from + (x + 1) * perPixel) / overview.framesPerColumn) - 1);
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
