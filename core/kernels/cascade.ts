/**
 * Second-order sections in series, in double precision, in the transposed direct form II: y = b0 x + s1, s1 ← b1 x + s2 − a1 y,
 * s2 ← b2 x − a2 y. Two sections share the lanes of a vector, and the second works on what the first gave in the step before. Six sections, in
 * three pairs, run side by side in one loop, because the operations of one pair wait for each other longer than they take. What is left runs
 * pair by pair, two samples at a time, for the same reason (block state space; Barnes and Shinnaka 1980). The reference in plain TypeScript is
 * `Section` in src/dsp/state-variable.ts; tests compare the two.
 */

/** Bytes of a pair: b0, b1, b2, a1, a2 and the two states, a vector each. */
const pairBytes: usize = 112;
/** Sections that run side by side. */
const abreast: i32 = 6;
const tripleBytes: usize = 3 * pairBytes;

/** States below this are silence: processors compute with denormal numbers slowly. */
const quietest: f64 = 1e-30;

function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}
/** a·b + c·d */
function sum2(a: v128, b: v128, c: v128, d: v128): v128 {
  return f64x2.add(mul(a, b), mul(c, d));
}

/** Filters `frames` samples (single precision) in place. All pointers are byte addresses. */
export function cascade(samples: usize, frames: i32, pairs: usize, count: i32): void {
  const end: usize = pairs + pairBytes * <usize>count;
  const even: usize = samples + ((<usize>(frames & ~1)) << 2);
  let pair = pairs;
  for (; pair + tripleBytes <= end; pair += tripleBytes) inSixes(samples, frames, pair);
  for (; pair < end; pair += pairBytes) {
    if (frames > 1) inTwos(samples, even, pair);
    if (frames & 1) store<f32>(even, <f32>step(pair, 1, step(pair, 0, <f64>load<f32>(even))));
  }
  for (pair = pairs; pair < end; pair += pairBytes) {
    v128.store(pair, withoutQuiet(v128.load(pair, 80)), 80);
    v128.store(pair, withoutQuiet(v128.load(pair, 96)), 96);
  }
}

function withoutQuiet(states: v128): v128 {
  return v128.and(states, f64x2.gt(f64x2.abs(states), f64x2.splat(quietest)));
}

/** One sample through section `n` from a pair on. */
function step(pair: usize, n: i32, x: f64): f64 {
  const at: usize = pair + <usize>(n >> 1) * pairBytes + ((<usize>(n & 1)) << 3);
  const y = load<f64>(at) * x + load<f64>(at, 80);
  store<f64>(at, load<f64>(at, 16) * x + load<f64>(at, 96) - load<f64>(at, 48) * y, 80);
  store<f64>(at, load<f64>(at, 32) * x - load<f64>(at, 64) * y, 96);
  return y;
}

/** Three pairs side by side: section n works on the sample that lies n behind. */
function inSixes(samples: usize, frames: i32, pair: usize): void {
  if (frames < abreast) {
    for (let i = 0; i < frames; i++) {
      const at: usize = samples + ((<usize>i) << 2);
      let x = <f64>load<f32>(at);
      for (let n = 0; n < abreast; n++) x = step(pair, n, x);
      store<f32>(at, <f32>x);
    }
    return;
  }
  // The sections begin one after the other.
  let y0: f64 = 0;
  let y1: f64 = 0;
  let y2: f64 = 0;
  let y3: f64 = 0;
  let y4: f64 = 0;
  for (let i = 0; i < abreast - 1; i++) {
    if (i > 3) y4 = step(pair, 4, y3);
    if (i > 2) y3 = step(pair, 3, y2);
    if (i > 1) y2 = step(pair, 2, y1);
    if (i > 0) y1 = step(pair, 1, y0);
    y0 = step(pair, 0, <f64>load<f32>(samples + ((<usize>i) << 2)));
  }
  const end: usize = samples + ((<usize>frames) << 2);
  let y01 = f64x2.replace_lane(f64x2.splat(y0), 1, y1);
  let y23 = f64x2.replace_lane(f64x2.splat(y2), 1, y3);
  let y45 = f64x2.splat(y4);
  const second: usize = pair + pairBytes;
  const third: usize = second + pairBytes;
  let s01 = v128.load(pair, 80);
  let t01 = v128.load(pair, 96);
  let s23 = v128.load(second, 80);
  let t23 = v128.load(second, 96);
  let s45 = v128.load(third, 80);
  let t45 = v128.load(third, 96);
  let out: usize = samples;
  for (let at: usize = samples + 20; at < end; at += 4) {
    const x01 = v128.shuffle<f64>(f64x2.splat(<f64>load<f32>(at)), y01, 0, 2);
    const x23 = v128.shuffle<f64>(y01, y23, 1, 2);
    const x45 = v128.shuffle<f64>(y23, y45, 1, 2);
    y01 = f64x2.add(mul(v128.load(pair), x01), s01);
    y23 = f64x2.add(mul(v128.load(second), x23), s23);
    y45 = f64x2.add(mul(v128.load(third), x45), s45);
    s01 = f64x2.sub(f64x2.add(mul(v128.load(pair, 16), x01), t01), mul(v128.load(pair, 48), y01));
    s23 = f64x2.sub(f64x2.add(mul(v128.load(second, 16), x23), t23), mul(v128.load(second, 48), y23));
    s45 = f64x2.sub(f64x2.add(mul(v128.load(third, 16), x45), t45), mul(v128.load(third, 48), y45));
    t01 = f64x2.sub(mul(v128.load(pair, 32), x01), mul(v128.load(pair, 64), y01));
    t23 = f64x2.sub(mul(v128.load(second, 32), x23), mul(v128.load(second, 64), y23));
    t45 = f64x2.sub(mul(v128.load(third, 32), x45), mul(v128.load(third, 64), y45));
    store<f32>(out, <f32>f64x2.extract_lane(y45, 1));
    out += 4;
  }
  v128.store(pair, s01, 80);
  v128.store(pair, t01, 96);
  v128.store(second, s23, 80);
  v128.store(second, t23, 96);
  v128.store(third, s45, 80);
  v128.store(third, t45, 96);
  // They end one after the other.
  y0 = f64x2.extract_lane(y01, 0);
  y1 = f64x2.extract_lane(y01, 1);
  y2 = f64x2.extract_lane(y23, 0);
  y3 = f64x2.extract_lane(y23, 1);
  y4 = f64x2.extract_lane(y45, 0);
  for (let i = 0; i < abreast - 1; i++) {
    store<f32>(out, <f32>step(pair, 5, y4));
    out += 4;
    if (i < 4) y4 = step(pair, 4, y3);
    if (i < 3) y3 = step(pair, 3, y2);
    if (i < 2) y2 = step(pair, 2, y1);
    if (i < 1) y1 = step(pair, 1, y0);
  }
}

