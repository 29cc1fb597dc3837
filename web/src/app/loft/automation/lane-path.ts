import type { AutomationLane, NumberParameter } from '@tangled-choir/core';
import { laneCourse, placeOfValue, trimmedValue, valueAtPlace } from '@tangled-choir/core';

/** How the strip of a lane maps time and value to pixels. */
export interface StripScale {
  readonly pixelsPerSecond: number;
  /** Pixels from the strip's top to the highest and the lowest value. */
  readonly top: number;
  readonly bottom: number;
  /** Where the time axis ends. */
  readonly seconds: number;
}

/**
 * The range that a strip shows. Levels reach far below what is heard: the strip shows the part that people work in, and its lower edge
 * stands for everything below.
 */
export function shownRange(parameter: NumberParameter): NumberParameter {
  return parameter.unit === 'dB' && parameter.min <= -96 ? { ...parameter, min: -60, max: 12 } : parameter;
}

export const yOfPlace = ({ top, bottom }: StripScale, place: number): number => bottom - (bottom - top) * place;
export const placeOfY = ({ top, bottom }: StripScale, y: number): number => Math.max(0, Math.min(1, (bottom - y) / (bottom - top)));

/** The course of a lane over the whole axis, as the data of an SVG path. */
export function lanePath(lane: AutomationLane, parameter: NumberParameter, scale: StripScale): string {
  const corners = laneCourse(lane, parameter, shownRange(parameter));
  const first = corners[0];
  const last = corners.at(-1);
  if (!first || !last) return '';
  const ends = [{ time: 0, place: first.place }, ...corners, { time: Math.max(scale.seconds, last.time), place: last.place }];
  return ends
    .map(({ time, place }, i) => `${i === 0 ? 'M' : 'L'}${(time * scale.pixelsPerSecond).toFixed(1)} ${yOfPlace(scale, place).toFixed(1)}`)
    .join('');
}

/** A point as a handle: where it is drawn. */
export interface Handle {
  readonly index: number;
  readonly x: number;
  readonly y: number;
}

/** Handles nearer to each other than this hide the curve. */
const leastDistance = 12;

/** Handles of the points within a stretch; those that would lie on top of each other appear when one zooms in. */
export function pointHandles(
  lane: AutomationLane,
  parameter: NumberParameter,
  scale: StripScale,
  stretch: { readonly from: number; readonly to: number },
): Handle[] {
  const handles = lane.points.flatMap(({ time, value }, index): Handle[] => {
    if (time < stretch.from || time > stretch.to) return [];
    const place = placeOfValue(shownRange(parameter), trimmedValue(parameter, value, lane.trim));
    return [{ index, x: time * scale.pixelsPerSecond, y: yOfPlace(scale, place) }];
  });
  const isNear = (a: Handle, b: Handle | undefined): boolean => b !== undefined && Math.hypot(a.x - b.x, a.y - b.y) < leastDistance;
  return handles.filter((handle, n) => !isNear(handle, handles[n - 1]) && !isNear(handle, handles[n + 1]));
}

const leastWay = 28;

/** Handles in the middle of the ways between points, which bend them. Level ways have nothing to bend. */
export function bendHandles(lane: AutomationLane, parameter: NumberParameter, scale: StripScale, points: readonly Handle[]): Handle[] {
  if (lane.stepped || parameter.names) return [];
  return points.flatMap((handle, n): Handle[] => {
    const next = points[n + 1];
    if (next?.index !== handle.index + 1 || next.x - handle.x < leastWay || Math.abs(next.y - handle.y) < 3) return [];
    const middle = laneCourse(
      { ...lane, points: [lane.points[handle.index]!, lane.points[next.index]!] },
      parameter,
      shownRange(parameter),
    );
    const corner = middle[Math.floor(middle.length / 2)]!;
    const y = middle.length > 2 ? yOfPlace(scale, corner.place) : (handle.y + next.y) / 2;
    return [{ index: handle.index, x: (handle.x + next.x) / 2, y }];
  });
}

/** The stored value that is drawn at a height: the trim of the lane is taken off again. */
export function valueOfY(lane: AutomationLane, parameter: NumberParameter, scale: StripScale, y: number): number {
  const place = placeOfY(scale, y);
  const wanted = place === 0 ? parameter.min : valueAtPlace(shownRange(parameter), place);
  if (lane.trim === 0) return wanted;
  // The trim is an offset or a factor; either way, taking it off is the same offset from the other side.
  const moved = trimmedValue(parameter, wanted, lane.trim);
  const back = parameter.scale === 'log' ? (wanted * wanted) / moved : wanted - (moved - wanted);
  return Math.max(parameter.min, Math.min(parameter.max, back));
}
