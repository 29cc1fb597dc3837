import { offsetValue } from '../project/offset';
import type { NumberParameter } from '../project/parameters';
import { placeOfValue, valueAtPlace } from '../project/parameters';
import type { AutomationLane, AutomationPoint } from '../project/schema';
import type { Seconds, Unit } from '../units';

/** What decides the values of a lane. */
export type LaneCurve = Pick<AutomationLane, 'points' | 'stepped' | 'trim'>;

/** Strongest exponent of a bend; the middle of the way then lies at 2 % or 98 % of it. */
const strongestBend = 8;

/** How much of the way from one point to the next is done at `share` of the time: an exponential curve through both ends. */
export function bentShare(share: Unit, bend: number): Unit {
  const k = bend * strongestBend;
  return Math.abs(k) < 1e-3 ? share : Math.expm1(k * share) / Math.expm1(k);
}

/** The bend whose curve has done `share` of its way at half of its time. */
export function bendThrough(share: Unit): number {
  // At half time the curve is at 1 / (1 + e^(k/2)).
  const k = 2 * Math.log(1 / Math.max(1e-6, Math.min(1 - 1e-6, share)) - 1);
  return Math.max(-1, Math.min(1, k / strongestBend));
}

/** Index of the last point at or before `time`; −1 before the first. Of points at the same time the last one counts. */
export function pointBefore(points: readonly AutomationPoint[], time: Seconds): number {
  let low = -1;
  let high = points.length;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (points[middle]!.time <= time) low = middle;
    else high = middle;
  }
  return low;
}

/**
 * Value of a lane at a moment, in the unit of its parameter and within its range. Between points the way is straight (or bent) on the
 * parameter's own scale, so that a frequency moves by equal intervals; stages hold until the next point. Before the first and behind the last point their values hold.
 */
export function laneValue(lane: LaneCurve, parameter: NumberParameter, time: Seconds): number {
  return valueFrom(lane, parameter, time, pointBefore(lane.points, time));
}

/** The same for who knows which point lies before `time`. */
export function valueFrom({ points, stepped, trim }: LaneCurve, parameter: NumberParameter, time: Seconds, before: number): number {
  const from = points[Math.max(0, before)];
  if (!from) return parameter.default;
  const to = points[before + 1];
  let value = from.value;
  if (before >= 0 && to && !stepped && !parameter.names) {
    const share = (time - from.time) / (to.time - from.time);
    const start = placeOfValue(parameter, from.value);
    value = valueAtPlace(parameter, start + (placeOfValue(parameter, to.value) - start) * bentShare(share, from.bend));
  }
  return trimmedValue(parameter, value, trim);
}

/** What a value of a lane becomes by its trim; without one it stays exactly what it is. */
export function trimmedValue(parameter: NumberParameter, value: number, trim: number): number {
  const trimmed = trim === 0 ? Math.min(parameter.max, Math.max(parameter.min, value)) : offsetValue(parameter, value, trim);
  return parameter.names ? Math.round(trimmed) : trimmed;
}

/** A corner of a drawn lane: a moment, and where on the parameter's range the value is, 0 to 1. */
export interface Corner {
  readonly time: Seconds;
  readonly place: Unit;
}

const partsOfBend = 24;

/**
 * The corners of the line that draws a lane: its points, steps as right angles, bends in short straight parts. `shown` is the range that
 * is drawn, if it is not all of the parameter's.
 */
export function laneCourse(lane: LaneCurve, parameter: NumberParameter, shown = parameter): Corner[] {
  const corner = (time: Seconds, value: number): Corner => ({
    time,
    place: placeOfValue(shown, trimmedValue(parameter, value, lane.trim)),
  });
  return lane.points.flatMap((point, index) => {
    const next = lane.points[index + 1];
    const own = corner(point.time, point.value);
    if (!next) return [own];
    if (lane.stepped || parameter.names) return [own, corner(next.time, point.value)];
    if (point.bend === 0 || next.time === point.time) return [own];
    const parts = Array.from({ length: partsOfBend - 1 }, (_, part): Corner => {
      const time = point.time + ((next.time - point.time) * (part + 1)) / partsOfBend;
      return { time, place: placeOfValue(shown, valueFrom(lane, parameter, time, index)) };
    });
    return [own, ...parts];
  });
}
