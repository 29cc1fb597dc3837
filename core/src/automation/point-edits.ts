import type { NumberParameter } from '../project/parameters';
import { placeOfValue, valueAtPlace } from '../project/parameters';
import type { AutomationPoint } from '../project/schema';
import type { Ratio, Seconds, Stretch, Unit } from '../units';
import type { LaneCurve } from './lane-value';
import { laneValue, pointBefore } from './lane-value';

export type Points = readonly AutomationPoint[];

const straight = (time: Seconds, value: number): AutomationPoint => ({ time, value, bend: 0 });

/** The point that a course passes through at `time`. A part of an exponential bend is an exponential bend, only a weaker one. */
function pointAt(lane: LaneCurve, parameter: NumberParameter, time: Seconds): AutomationPoint {
  const before = pointBefore(lane.points, time);
  const from = lane.points[before];
  const to = lane.points[before + 1];
  const bend = from && to ? (from.bend * (to.time - time)) / (to.time - from.time) : 0;
  return { time, value: laneValue({ ...lane, trim: 0 }, parameter, time), bend };
}

/**
 * Puts points in the place of everything in a stretch. What lies outside keeps its course; behind the last point of all, the new
 * course holds its last value.
 */
export function replaceStretch(lane: LaneCurve, parameter: NumberParameter, { from, to }: Stretch, inside: Points): AutomationPoint[] {
  const before = lane.points.filter((point) => point.time < from);
  const behind = lane.points.filter((point) => point.time > to);
  const last = before.at(-1);
  const next = lane.points[before.length];
  const holdBehind = behind.length > 0 ? [pointAt(lane, parameter, to)] : [];
  if (!last) return [...inside, ...holdBehind, ...behind];
  const hold = { ...(next?.time === from ? next : pointAt(lane, parameter, from)), bend: 0 };
  // Nothing of the way that is replaced may bend what is left of it.
  const shortened = next ? { ...last, bend: (last.bend * (from - last.time)) / (next.time - last.time) } : last;
  return [...before.slice(0, -1), shortened, hold, ...inside, ...holdBehind, ...behind];
}

/** Puts a point into a lane; the ways on both sides keep their bends as far as they are left. Also tells its index. */
export function insertPoint(
  lane: LaneCurve,
  parameter: NumberParameter,
  { time, value }: { readonly time: Seconds; readonly value: number },
): { points: AutomationPoint[]; index: number } {
  const before = pointBefore(lane.points, time);
  const from = lane.points[before];
  const to = lane.points[before + 1];
  const inserted = { ...pointAt(lane, parameter, time), value };
  const head = lane.points.slice(0, before + 1);
  if (from && to) head[before] = { ...from, bend: (from.bend * (time - from.time)) / (to.time - from.time) };
  return { points: [...head, inserted, ...lane.points.slice(before + 1)], index: before + 1 };
}

/** Distance of a point from the straight way between two others, in places of the parameter. */
function detour(point: AutomationPoint, a: AutomationPoint, b: AutomationPoint, parameter: NumberParameter): Unit {
  const share = b.time > a.time ? (point.time - a.time) / (b.time - a.time) : 0;
  const start = placeOfValue(parameter, a.value);
  return Math.abs(placeOfValue(parameter, point.value) - start - (placeOfValue(parameter, b.value) - start) * share);
}

/**
 * Leaves out the points that the curve does not need: none of those left out lies further than `tolerance` (share of the parameter's
 * range) from it. Method: Douglas & Peucker 1973, with the distance measured along the value axis. Bent ways and their ends stay.
 */
export function thinPoints(points: Points, parameter: NumberParameter, tolerance: Unit): AutomationPoint[] {
  const keep = new Set([0, points.length - 1]);
  points.forEach((point, index) => {
    if (point.bend !== 0) keep.add(index).add(index + 1);
  });
  const fixed = [...keep].filter((index) => index < points.length).sort((a, b) => a - b);
  const spans = fixed.slice(1).map((to, n): [number, number] => [fixed[n]!, to]);
  for (let span = spans.pop(); span; span = spans.pop()) {
    const [from, to] = span;
    let furthest = from;
    let most = tolerance;
    for (let i = from + 1; i < to; i++) {
      const distance = detour(points[i]!, points[from]!, points[to]!, parameter);
      if (distance > most) {
        most = distance;
        furthest = i;
      }
    }
    if (furthest === from) continue;
    keep.add(furthest);
    spans.push([from, furthest], [furthest, to]);
  }
  return points.filter((_, index) => keep.has(index));
}

