import { kaiser, sinc } from './kaiser';

/** Samples to each side that shape the value between two of them. */
const reach = 8;
const density = 512;
const beta = 8;

let rows: Float64Array | undefined;

/** So far to each side of a place `readBetween` looks. */
export const betweenReach = reach;
/** So many places between two samples it knows. */
export const betweenDensity = density;

/** Kaiser-windowed sincs for places between two samples, one row of taps after the other, and one row more for the next sample. */
export function betweenTaps(): Float64Array {
  if (rows) return rows;
  const made = new Float64Array((density + 1) * 2 * reach);
  for (let row = 0; row <= density; row++)
    for (let tap = 0; tap < 2 * reach; tap++) {
      const x = tap - reach + 1 - row / density;
      made[row * 2 * reach + tap] = sinc(x) * kaiser(x / reach, beta);
    }
  rows = made;
  return made;
}

/**
 * What a recording has at a place between its samples, by a Kaiser-windowed sinc of 16 taps; silence outside of it. Read faster than it was recorded, what
 * lies above half the rate folds back: for small voices, where a filter as in `PlaceReader` would cost too much.
 */
export function readBetween(samples: Float32Array, place: number): number {
  // Quicker than `Math.floor`, and below 0 nothing is there.
  const whole = place < 0 ? Math.floor(place) : place | 0;
  const row = Math.round((place - whole) * density);
  const first = whole - reach + 1;
  const taps = betweenTaps();
  const at = row * 2 * reach;
  if (first < 0 || first + 2 * reach > samples.length) {
    let sum = 0;
    for (let tap = 0; tap < 2 * reach; tap++) sum += (samples[first + tap] ?? 0) * taps[at + tap]!;
    return sum;
  }
  let sum = 0;
  for (let tap = 0; tap < 2 * reach; tap++) sum += samples[first + tap]! * taps[at + tap]!;
  return sum;
}
