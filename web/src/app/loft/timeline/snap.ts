import type { Clock, Division, Sound, Tempo } from '@tangled-choir/core';
import { clipEnd, noteLength, syncTime } from '@tangled-choir/core';
import type { SnapKinds } from './time-display';
import { nearestFrame } from './time-display';

/** What times are drawn to: single moments, and grids that have one near everywhere. */
export interface SnapTargets {
  readonly moments: readonly number[];
  readonly grids: readonly ((time: number) => number)[];
}

export interface SnapContext {
  readonly sound: Sound;
  readonly playhead: number;
  readonly kinds: SnapKinds;
  readonly division: Division;
  /** Clips that are being moved and must not snap to themselves. */
  readonly except: ReadonlySet<string>;
}

/** The targets that are switched on. The playhead and the beginning always are. */
export function snapTargets({ sound, playhead, kinds, division, except }: SnapContext): SnapTargets {
  const moments = [0, playhead];
  if (kinds.marks) moments.push(...sound.marks.map((mark) => mark.time));
  for (const layer of sound.layers)
    for (const clip of layer.clips) {
      if (except.has(clip.id)) continue;
      if (kinds.edges) moments.push(clip.start, clipEnd(clip));
      if (kinds.syncs && clip.sync) moments.push(syncTime(clip));
      if (kinds.syncs) for (const pin of clip.pins ?? []) moments.push(clip.start + pin.time);
    }
  const grids: SnapTargets['grids'][number][] = [];
  if (kinds.frames) grids.push(frameGrid(sound.clock));
  if (kinds.beats) grids.push(beatGrid(sound.tempo, division));
  return { moments, grids };
}

const frameGrid =
  (clock: Clock) =>
  (time: number): number =>
    nearestFrame(time, clock);

const beatGrid = (tempo: Tempo, division: Division) => {
  const step = noteLength(tempo, division);
  return (time: number): number => tempo.offset + Math.round((time - tempo.offset) / step) * step;
};

/**
 * Moves `start` so that one of the points of what is dragged (offsets from its start: its edges, its sync point) meets the nearest target
 * within `reach`.
 */
export function snapStart(start: number, points: readonly number[], { moments, grids }: SnapTargets, reach: number): number {
  let best = reach;
  let snapped = start;
  const consider = (target: number, point: number): void => {
    const distance = Math.abs(start + point - target);
    if (distance < best) {
      best = distance;
      snapped = target - point;
    }
  };
  for (const point of points) {
    for (const moment of moments) consider(moment, point);
    for (const nearest of grids) consider(nearest(start + point), point);
  }
  return Math.max(0, snapped);
}

/** Moves a single time to the nearest target within `reach`. */
export function snapTime(time: number, targets: SnapTargets, reach: number): number {
  return snapStart(time, [0], targets, reach);
}
