import type { Place, Walk } from './conduct-data';
import type { Scene } from './state';
import { tick } from './state';

/** Where one is after so many metres of a way, in which direction one goes (degrees from north, to the right), and whether the end is reached. */
export interface WalkPlace extends Place {
  readonly heading: number;
  readonly over: boolean;
}

/** Follows a way of at least one place. */
export function alongWalk({ points, way }: Pick<Walk, 'points' | 'way'>, metres: number): WalkPlace {
  const stops = way === 'round' ? [...points, points[0]!] : points;
  const steps = stops.slice(1).map(({ x, y }, i) => Math.hypot(x - stops[i]!.x, y - stops[i]!.y));
  const length = steps.reduce((sum, step) => sum + step, 0);
  if (!(length > 0)) return { ...points[0]!, heading: 0, over: true };
  const rounds = metres / length;
  const back = way === 'to and fro' && Math.floor(rounds) % 2 === 1;
  let left = way === 'once' ? Math.min(metres, length) : metres - Math.floor(rounds) * length;
  if (back) left = length - left;
  let at = 0;
  while (at < steps.length - 1 && (left > steps[at]! || steps[at] === 0)) left -= steps[at++]!;
  const [from, to] = [stops[at]!, stops[at + 1]!];
  const share = steps[at]! > 0 ? Math.min(1, Math.max(0, left / steps[at]!)) : 1;
  const turned = (Math.atan2(to.x - from.x, to.y - from.y) * 180) / Math.PI;
  return {
    x: from.x + (to.x - from.x) * share,
    y: from.y + (to.y - from.y) * share,
    heading: back ? turned + (turned > 0 ? -180 : 180) : turned,
    over: way === 'once' && metres >= length,
  };
}

/** One tick of all that walk. */
export function takeSteps({ state, score }: Scene): void {
  for (const [who, now] of state.walks) {
    const { x, y, heading, over } = alongWalk(now.walk, now.metres);
    if (who === '') state.listener = { x, y, facing: heading };
    else state.emitters.set(who, { x, y });
    now.metres += (now.walk.speed * tick) / score.data.sampleRate;
    if (over) state.walks.delete(who);
  }
}
