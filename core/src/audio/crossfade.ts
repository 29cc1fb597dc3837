import type { Frames, Ratio } from '../units';

/** Below this correlation the two sides cancel so far that evening the level out would only amplify what is left. */
const leastCorrelation = -0.95;

/**
 * Normalised correlation of two signals from -1 to 1, both channels of each taken together; 0 when either is silent.
 * @param a, b channels of at least `frames` frames, read from `fromA` and `fromB` on
 */
export function correlation(a: readonly Float32Array[], b: readonly Float32Array[], fromA: Frames, fromB: Frames, frames: Frames): Ratio {
  let product = 0;
  let powerA = 0;
  let powerB = 0;
  const channels = Math.min(a.length, b.length);
  for (let c = 0; c < channels; c++) {
    const left = a[c]!;
    const right = b[c]!;
    for (let i = 0; i < frames; i++) {
      const x = left[fromA + i] ?? 0;
      const y = right[fromB + i] ?? 0;
      product += x * y;
      powerA += x * x;
      powerB += y * y;
    }
  }
  return powerA > 0 && powerB > 0 ? product / Math.sqrt(powerA * powerB) : 0;
}

/** Gains of both sides of a crossfade, frame by frame. */
export interface CrossfadeGains {
  readonly out: Float32Array;
  readonly in: Float32Array;
}

/**
 * A crossfade whose level stays even for signals of a known correlation r: raised cosines a and b, divided by √(a² + b² + 2·r·a·b), the
 * level that their sum would have (signal-matched power-complementary crossfade: Fink, Holters & Zölzer, DAFx 2016). With r = 1, the same
 * signal on both sides, the gains add up to one; with r = 0 their squares do.
 */
export function crossfadeGains(frames: Frames, r: Ratio): CrossfadeGains {
  const matched = Math.max(leastCorrelation, Math.min(1, r));
  const gains = { out: new Float32Array(frames), in: new Float32Array(frames) };
  for (let i = 0; i < frames; i++) {
    // Half a frame keeps both ends free of a doubled or a missing sample.
    const rising = 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / frames);
    const falling = 1 - rising;
    const level = Math.sqrt(rising * rising + falling * falling + 2 * matched * rising * falling);
    gains.in[i] = rising / level;
    gains.out[i] = falling / level;
  }
  return gains;
}
