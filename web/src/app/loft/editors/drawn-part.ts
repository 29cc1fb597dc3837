import type { Clip, Stretch } from '@tangled-choir/core';
import { clipDuration, contentAtTime, contentPlace, playedStretch } from '@tangled-choir/core';

/** A part of a clip, in shares of its width. */
export interface ClipPart {
  readonly from: number;
  readonly to: number;
}

const whole: ClipPart = { from: 0, to: 1 };
/** Pixels up to which a clip is drawn as a whole: what is out of view then costs nothing while one scrolls. */
const widestWhole = 4_096;

/** What of a clip is drawn: all of it, or of a very wide one what can be seen, or nearly. `view` in seconds of the time axis. */
export function drawnPart(clip: Clip, pixelsPerSecond: number, view: Stretch): ClipPart {
  const duration = clipDuration(clip);
  if (duration * pixelsPerSecond <= widestWhole) return whole;
  const share = (time: number): number => Math.max(0, Math.min(1, (time - clip.start) / duration));
  return { from: share(view.from), to: share(view.to) };
}

export function samePart(a: ClipPart, b: ClipPart): boolean {
  return a.from === b.from && a.to === b.to;
}

/** The stretch of the source, in seconds, that a part of a clip plays. */
export function stretchOfPart(clip: Clip, { from, to }: ClipPart): Stretch {
  // Loops come back to what lies anywhere in them.
  if (clip.loop || (from === 0 && to === 1)) return playedStretch(clip);
  const duration = clipDuration(clip);
  const [a, b] = [from, to].map((share) => contentPlace(clip, contentAtTime(clip, share * duration)));
  return { from: Math.min(a!, b!), to: Math.max(a!, b!) };
}
