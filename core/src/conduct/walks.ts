import type { Place, Walk } from './conduct-data';
import type { Scene } from './state';
import { tick } from './state';

/** Where one is after so many metres of a way, in which direction one goes (degrees from north, to the right), and whether the end is reached. */
export interface WalkPlace extends Place {
  readonly heading: number;
  readonly over: boolean;
}

/** A way as it is walked: its places, back to the first where it goes round, and how far each is from the beginning, in metres. */
export interface LaidWalk extends Pick<Walk, 'way'> {
  readonly places: readonly Place[];
  readonly metres: readonly number[];
}

/** Measures a way of at least one place, once, so that following it takes nothing anew. */
export function layWalk({ points, way }: Pick<Walk, 'points' | 'way'>): LaidWalk {
  const places = way === 'round' ? [...points, points[0]!] : points;
  let far = 0;
  const metres = places.map(({ x, y }, i) => (far += i > 0 ? Math.hypot(x - places[i - 1]!.x, y - places[i - 1]!.y) : 0));
  return { places, metres, way };
}

/** Follows a way. */
export function alongWalk({ places, metres, way }: LaidWalk, gone: number): WalkPlace {
  const length = metres.at(-1)!;
  if (!(length > 0)) return { ...places[0]!, heading: 0, over: true };
  const rounds = Math.floor(gone / length);
  const back = way === 'to and fro' && rounds % 2 === 1;
  let at = way === 'once' ? Math.min(gone, length) : gone - rounds * length;
  if (back) at = length - at;
  // The first step that has a length and reaches so far.
  let next = 1;
  while (next < places.length - 1 && (at > metres[next]! || metres[next] === metres[next - 1])) next++;
  const [from, to] = [places[next - 1]!, places[next]!];
  const step = metres[next]! - metres[next - 1]!;
  const share = step > 0 ? Math.min(1, Math.max(0, (at - metres[next - 1]!) / step)) : 1;
  const turned = (Math.atan2(to.x - from.x, to.y - from.y) * 180) / Math.PI;
  return {
    x: from.x + (to.x - from.x) * share,
    y: from.y + (to.y - from.y) * share,
    heading: back ? turned + (turned > 0 ? -180 : 180) : turned,
    over: way === 'once' && gone >= length,
  };
}

/** One tick of all that walk. */
export function takeSteps({ state, score }: Scene): void {
  for (const [who, now] of state.walks) {
    const { x, y, heading, over } = alongWalk(now.laid, now.metres);
    if (who === '') state.listener = { x, y, facing: heading };
    else state.emitters.set(who, { x, y });
    now.metres += (now.walk.speed * tick) / score.data.sampleRate;
    if (over) state.walks.delete(who);
  }
}
