import type { NumberParameter } from '../project/parameters';
import { fitValue } from '../project/parameters';
import type { AutomationPoint } from '../project/schema';
import type { Seconds, Unit } from '../units';
import type { LaneCurve } from './lane-value';
import { trimmedValue } from './lane-value';
import { replaceStretch, thinPoints } from './point-edits';

/** Where a control was at a moment. */
export interface Move {
  readonly time: Seconds;
  readonly value: number;
}

/** Share of its range by which a recorded course may be simplified. */
const tolerance: Unit = 0.01;
/** A control in motion sends something in shorter gaps than this; behind a longer one it leaves from where it stood. */
const restGap: Seconds = 0.05;

/**
 * The points of a lane with how a control was moved, in the order of time, in the place of what was there from the first moment to the last. The lane's
 * trim is in them. Without any move it is as it was.
 */
export function recordedMoves(lane: LaneCurve, parameter: NumberParameter, moves: readonly Move[]): AutomationPoint[] {
  const points = lane.points.map((point) => ({ ...point, value: trimmedValue(parameter, point.value, lane.trim) }));
  const first = moves[0];
  const last = moves.at(-1);
  if (!first || !last) return points;
  const course = moves.flatMap(({ time, value: moved }, i) => {
    const before = moves[i - 1];
    const point = { time, value: Number(fitValue(parameter, moved)), bend: 0 };
    if (!before || time - before.time <= restGap) return [point];
    return [{ time: time - restGap / 2, value: Number(fitValue(parameter, before.value)), bend: 0 }, point];
  });
  return replaceStretch(
    { ...lane, trim: 0, points },
    parameter,
    { from: first.time, to: last.time },
    thinPoints(course, parameter, tolerance),
  );
}
