/**
 * Second-order sections in series, in pairs: while the first of a pair computes one sample, the second computes the sample before, in the other
 * half of the same vector, in double precision. The reference in plain TypeScript is `Section` in src/dsp/state-variable.ts; tests compare the two.
 */

/** Bytes of a pair: a11, a12, a21, a22, b1, b2, c0, c1, c2, and the two states, a vector each (see `SectionMatrix`). */
const pairBytes: usize = 176;

/** Filters `frames` samples (at least 1, single precision) in place. All pointers are byte addresses. */
export function cascade(samples: usize, frames: i32, pairs: usize, count: i32): void {
  const last: usize = samples + ((<usize>(frames - 1)) << 2);
  for (let pair = pairs; pair < pairs + pairBytes * <usize>count; pair += pairBytes) {
    const a11 = v128.load(pair);
    const a12 = v128.load(pair, 16);
    const a21 = v128.load(pair, 32);
    const a22 = v128.load(pair, 48);
    const b1 = v128.load(pair, 64);
    const b2 = v128.load(pair, 80);
    const c0 = v128.load(pair, 96);
    const c1 = v128.load(pair, 112);
    const c2 = v128.load(pair, 128);
    let s1 = v128.load(pair, 144);
    let s2 = v128.load(pair, 160);
    // The first section begins alone: the second one's states are kept.
    let input = f64x2.splat(<f64>load<f32>(samples));
    let output = step(input, s1, s2, c0, c1, c2);
    let next = state(input, s1, s2, b1, a11, a12);
    s2 = v128.shuffle<f64>(state(input, s1, s2, b2, a21, a22), s2, 0, 3);
    s1 = v128.shuffle<f64>(next, s1, 0, 3);
    for (let at: usize = samples; at < last; at += 4) {
      input = f64x2.replace_lane(v128.shuffle<f64>(output, output, 0, 0), 0, <f64>load<f32>(at, 4));
      output = step(input, s1, s2, c0, c1, c2);
      next = state(input, s1, s2, b1, a11, a12);
      s2 = state(input, s1, s2, b2, a21, a22);
      s1 = next;
      store<f32>(at, <f32>f64x2.extract_lane(output, 1));
    }
    // The second ends alone.
    input = v128.shuffle<f64>(output, output, 0, 0);
    output = step(input, s1, s2, c0, c1, c2);
    store<f32>(last, <f32>f64x2.extract_lane(output, 1));
    next = state(input, s1, s2, b1, a11, a12);
    s2 = v128.shuffle<f64>(s2, state(input, s1, s2, b2, a21, a22), 0, 3);
    s1 = v128.shuffle<f64>(s1, next, 0, 3);
    v128.store(pair, s1, 144);
    v128.store(pair, s2, 160);
  }
}

function step(input: v128, s1: v128, s2: v128, c0: v128, c1: v128, c2: v128): v128 {
  return f64x2.add(f64x2.mul(c0, input), f64x2.add(f64x2.mul(c1, s1), f64x2.mul(c2, s2)));
}
function state(input: v128, s1: v128, s2: v128, b: v128, a1: v128, a2: v128): v128 {
  return f64x2.add(f64x2.mul(b, input), f64x2.add(f64x2.mul(a1, s1), f64x2.mul(a2, s2)));
}
