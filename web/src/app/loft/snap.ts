import type { Sound } from '@tangled-choir/core';
import { clipEnd } from '@tangled-choir/core';

/** The times that a dragged clip is drawn to: marks, the playhead, the edges of other clips, and the beginning. */
export function snapTargets(sound: Sound, playhead: number, exceptClip: string): number[] {
  const targets = [0, playhead, ...sound.marks.map((mark) => mark.time)];
  for (const layer of sound.layers) for (const clip of layer.clips) if (clip.id !== exceptClip) targets.push(clip.start, clipEnd(clip));
  return targets;
}

/** Moves `start` so that the start or the end of something `duration` long meets the nearest target within `reach`. */
export function snapStart(start: number, duration: number, targets: readonly number[], reach: number): number {
  let best = reach;
  let snapped = start;
  for (const target of targets) {
    for (const edge of [0, duration]) {
      const distance = Math.abs(start + edge - target);
      if (distance < best) {
        best = distance;
        snapped = target - edge;
      }
    }
  }
  return Math.max(0, snapped);
}

/** Moves a single time to the nearest target within `reach`. */
export function snapTime(time: number, targets: readonly number[], reach: number): number {
  return snapStart(time, 0, targets, reach);
}
