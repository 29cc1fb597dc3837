/**
 * Static curves with antiderivative antialiasing, in double precision. The reference in plain TypeScript is `CurveShaper` in
 * src/dsp/shaper-curves.ts, which says more; tests compare the two. All pointers are byte addresses.
 */

/** Added to a number from 0 to 2^51, it leaves the nearest whole number in the lowest bits. */
const roundingBits: f64 = 6755399441055744;

/** Inputs nearer to each other than these are one. */
const nearFirst: f64 = 1e-5;
const nearSecond: f64 = 1e-3;

/** Where an even function lies in its table of `pieces` cubics. Beyond the last it goes on like that one, or comes again. */
function scaledPlace(x: f64, pieces: f64, density: f64, periodic: bool): f64 {
  const scaled = Math.abs(x) * density;
  return periodic ? scaled - Math.floor(scaled / pieces) * pieces : scaled;
}
function tabledSlope(scaled: f64, table: usize, pieces: f64, density: f64): f64 {
  const piece = min(<i32>scaled, <i32>pieces - 1);
  const from: usize = table + ((<usize>piece) << 5);
  const t = scaled - <f64>piece;
  return density * (load<f64>(from, 8) + t * (2 * load<f64>(from, 16) + t * 3 * load<f64>(from, 24)));
}

/**
 * First order: the curve is F'(x + bias) - level, where F is even and tabled in `pieces` cubics of length 1 / density, four coefficients
 * each. `state` holds the last input, the antiderivative there and the last value; `samples` (single precision, an even `count` of them) are
 * shaped in place, two at a time.
 */
export function shapeTabled(
  samples: usize,
  count: i32,
  state: usize,
  table: usize,
  pieces: f64,
  density: f64,
  periodic: bool,
  bias: f64,
  level: f64,
): void {
  // In the upper half of each: what came last.
  let x = f64x2.splat(load<f64>(state));
  let area = f64x2.splat(load<f64>(state, 8));
  let value = f64x2.splat(load<f64>(state, 16));
  const half = f64x2.splat(0.5);
  const scale = f64x2.splat(density);
  const end = f64x2.splat(pieces);
  const lastPiece = f64x2.splat(pieces - 1);
  const bits = f64x2.splat(roundingBits);
  const shift = f64x2.splat(bias);
  const lean = f64x2.splat(level);
  const near = f64x2.splat(nearFirst);
  const stop: usize = samples + ((<usize>count) << 2);
  for (let at: usize = samples; at < stop; at += 8) {
    const next = f64x2.promote_low_f32x4(v128.load64_zero(at));
    const before = v128.shuffle<f64>(x, next, 1, 2);
    let scaled = f64x2.mul(f64x2.abs(f64x2.add(next, shift)), scale);
    if (periodic) scaled = f64x2.sub(scaled, f64x2.mul(f64x2.floor(f64x2.div(scaled, end)), end));
    // A whole number may round to the piece before, whose end is the same place. What is no number goes to the last piece.
    const rounded = f64x2.add(f64x2.pmin(lastPiece, f64x2.sub(scaled, half)), bits);
    const t = f64x2.sub(scaled, f64x2.sub(rounded, bits));
    const first: usize = table + ((<usize>i32x4.extract_lane(rounded, 0)) << 5);
    const second: usize = table + ((<usize>i32x4.extract_lane(rounded, 2)) << 5);
    const low = v128.load(first);
    const high = v128.load(first, 16);
    const otherLow = v128.load(second);
    const otherHigh = v128.load(second, 16);
    let sum = f64x2.add(v128.shuffle<f64>(high, otherHigh, 0, 2), f64x2.mul(t, v128.shuffle<f64>(high, otherHigh, 1, 3)));
    sum = f64x2.add(v128.shuffle<f64>(low, otherLow, 1, 3), f64x2.mul(t, sum));
    sum = f64x2.add(v128.shuffle<f64>(low, otherLow, 0, 2), f64x2.mul(t, sum));
    const nextArea = f64x2.sub(sum, f64x2.mul(lean, next));
    const distance = f64x2.sub(next, before);
    let nextValue = f64x2.div(f64x2.sub(nextArea, v128.shuffle<f64>(area, nextArea, 1, 2)), distance);
    const one = f64x2.lt(f64x2.abs(distance), near);
    if (v128.any_true(one)) {
      const middle = f64x2.add(f64x2.mul(f64x2.add(next, before), half), shift);
      const slopes = f64x2.replace_lane(
        f64x2.splat(slopeBetween(f64x2.extract_lane(middle, 0), table, pieces, density, periodic)),
        1,
        slopeBetween(f64x2.extract_lane(middle, 1), table, pieces, density, periodic),
      );
      nextValue = v128.bitselect(f64x2.sub(slopes, lean), nextValue, one);
    }
    const mean = f64x2.mul(f64x2.add(nextValue, v128.shuffle<f64>(value, nextValue, 1, 2)), half);
    v128.store64_lane(at, f32x4.demote_f64x2_zero(mean), 0);
    x = next;
    area = nextArea;
    value = nextValue;
  }
  store<f64>(state, f64x2.extract_lane(x, 1));
  store<f64>(state, f64x2.extract_lane(area, 1), 8);
  store<f64>(state, f64x2.extract_lane(value, 1), 16);
}

