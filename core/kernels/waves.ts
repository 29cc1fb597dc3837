/**
 * Periodic waves in double precision. The reference in plain TypeScript is `Wave` in src/synthesis/parts/wave.ts with `BandLimitedSteps` in
 * src/dsp/band-limited-steps.ts, which say more; tests compare the two. All pointers are byte addresses of doubles.
 */

/** Frames that one correction reaches over, of which half lie before its corner. */
const span: i32 = 64;
const spanBytes: usize = 512;
/** Places of a correction between two frames. */
const density: f64 = 512;
const lastRow: i32 = 512;
/** No run is as long. */
const farAway: f64 = 1e6;

function wrapped(place: f64): f64 {
  return place >= 1 ? place - 1 : place < 0 ? place + 1 : place;
}

/**
 * A wave of two straight lines, each up to where the next begins, with its corners corrected; nothing of it moves. `lines` holds the bend, the shift of the
 * period, value and slope of the first line and of the second one, and the jumps at the bend and at the end; `line` is where the next frame lies among
 * frames on their way. Writes `frames` of them and returns the place in the period behind them.
 */
export function drawLines(
  output: usize,
  frames: i32,
  place: f64,
  increment: f64,
  lines: usize,
  line: usize,
  steps: usize,
  corners: usize,
): f64 {
  const bend = load<f64>(lines);
  const shift = load<f64>(lines, 8);
  const firstSlope = load<f64>(lines, 24);
  const secondSlope = load<f64>(lines, 40);
  const jump = load<f64>(lines, 48);
  const jumpBack = load<f64>(lines, 56);
  const corner = (secondSlope - firstSlope) * increment;
  let at = wrapped(place + shift);
  for (let i = 0; i < frames;) {
    const first = at < bend;
    const end = first ? bend : 1;
    const run = min(frames - i, max(1, <i32>Math.ceil(min((end - at) / increment, farAway))));
    const slope = first ? firstSlope : secondSlope;
    ramp(line + ((<usize>(i + span / 2)) << 3), run, (first ? load<f64>(lines, 16) : load<f64>(lines, 32)) + slope * at, slope * increment);
    i += run;
    const next = at + <f64>run * increment;
    if (next >= end) {
      const ahead: usize = line + ((<usize>i) << 3);
      if (first) turn((next - bend) / increment, jump, corner, ahead, steps, corners);
      if (next >= 1) turn((next - 1) / increment, jumpBack, -corner, ahead, steps, corners);
      if (next - 1 >= bend) turn((next - 1 - bend) / increment, jump, corner, ahead, steps, corners);
    }
    at = wrapped(next);
  }
  memory.copy(output, line, (<usize>frames) << 3);
  return wrapped(at - shift);
}

/** Adds a straight line. */
function ramp(to: usize, count: i32, value: f64, rise: f64): void {
  let now = f64x2.replace_lane(f64x2.splat(value), 1, value + rise);
  const twice = f64x2.splat(2 * rise);
  let k = 0;
  for (; k + 1 < count; k += 2, to += 16) {
    v128.store(to, f64x2.add(v128.load(to), now));
    now = f64x2.add(now, twice);
  }
  if (k < count) store<f64>(to, load<f64>(to) + f64x2.extract_lane(now, 0));
}

function turn(ago: f64, jump: f64, corner: f64, ahead: usize, steps: usize, corners: usize): void {
  if (jump != 0) correct(steps, ago, jump, ahead);
  if (corner != 0) correct(corners, ago, corner, ahead);
}

/** Adds one row of a table, interpolated with the next. */
function correct(table: usize, ago: f64, jump: f64, to: usize): void {
  const place = ago * density;
  const row = max(0, min(lastRow, <i32>place));
  const above = f64x2.splat(jump * (place - <f64>row));
  const below = f64x2.sub(f64x2.splat(jump), above);
  let from: usize = table + <usize>row * spanBytes;
  for (const end = to + spanBytes; to < end; to += 16, from += 16) {
    const low = f64x2.mul(below, v128.load(from));
    const high = f64x2.mul(above, v128.load(from, 512));
    v128.store(to, f64x2.add(v128.load(to), f64x2.add(low, high)));
  }
}

/**
 * A sine whose frequency moves in a straight line: `increment` periods per frame, and by `incrementStep` more with each. With `moved` not 0, its phase is moved
 * by as many periods in each frame. `series` holds, twice each, the seven factors of sin 2πt / (t · (t² − ¼)) as a polynomial in t², and ¼: vectors in
 * memory are read faster than constants are made.
 */
export function drawSine(output: usize, frames: i32, place: f64, increment: f64, incrementStep: f64, moved: usize, series: usize): void {
  let k = f64x2.replace_lane(f64x2.splat(0), 1, 1);
  const two = f64x2.splat(2);
  const one = f64x2.splat(1);
  const slow = f64x2.splat(increment);
  const bent = f64x2.splat(0.5 * incrementStep);
  const begin = f64x2.splat(place);
  for (let i = 0; i < frames; i += 2) {
    const along: usize = (<usize>i) << 3;
    let at = f64x2.add(begin, f64x2.mul(k, f64x2.add(slow, f64x2.mul(bent, f64x2.sub(k, one)))));
    if (moved) at = f64x2.add(at, v128.load(moved + along));
    k = f64x2.add(k, two);
    const t = f64x2.sub(at, f64x2.nearest(at));
    const s = f64x2.mul(t, t);
    const s2 = f64x2.mul(s, s);
    // In pairs, because a sum of one term after another would wait for each.
    const low = f64x2.add(v128.load(series), f64x2.mul(s, v128.load(series, 16)));
    const middle = f64x2.add(v128.load(series, 32), f64x2.mul(s, v128.load(series, 48)));
    const high = f64x2.add(v128.load(series, 64), f64x2.mul(s, v128.load(series, 80)));
    const highest = f64x2.add(high, f64x2.mul(s2, v128.load(series, 96)));
    const sum = f64x2.add(f64x2.add(low, f64x2.mul(s2, middle)), f64x2.mul(f64x2.mul(s2, s2), highest));
    v128.store(output + along, f64x2.mul(sum, f64x2.mul(t, f64x2.sub(s, v128.load(series, 112)))));
  }
}
