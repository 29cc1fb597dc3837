/**
 * Doubling and halving of the rate with half-band filters, eight outputs at a time, in single precision. The reference in plain TypeScript
 * is `HalfBandStage` in src/dsp/half-band.ts; tests compare the two. All pointers are byte addresses; buffers may be written up to seven
 * samples beyond their end.
 *
 * The filters have `count` taps to each side, mirrored around the middle of 2·count samples.
 */

/**
 * `frames` samples become twice as many at `output`. They lie behind the 2·count - 1 samples before them at `input`; the latest so many are
 * moved to its beginning, for the next call.
 */
export function raiseHalf(input: usize, taps: usize, count: i32, frames: i32, output: usize): void {
  const middle: usize = (<usize>count) << 2;
  const lastTap: usize = taps + ((<usize>count) << 2);
  for (let i: usize = 0; i < (<usize>frames) << 2; i += 32) {
    let near: usize = input + i + middle - 4;
    let far: usize = near + 4;
    let first = f32x4.splat(0);
    let second = first;
    for (let tap = taps; tap < lastTap; tap += 4, near -= 4, far += 4) {
      const gain = v128.load32_splat(tap);
      first = f32x4.add(first, f32x4.mul(gain, f32x4.add(v128.load(near), v128.load(far))));
      second = f32x4.add(second, f32x4.mul(gain, f32x4.add(v128.load(near, 16), v128.load(far, 16))));
    }
    interleave(f32x4.add(first, first), v128.load(input + i + middle), output + 2 * i);
    interleave(f32x4.add(second, second), v128.load(input + i + middle, 16), output + 2 * i + 32);
  }
  memory.copy(input, input + ((<usize>frames) << 2), (<usize>(2 * count - 1)) << 2);
}

function interleave(even: v128, odd: v128, output: usize): void {
  v128.store(output, v128.shuffle<f32>(even, odd, 0, 4, 1, 5));
  v128.store(output, v128.shuffle<f32>(even, odd, 2, 6, 3, 7), 16);
}

/**
 * Pairs of samples at `input`, `frames` of them, become one sample each at `output`. `firsts` keeps the 2·count - 1 latest first ones of the pairs,
 * `seconds` the `count` latest second ones; both have room for `frames` more.
 */
export function lowerHalf(input: usize, firsts: usize, seconds: usize, taps: usize, count: i32, frames: i32, output: usize): void {
  const bytes: usize = (<usize>frames) << 2;
  const firstsKept: usize = (<usize>(2 * count - 1)) << 2;
  const secondsKept: usize = (<usize>count) << 2;
  for (let i: usize = 0; i < bytes; i += 16) {
    const a = v128.load(input + 2 * i);
    const b = v128.load(input + 2 * i, 16);
    v128.store(firsts + firstsKept + i, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    v128.store(seconds + secondsKept + i, v128.shuffle<f32>(a, b, 1, 3, 5, 7));
  }
  const half = f32x4.splat(0.5);
  const lastTap: usize = taps + secondsKept;
  for (let i: usize = 0; i < bytes; i += 32) {
    let near: usize = firsts + i + secondsKept - 4;
    let far: usize = near + 4;
    let first = f32x4.mul(half, v128.load(seconds + i));
    let second = f32x4.mul(half, v128.load(seconds + i, 16));
    for (let tap = taps; tap < lastTap; tap += 4, near -= 4, far += 4) {
      const gain = v128.load32_splat(tap);
      first = f32x4.add(first, f32x4.mul(gain, f32x4.add(v128.load(near), v128.load(far))));
      second = f32x4.add(second, f32x4.mul(gain, f32x4.add(v128.load(near, 16), v128.load(far, 16))));
    }
    v128.store(output + i, first);
    v128.store(output + i, second, 16);
  }
  memory.copy(firsts, firsts + bytes, firstsKept);
  memory.copy(seconds, seconds + bytes, secondsKept);
}

/**
 * The same with a filter that has coefficients at even distances from its centre, too, `count` of each kind (see src/dsp/filters/steep-lowering.ts). `firsts` and `seconds` keep the 2·count - 1 latest of
 * each.
 */
export function lowerSteep(
  input: usize,
  firsts: usize,
  seconds: usize,
  odd: usize,
  even: usize,
  count: i32,
  frames: i32,
  output: usize,
): void {
  const bytes: usize = (<usize>frames) << 2;
  const kept: usize = (<usize>(2 * count - 1)) << 2;
  for (let i: usize = 0; i < bytes; i += 16) {
    const a = v128.load(input + 2 * i);
    const b = v128.load(input + 2 * i, 16);
    v128.store(firsts + kept + i, v128.shuffle<f32>(a, b, 0, 2, 4, 6));
    v128.store(seconds + kept + i, v128.shuffle<f32>(a, b, 1, 3, 5, 7));
  }
  const centre: usize = (<usize>(count - 1)) << 2;
  const taps: usize = (<usize>count) << 2;
  for (let i: usize = 0; i < bytes; i += 32) {
    const nearFirst: usize = firsts + i + centre;
    const middle: usize = seconds + i + centre;
    let first = f32x4.splat(0);
    let second = first;
    for (let tap: usize = 0; tap < taps; tap += 4) {
      const far = v128.load32_splat(odd + tap);
      const near = v128.load32_splat(even + tap);
      const left = nearFirst - tap;
      const right = nearFirst + 4 + tap;
      first = f32x4.add(first, f32x4.mul(far, f32x4.add(v128.load(left), v128.load(right))));
      second = f32x4.add(second, f32x4.mul(far, f32x4.add(v128.load(left, 16), v128.load(right, 16))));
      first = f32x4.add(first, f32x4.mul(near, f32x4.add(v128.load(middle - tap), v128.load(middle + tap))));
      second = f32x4.add(second, f32x4.mul(near, f32x4.add(v128.load(middle - tap, 16), v128.load(middle + tap, 16))));
    }
    v128.store(output + i, first);
    v128.store(output + i, second, 16);
  }
  memory.copy(firsts, firsts + bytes, kept);
  memory.copy(seconds, seconds + bytes, kept);
}
