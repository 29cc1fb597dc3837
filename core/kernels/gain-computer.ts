/**
 * The gain computer of a compressor (Giannoulis, Massberg & Reiss 2012): level in decibels, static curve, smooth branching detector and gain, two frames at a
 * time in double precision. The reference in plain TypeScript is the plain half of src/dsp/gain-computer.ts; tests compare the two. All pointers are
 * byte addresses.
 */

/** 20 / ln 10 */
const decibelsPerNeper: f64 = 8.685889638065037;
/** -160 dB: what is below, or no number, reads as that. */
const quietest: f64 = 1e-8;
/** A millionth of a decibel is none. */
const tiny: f64 = 1e-6;

const log2e: f64 = 1.4426950408889634;
const ln2: f64 = 0.6931471805599453;
const one: i64 = 0x3ff0000000000000;
const sqrtHalf: i64 = 0x3fe6a09e667f3bcd;
/** 2^52: in a double of this size the lowest bits are a whole number. */
const wholeBits: i64 = 0x4330000000000000;
const wholes: f64 = 4503599627370496;

function mul(a: v128, b: v128): v128 {
  return f64x2.mul(a, b);
}

/** a·b + c */
function plus(a: v128, b: v128, c: f64): v128 {
  return f64x2.add(f64x2.mul(a, b), f64x2.splat(c));
}

/** Natural logarithm of positive normal numbers: 2 artanh((m − 1) / (m + 1)) of a mantissa from √½ to √2, to 1e-12. */
function logarithm(x: v128): v128 {
  const power = i64x2.shr_u(i64x2.add(x, i64x2.splat(one - sqrtHalf)), 52);
  const m = i64x2.add(i64x2.sub(x, i64x2.shl(power, 52)), i64x2.splat(one));
  const s = f64x2.div(f64x2.sub(m, f64x2.splat(1)), f64x2.add(m, f64x2.splat(1)));
  const z = mul(s, s);
  let sum = plus(f64x2.splat(1.0 / 15), z, 1.0 / 13);
  sum = plus(sum, z, 1.0 / 11);
  sum = plus(sum, z, 1.0 / 9);
  sum = plus(sum, z, 1.0 / 7);
  sum = plus(sum, z, 1.0 / 5);
  sum = plus(sum, z, 1.0 / 3);
  sum = plus(sum, z, 1);
  const whole = f64x2.sub(v128.or(power, i64x2.splat(wholeBits)), f64x2.splat(wholes + 1023));
  return f64x2.add(mul(whole, f64x2.splat(ln2)), mul(f64x2.add(s, s), sum));
}

/** Exponential of numbers from −700 to 700, to 1e-11 of itself. */
function exponential(x: v128): v128 {
  const whole = f64x2.nearest(mul(x, f64x2.splat(log2e)));
  const r = f64x2.sub(x, mul(whole, f64x2.splat(ln2)));
  let sum = plus(f64x2.splat(1.0 / 362880), r, 1.0 / 40320);
  sum = plus(sum, r, 1.0 / 5040);
  sum = plus(sum, r, 1.0 / 720);
  sum = plus(sum, r, 1.0 / 120);
  sum = plus(sum, r, 1.0 / 24);
  sum = plus(sum, r, 1.0 / 6);
  sum = plus(sum, r, 0.5);
  sum = plus(sum, r, 1);
  sum = plus(sum, r, 1);
  return mul(sum, i64x2.shl(f64x2.add(whole, f64x2.splat(wholes + 1023)), 52));
}

/**
 * Takes magnitudes (double precision) and leaves gains in their place. `state` holds the reduction in decibels before and after, then the deepest of the
 * run. `knee` is half its width, `curve` 1 / (2 · width), 0 for a corner.
 */
export function pressGains(
  levels: usize,
  frames: i32,
  threshold: f64,
  slope: f64,
  knee: f64,
  curve: f64,
  attack: f64,
  release: f64,
  lift: f64,
  state: usize,
): void {
  // Both ways lead from the reduction to what is wanted. Whether it is above or below, the larger result is that of the quicker attack, or the smaller that
  // of the quicker release: no branch that noise decides.
  const keeps = f64x2.replace_lane(f64x2.splat(attack), 1, release);
  const takes = f64x2.sub(f64x2.splat(1), keeps);
  const largest = attack <= release;
  const whole = f64x2.splat(2 * knee);
  const half = f64x2.splat(knee);
  const none = f64x2.splat(0);
  let now = f64x2.splat(load<f64>(state));
  let deepest = none;
  const stop: usize = levels + ((<usize>frames) << 3);
  for (let at: usize = levels; at < stop; at += 16) {
    const level = logarithm(f64x2.pmax(f64x2.splat(quietest), v128.load(at)));
    const over = f64x2.sub(mul(level, f64x2.splat(decibelsPerNeper)), f64x2.splat(threshold));
    const inKnee = f64x2.pmin(f64x2.pmax(f64x2.add(over, half), none), whole);
    const beyond = f64x2.pmax(f64x2.sub(over, half), none);
    const wanted = mul(f64x2.splat(slope), f64x2.add(mul(mul(inKnee, inKnee), f64x2.splat(curve)), beyond));
    const first = step(now, v128.shuffle<f64>(wanted, wanted, 0, 0), keeps, takes, largest);
    // Behind an odd number of frames comes one that does not count.
    now = at + 8 < stop ? step(first, v128.shuffle<f64>(wanted, wanted, 1, 1), keeps, takes, largest) : first;
    const reductions = v128.shuffle<f64>(first, now, 0, 3);
    deepest = f64x2.pmax(deepest, reductions);
    v128.store(at, exponential(mul(f64x2.sub(f64x2.splat(lift), reductions), f64x2.splat(1 / decibelsPerNeper))));
  }
  const last = f64x2.extract_lane(now, 0);
  store<f64>(state, last < tiny ? 0 : last);
  store<f64>(state, Math.max(f64x2.extract_lane(deepest, 0), f64x2.extract_lane(deepest, 1)), 8);
}

function step(now: v128, wanted: v128, keeps: v128, takes: v128, largest: bool): v128 {
  const ways = f64x2.add(mul(now, keeps), mul(wanted, takes));
  const other = v128.shuffle<f64>(ways, ways, 1, 0);
  return largest ? f64x2.pmax(ways, other) : f64x2.pmin(ways, other);
}

/** Magnitudes of samples (single precision) in double precision, the larger of them and what is there already unless it is the `first` channel; rounded up to four. */
export function magnitudes(samples: usize, levels: usize, frames: i32, first: bool): void {
  const stop: usize = samples + ((<usize>frames) << 2);
  for (; samples < stop; samples += 16, levels += 32) {
    const found = f32x4.abs(v128.load(samples));
    let low = f64x2.promote_low_f32x4(found);
    let high = f64x2.promote_low_f32x4(v128.shuffle<f32>(found, found, 2, 3, 2, 3));
    if (!first) {
      low = f64x2.pmax(low, v128.load(levels));
      high = f64x2.pmax(high, v128.load(levels, 16));
    }
    v128.store(levels, low);
    v128.store(levels, high, 16);
  }
}