/** Samples a lane every `step` seconds over a stretch, both ends included. */
function sampled(lane: LaneCurve, parameter: NumberParameter, { from, to }: Stretch, step: Seconds): AutomationPoint[] {
  const count = Math.max(1, Math.min(4_000, Math.ceil((to - from) / step)));
  return Array.from({ length: count + 1 }, (_, i) => {
    const time = from + ((to - from) * i) / count;
    return straight(time, laneValue({ ...lane, trim: 0 }, parameter, time));
  });
}

/** Rounds the course of a stretch off: a moving average of width `width` (raised cosine), which keeps both ends where they are. */
export function smoothStretch(lane: LaneCurve, parameter: NumberParameter, stretch: Stretch, width: Seconds): AutomationPoint[] {
  const raw = sampled(lane, parameter, stretch, width / 8);
  const step = raw.length > 1 ? raw[1]!.time - raw[0]!.time : width;
  const places = raw.map((point) => placeOfValue(parameter, point.value));
  const inside = raw.map(({ time }, i) => {
    // Nearer to an end the window shrinks, so that the ends stay.
    const reach = Math.min(i, raw.length - 1 - i, Math.max(1, Math.round(width / 2 / step)));
    let sum = 0;
    let weights = 0;
    for (let k = -reach; k <= reach; k++) {
      const weight = 1 + Math.cos((Math.PI * k) / (reach + 1));
      sum += places[i + k]! * weight;
      weights += weight;
    }
    return straight(time, valueAtPlace(parameter, sum / weights));
  });
  return replaceStretch(lane, parameter, stretch, thinPoints(inside, parameter, 0.001));
}

/** Makes the movement within a stretch larger or smaller around its mean: 0 flattens it, 2 doubles it. */
export function scaleStretch(lane: LaneCurve, parameter: NumberParameter, stretch: Stretch, factor: Ratio): AutomationPoint[] {
  const inside = pointsWithin(lane, parameter, stretch);
  const course = sampled(lane, parameter, stretch, Math.max(0.001, (stretch.to - stretch.from) / 500));
  const mean = course.reduce((sum, point) => sum + placeOfValue(parameter, point.value), 0) / course.length;
  const scaled = inside.map((point) => ({
    ...point,
    value: valueAtPlace(parameter, mean + (placeOfValue(parameter, point.value) - mean) * factor),
  }));
  return replaceStretch(lane, parameter, stretch, scaled);
}

/** The points within a stretch, with one at each end that says where the course is there. */
export function pointsWithin(lane: LaneCurve, parameter: NumberParameter, { from, to }: Stretch): AutomationPoint[] {
  const inside = lane.points.filter((point) => point.time > from && point.time < to);
  const cut = [pointAt(lane, parameter, from), ...inside];
  const last = cut.at(-1)!;
  const next = lane.points.find((point) => point.time > last.time);
  const bend = next && next.time > to ? (last.bend * (to - last.time)) / (next.time - last.time) : last.bend;
  return [...cut.slice(0, -1), { ...last, bend }, { ...pointAt(lane, parameter, to), bend: 0 }];
}

/** Lays copied points over a lane from `at` on. */
export function pastePoints(lane: LaneCurve, parameter: NumberParameter, copied: Points, at: Seconds): AutomationPoint[] {
  const first = copied[0];
  const last = copied.at(-1);
  if (!first || !last) return [...lane.points];
  const moved = copied.map((point) => ({ ...point, time: at + point.time - first.time }));
  return replaceStretch(lane, parameter, { from: at, to: at + last.time - first.time }, moved);
}

/** Takes a freehand stroke over: its points in order of time, thinned, in place of what was there. */
export function drawStroke(
  lane: LaneCurve,
  parameter: NumberParameter,
  stroke: readonly { time: Seconds; value: number }[],
): AutomationPoint[] {
  const ordered = [...stroke].sort((a, b) => a.time - b.time).map(({ time, value }) => straight(time, value));
  const first = ordered[0];
  const last = ordered.at(-1);
  if (!first || !last) return [...lane.points];
  return replaceStretch(lane, parameter, { from: first.time, to: last.time }, thinPoints(ordered, parameter, 0.004));
}
