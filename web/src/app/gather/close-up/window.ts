import type { Stretch } from '@tangled-choir/core';
import { formatDuration } from '../../ui/quantity';

/** Seconds of the smallest window: at 48 kHz, 96 samples. */
export const shortestWindow = 0.002;

/** A window closer to (or, below 1, further from) what lies at `around`, which keeps its place in it. */
export function zoomed({ from, to }: Stretch, factor: number, around: number, total: number): Stretch {
  const length = Math.max(Math.min(shortestWindow, total), Math.min(total, (to - from) / factor));
  const share = (around - from) / Math.max(1e-9, to - from);
  return moved({ from: around - share * length, to: around + (1 - share) * length }, 0, total);
}

/** A window further right, within the recording. */
export function moved({ from, to }: Stretch, by: number, total: number): Stretch {
  const length = Math.min(total, to - from);
  const start = Math.max(0, Math.min(total - length, from + by));
  return { from: start, to: start + length };
}

/**
 * The stretch whose waveform is measured for a window: it reaches beyond it and is the same for windows near by, so that moving and zooming
 * seldom measure anew.
 */
export function waveformStretch({ from, to }: Stretch, total: number): Stretch {
  const span = 2 ** Math.ceil(Math.log2(Math.max(shortestWindow, to - from)));
  const start = Math.floor(from / (span / 2)) * (span / 2);
  return { from: start, to: Math.min(total, start + 1.5 * span) };
}

/** Seconds between ticks that people can count in. */
const longSteps = [10, 15, 30, 60, 120, 300, 600, 900, 1_800, 3_600];

/** Round times within a window, and what they are called; at most `most` of them, or one. */
export function ticksOf({ from, to }: Stretch, most: number): { readonly time: number; readonly text: string }[] {
  const least = (to - from) / Math.max(1, most);
  const power = 10 ** Math.floor(Math.log10(least));
  const step =
    least > 5
      ? (longSteps.find((long) => long >= least) ?? 3_600)
      : power * [1, 2, 5, 10].find((part) => part * power > least * (1 - 1e-9))!;
  const count = Math.max(0, Math.floor(to / step + 1e-9) - Math.ceil(from / step - 1e-9) + 1);
  return Array.from({ length: count }, (_, n) => {
    const time = (Math.ceil(from / step - 1e-9) + n) * step;
    return { time, text: tickText(time, step) };
  });
}

/** A time on the axis, with as many decimals as neighbouring ticks need to differ. */
function tickText(time: number, step: number): string {
  const digits = step >= 1 ? 0 : Math.min(5, Math.ceil(-Math.log10(step) - 1e-9));
  return formatDuration(time, digits, digits).replace(' s', '');
}
