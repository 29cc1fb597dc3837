/**
 * Second-order sections in series, in pairs: while the first of a pair computes two samples, the second computes the two before them, in the
 * other half of the same vector, in double precision. Two samples at a time, because the states after them follow from the states before them
 * in as few operations that wait for each other as after one (block state space; Barnes and Shinnaka 1980). The reference in plain
 * TypeScript is `Section` in src/dsp/state-variable.ts; tests compare the two.
 */

/** Bytes of a pair: a11, a12, a21, a22, b1, b2, c0, c1, c2, and the two states, a vector each (see `SectionMatrix`). */
const pairBytes: usize = 176;

function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}
/** a·b + c·d */
function sum2(a: v128, b: v128, c: v128, d: v128): v128 {
  return f64x2.add(mul(a, b), mul(c, d));
}

/** Filters `frames` samples (single precision) in place. All pointers are byte addresses. */
export function cascade(samples: usize, frames: i32, pairs: usize, count: i32): void {
  const even: usize = samples + ((<usize>(frames & ~1)) << 2);
  for (let pair = pairs; pair < pairs + pairBytes * <usize>count; pair += pairBytes) {
    if (frames > 1) inTwos(samples, even, pair);
    if (frames & 1) single(even, pair);
  }
}

function inTwos(samples: usize, end: usize, pair: usize): void {
  const a11 = v128.load(pair);
  const a12 = v128.load(pair, 16);
  const a21 = v128.load(pair, 32);
  const a22 = v128.load(pair, 48);
  const b1 = v128.load(pair, 64);
  const b2 = v128.load(pair, 80);
  const c0 = v128.load(pair, 96);
  const c1 = v128.load(pair, 112);
  const c2 = v128.load(pair, 128);
  // What the second sample, and the states after it, take of the first sample and of the states.
  const k0 = sum2(c1, b1, c2, b2);
  const k1 = sum2(c1, a11, c2, a21);
  const k2 = sum2(c1, a12, c2, a22);
  const g1 = sum2(a11, b1, a12, b2);
  const g2 = sum2(a21, b1, a22, b2);
  const m11 = sum2(a11, a11, a12, a21);
  const m12 = sum2(a11, a12, a12, a22);
  const m21 = sum2(a21, a11, a22, a21);
  const m22 = sum2(a21, a12, a22, a22);
  const start1 = v128.load(pair, 144);
  const start2 = v128.load(pair, 160);
  // The first section begins alone: the second one's states are kept.
  let x = f64x2.splat(<f64>load<f32>(samples));
  let y = f64x2.splat(<f64>load<f32>(samples, 4));
  let first = f64x2.add(mul(c0, x), sum2(c1, start1, c2, start2));
  let second = f64x2.add(sum2(c0, y, k0, x), sum2(k1, start1, k2, start2));
  let s1 = v128.shuffle<f64>(f64x2.add(sum2(g1, x, b1, y), sum2(m11, start1, m12, start2)), start1, 0, 3);
  let s2 = v128.shuffle<f64>(f64x2.add(sum2(g2, x, b2, y), sum2(m21, start1, m22, start2)), start2, 0, 3);
  let at: usize = samples;
  for (; at < end - 8; at += 8) {
    const next = f64x2.promote_low_f32x4(v128.load64_zero(at, 8));
    x = v128.shuffle<f64>(next, first, 0, 2);
    y = v128.shuffle<f64>(next, second, 1, 2);
    first = f64x2.add(mul(c0, x), sum2(c1, s1, c2, s2));
    second = f64x2.add(sum2(c0, y, k0, x), sum2(k1, s1, k2, s2));
    const next1 = f64x2.add(sum2(g1, x, b1, y), sum2(m11, s1, m12, s2));
    s2 = f64x2.add(sum2(g2, x, b2, y), sum2(m21, s1, m22, s2));
    s1 = next1;
    v128.store64_lane(at, f32x4.demote_f64x2_zero(v128.shuffle<f64>(first, second, 1, 3)), 0);
  }
  // The second ends alone.
  x = v128.shuffle<f64>(first, first, 0, 0);
  y = v128.shuffle<f64>(second, second, 0, 0);
  first = f64x2.add(mul(c0, x), sum2(c1, s1, c2, s2));
  second = f64x2.add(sum2(c0, y, k0, x), sum2(k1, s1, k2, s2));
  v128.store64_lane(at, f32x4.demote_f64x2_zero(v128.shuffle<f64>(first, second, 1, 3)), 0);
  v128.store(pair, v128.shuffle<f64>(s1, f64x2.add(sum2(g1, x, b1, y), sum2(m11, s1, m12, s2)), 0, 3), 144);
  v128.store(pair, v128.shuffle<f64>(s2, f64x2.add(sum2(g2, x, b2, y), sum2(m21, s1, m22, s2)), 0, 3), 160);
}

/** One sample through the first section, then through the second. */
function single(sample: usize, pair: usize): void {
  const s1 = v128.load(pair, 144);
  const s2 = v128.load(pair, 160);
  const c0 = v128.load(pair, 96);
  const fromStates = sum2(v128.load(pair, 112), s1, v128.load(pair, 128), s2);
  const next1 = sum2(v128.load(pair), s1, v128.load(pair, 16), s2);
  const next2 = sum2(v128.load(pair, 32), s1, v128.load(pair, 48), s2);
  const input = <f64>load<f32>(sample);
  const between = f64x2.extract_lane(c0, 0) * input + f64x2.extract_lane(fromStates, 0);
  const inputs = f64x2.replace_lane(f64x2.splat(input), 1, between);
  store<f32>(sample, <f32>(f64x2.extract_lane(c0, 1) * between + f64x2.extract_lane(fromStates, 1)));
  v128.store(pair, f64x2.add(mul(v128.load(pair, 64), inputs), next1), 144);
  v128.store(pair, f64x2.add(mul(v128.load(pair, 80), inputs), next2), 160);
}