/** The slope of an even function is odd; with a period it changes its sign within the table. */
function slopeBetween(middle: f64, table: usize, pieces: f64, density: f64, periodic: bool): f64 {
  const slope = tabledSlope(scaledPlace(middle, pieces, density, periodic), table, pieces, density);
  return middle < 0 ? -slope : slope;
}

/** Straight to full scale and flat from there; with `rectified`, its magnitude. */
function cornered(x: f64, rectified: bool): f64 {
  return rectified ? Math.min(1, Math.abs(x)) : Math.max(-1, Math.min(1, x));
}
/** Antiderivative of the above: even, or odd when rectified. */
function firstArea(x: f64, rectified: bool): f64 {
  const size = Math.abs(x);
  const area = size > 1 ? size - 0.5 : (size * size) / 2;
  return rectified && x < 0 ? -area : area;
}
/** Its antiderivative in turn: odd, or even when rectified. */
function secondArea(x: f64, rectified: bool): f64 {
  const size = Math.abs(x);
  const area = size > 1 ? (size * size) / 2 - size / 2 + 1.0 / 6 : (size * size * size) / 6;
  return rectified || x > 0 ? area : -area;
}

/** Slope of the second antiderivative over a short way; exact where the curve is straight. */
function shortSlope(x: f64, x1: f64, rectified: bool): f64 {
  return firstArea((x + x1) / 2, rectified) + ((cornered(x, rectified) - cornered(x1, rectified)) * (x - x1)) / 24;
}

/** Second order, for curves with corners. `state` holds the last two inputs, the second antiderivative at the last, and the slope to it. */
export function shapeCornered(samples: usize, count: i32, state: usize, rectified: bool): void {
  let x1 = load<f64>(state);
  let x2 = load<f64>(state, 8);
  let s1 = load<f64>(state, 16);
  let slope1 = load<f64>(state, 24);
  const end: usize = samples + ((<usize>count) << 2);
  for (let at: usize = samples; at < end; at += 4) {
    const x = <f64>load<f32>(at);
    const s = secondArea(x, rectified);
    const slope = Math.abs(x - x1) < nearSecond ? shortSlope(x, x1, rectified) : (s - s1) / (x - x1);
    let output: f64;
    if (Math.abs(x - x2) >= nearSecond) {
      output = (2 * (slope - slope1)) / (x - x2);
    } else {
      const middle = (x + x2) / 2;
      const distance = middle - x1;
      output =
        Math.abs(distance) < nearSecond
          ? cornered((2 * middle + x1) / 3, rectified)
          : (2 / distance) * (firstArea(middle, rectified) + (s1 - secondArea(middle, rectified)) / distance);
    }
    store<f32>(at, <f32>output);
    x2 = x1;
    x1 = x;
    s1 = s;
    slope1 = slope;
  }
  store<f64>(state, x1);
  store<f64>(state, x2, 8);
  store<f64>(state, s1, 16);
  store<f64>(state, slope1, 24);
}
