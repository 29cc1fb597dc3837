import type { Clip, Pin } from '@tangled-choir/core';
import { clipDuration, stretchAt, contentAtTime } from '@tangled-choir/core';

/** Two pins cannot be at one moment. */
const apart = 0.001;

/** The pins of a clip with one of them at another time after the clip's start, between its neighbours. */
export function movedPin(pins: readonly Pin[], index: number, time: number): Pin[] {
  const after = (pins[index - 1]?.time ?? 0) + apart;
  const before = (pins[index + 1]?.time ?? Infinity) - apart;
  return pins.map((pin, i) => (i === index ? { ...pin, time: Math.max(after, Math.min(before, time)) } : pin));
}

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