/** One pair over an even number of samples, two of them at a time. */
function inTwos(samples: usize, end: usize, pair: usize): void {
  const b0 = v128.load(pair);
  const n1 = f64x2.neg(v128.load(pair, 48));
  const n2 = f64x2.neg(v128.load(pair, 64));
  // What the states, and the second sample, take of the first sample and of the states before.
  const b1 = f64x2.add(v128.load(pair, 16), mul(n1, b0));
  const b2 = f64x2.add(v128.load(pair, 32), mul(n2, b0));
  const g1 = f64x2.add(mul(n1, b1), b2);
  const g2 = mul(n2, b1);
  const m11 = f64x2.add(mul(n1, n1), n2);
  const m21 = mul(n2, n1);
  const start1 = v128.load(pair, 80);
  const start2 = v128.load(pair, 96);
  // The first section begins alone: the second one's states are kept.
  let x = f64x2.splat(<f64>load<f32>(samples));
  let y = f64x2.splat(<f64>load<f32>(samples, 4));
  let first = f64x2.add(mul(b0, x), start1);
  let second = f64x2.add(sum2(b0, y, b1, x), f64x2.add(mul(n1, start1), start2));
  let s1 = v128.shuffle<f64>(f64x2.add(sum2(g1, x, b1, y), sum2(m11, start1, n1, start2)), start1, 0, 3);
  let s2 = v128.shuffle<f64>(f64x2.add(sum2(g2, x, b2, y), sum2(m21, start1, n2, start2)), start2, 0, 3);
  let at: usize = samples;
  for (; at < end - 8; at += 8) {
    const next = f64x2.promote_low_f32x4(v128.load64_zero(at, 8));
    x = v128.shuffle<f64>(next, first, 0, 2);
    y = v128.shuffle<f64>(next, second, 1, 2);
    first = f64x2.add(mul(b0, x), s1);
    second = f64x2.add(sum2(b0, y, b1, x), f64x2.add(mul(n1, s1), s2));
    const next1 = f64x2.add(sum2(g1, x, b1, y), sum2(m11, s1, n1, s2));
    s2 = f64x2.add(sum2(g2, x, b2, y), sum2(m21, s1, n2, s2));
    s1 = next1;
    v128.store64_lane(at, f32x4.demote_f64x2_zero(v128.shuffle<f64>(first, second, 1, 3)), 0);
  }
  // The second ends alone.
  x = v128.shuffle<f64>(first, first, 0, 0);
  y = v128.shuffle<f64>(second, second, 0, 0);
  first = f64x2.add(mul(b0, x), s1);
  second = f64x2.add(sum2(b0, y, b1, x), f64x2.add(mul(n1, s1), s2));
  v128.store64_lane(at, f32x4.demote_f64x2_zero(v128.shuffle<f64>(first, second, 1, 3)), 0);
  v128.store(pair, v128.shuffle<f64>(s1, f64x2.add(sum2(g1, x, b1, y), sum2(m11, s1, n1, s2)), 0, 3), 80);
  v128.store(pair, v128.shuffle<f64>(s2, f64x2.add(sum2(g2, x, b2, y), sum2(m21, s1, n2, s2)), 0, 3), 96);
}
