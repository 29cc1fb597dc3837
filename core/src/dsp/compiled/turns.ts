import type { Frames } from '../../units';

/**
 * Writes the factors of butterflies of a length from place `at` on: of every four k below `count`, one power after another of
 * exp(-2πik / length), all of them turned by `turn` · k rounds. Returns the place behind them.
 */
export function putTurns(samples: Float32Array, at: number, length: Frames, powers: readonly number[], count: number, turn = 0): number {
  for (let k = 0; k < count; k++) {
    const group = at + (k >> 2) * 8 * powers.length + (k & 3);
    powers.forEach((power, i) => {
      const angle = 2 * Math.PI * k * (turn - power / length);
      samples[group + 8 * i] = Math.cos(angle);
      samples[group + 8 * i + 4] = Math.sin(angle);
    });
  }
  return at + 2 * count * powers.length;
}
