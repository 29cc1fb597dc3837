import type { CurvePoint, Distance, Heard, Place } from './conduct-data';
import { heightAt } from './curve';
import type { Decibels, Hertz } from '../units';
import { decibelsToGain } from '../units';

export interface Listener extends Place {
  /** Degrees from north, to the right. */
  readonly facing: number;
}

/** No filter is heard from here on. */
export const openCut: Hertz = 20_000;
/** Metres that sound goes in a second, at the cold of a glacier: −10 °C. */
const soundSpeed = 325;
/** The last part of the way to the outer end, over which an inverse or a drawn law is brought to nothing. */
const lastPart = 0.1;
/** At this level the even law ends, and nothing is left of a drawn one. */
const evenEnd: Decibels = -60;

/** How loud something is at a distance, as a plain factor: 1 within the inner size, 0 beyond the outer. */
export function levelAt({ inner, outer, law, curve }: Pick<Distance, 'inner' | 'outer' | 'law' | 'curve'>, metres: number): number {
  if (metres >= outer) return 0;
  if (law === 'drawn') return drawnLevel(curve, Math.max(0, metres - inner) / (outer - inner));
  if (metres <= inner) return 1;
  const share = (metres - inner) / (outer - inner);
  if (law === 'even') return decibelsToGain(evenEnd * share);
  if (law === 'slow') return Math.cos((share * Math.PI) / 2);
  const size = Math.max(inner, 1);
  const inverse = size / (size + (metres - inner));
  return inverse * Math.min(1, (1 - share) / lastPart);
}

function drawnLevel(curve: readonly CurvePoint[], share: number): number {
  const level = heightAt(curve, share);
  return level <= evenEnd ? 0 : decibelsToGain(level) * Math.min(1, (1 - share) / lastPart);
}

/** How something is heard from where the listener is: level, side, and what distance takes of the highs. Inside of its inner size it is all around. */
export function hearAt(distance: Distance, listener: Listener, place: Place): Omit<Heard, 'ratio'> {
  const [east, north] = [place.x - listener.x, place.y - listener.y];
  const metres = Math.hypot(east, north);
  const turned = Math.atan2(east, north) - (listener.facing * Math.PI) / 180;
  const near = distance.inner > 0 ? Math.min(1, metres / distance.inner) : 1;
  const pan = metres > 0 ? Math.sin(turned) * distance.width * near : 0;
  const share = Math.min(1, Math.max(0, (metres - distance.inner) / Math.max(1e-6, distance.outer - distance.inner)));
  const { roomNear, roomFar } = distance;
  return {
    gain: levelAt(distance, metres),
    pan,
    highCut: openCut * Math.pow(Math.min(1, distance.highCut / openCut), share),
    room: roomNear + (roomFar - roomNear) * share,
  };
}

/** The factor by which pitch rises while the distance changes by `metresPerSecond`: coming nearer is negative. */
export function dopplerRatio(metresPerSecond: number, amount: number): number {
  const speed = Math.min(0.5, Math.max(-0.5, metresPerSecond / soundSpeed)) * amount;
  return 1 / (1 + speed);
}
