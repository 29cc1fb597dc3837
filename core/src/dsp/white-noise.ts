import type { Frames } from '../units';

/**
 * White noise by the run: mulberry32 (T. Ettinger 2017), whose state stays in a register within a run. For single decisions, see `random.ts`.
 */
export class WhiteNoise {
  // A typed array, because a plain number beyond 31 bits would be allocated anew at every write.
  private readonly state = new Int32Array(1);

  seed(seed: number): void {
    this.state[0] = seed;
  }

  /** Uniform numbers from −`most` to `most`. */
  fill(into: Float64Array, from: Frames, to: Frames, most = 1): void {
    let state = this.state[0]!;
    const scale = most / 2_147_483_648;
    for (let i = from; i < to; i++) {
      state = (state + 0x6d2b79f5) | 0;
      let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
      mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
      into[i] = (mixed ^ (mixed >>> 14)) * scale;
    }
    this.state[0] = state;
  }
}
