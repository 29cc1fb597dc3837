import type { Frames } from '../units';

/**
 * What predicts a signal from its own past, x[n] ≈ Σ a[k]·x[n − 1 − k], by Burg's method (1975), which keeps the prediction from growing.
 * @param samples what is learned from, at least twice as long as the order
 */
export function predictionOf(samples: Float32Array, order: number): Float64Array {
  const count = samples.length;
  const forward = Float64Array.from(samples);
  const backward = Float64Array.from(samples);
  const weights = new Float64Array(order);
  const before = new Float64Array(order);
  let product = 0;
  let energy = 0;
  for (let n = 1; n < count; n++) {
    product += forward[n]! * backward[n - 1]!;
    energy += forward[n]! * forward[n]! + backward[n - 1]! * backward[n - 1]!;
  }
  for (let m = 0; m < order && m < count - 1; m++) {
    if (energy < 1e-20) break;
    const reflection = (2 * product) / energy;
    before.set(weights);
    weights[m] = reflection;
    for (let k = 0; k < m; k++) weights[k] = before[k]! - reflection * before[m - 1 - k]!;
    // What the next reflection needs is summed while the errors of this one are worked out.
    product = 0;
    energy = 0;
    let behind = backward[m]!;
    let last = 0;
    for (let n = m + 1; n < count; n++) {
      const ahead = forward[n]!;
      const error = ahead - reflection * behind;
      const back = behind - reflection * ahead;
      behind = backward[n]!;
      forward[n] = error;
      backward[n] = back;
      if (n > m + 1) {
        product += error * last;
        energy += error * error + last * last;
      }
      last = back;
    }
  }
  return weights;
}

/** What has died away so far (-180 dB) is silence. */
const inaudible = 1e-9;

/**
 * Writes what would have followed `samples[0 … end)` into `samples[end … end + frames)`, as its last `learned` samples predict it (Kauppinen & Roth
 * 2002); it dies away where it goes on for long.
 */
export function extrapolate(samples: Float32Array, end: Frames, frames: Frames, learned: Frames, order: number): void {
  const from = Math.max(0, end - learned);
  const weights = predictionOf(samples.subarray(from, end), Math.min(order, Math.floor((end - from) / 2)));
  for (let n = end; n < end + frames; n++) {
    let sum = 0;
    for (let k = 0; k < weights.length; k++) sum += weights[k]! * samples[n - 1 - k]!;
    // Processors compute with denormal numbers slowly.
    samples[n] = Math.abs(sum) > inaudible ? sum : 0;
  }
}
