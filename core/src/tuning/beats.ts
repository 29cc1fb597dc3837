import type { Hertz } from '../units';

/** How two pitches sound together: which whole-number interval they are nearest to, and how fast they beat against it. */
export interface Beating {
  /** The first to the second as small numbers: [3, 2] where the first is a fifth above. */
  readonly interval: readonly [number, number];
  /** By how much the first is higher than that. */
  readonly cents: number;
  /** Beats per second between the partials that meet. */
  readonly rate: Hertz;
}

/** Partials above this one are rarely loud enough to be heard beating. */
const highestPartial = 6;
/** Farther off than this, the partials are heard as two. */
const mostCents = 50;

/**
 * Partial p of one sound and partial q of another beat |p·f − q·g| times a second (Helmholtz 1863, ch. VIII). Of all intervals within half a semitone the simplest
 * counts, octaves included; undefined where there is none.
 */
export function beatsBetween(first: Hertz, second: Hertz): Beating | undefined {
  let best: Beating | undefined;
  for (let p = 1; p <= highestPartial; p++)
    for (let q = 1; q <= highestPartial; q++) {
      const cents = 1_200 * Math.log2((p * first) / (q * second));
      if (Math.abs(cents) > mostCents || (best && best.interval[0] * best.interval[1] <= p * q)) continue;
      best = { interval: [q, p], cents, rate: Math.abs(p * first - q * second) };
    }
  return best;
}
