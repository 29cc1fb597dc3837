import type { Clip } from '@tangled-choir/core';
import { clipDuration, stretchAt, contentAtTime } from '@tangled-choir/core';

/** What lies between two pins, in shares of the clip's width, and how strongly it is tinted: above 0 longer, below 0 shorter, at most 1. */
export interface PinnedSpan {
  readonly from: number;
  readonly width: number;
  readonly tint: number;
}

export function pinnedSpans(clip: Clip, duration = clipDuration(clip)): PinnedSpan[] {
  if (!clip.pins) return [];
  const edges = [0, ...clip.pins.map(({ time }) => time).filter((time) => time > 0 && time < duration), duration];
  return edges.slice(1).map((to, i) => {
    const from = edges[i]!;
    const ratio = stretchAt(clip, contentAtTime(clip, (from + to) / 2));
    return { from: from / duration, width: (to - from) / duration, tint: Math.max(-1, Math.min(1, Math.log2(ratio) / 2)) };
  });
}
