/**
 * How high a band-limited signal goes between its samples: eight places from each sample to the next, and a parabola through the highest three. The reference in plain
 * TypeScript is `PlainReading` in src/dsp/inter-sample.ts; tests compare the two. In single precision; all pointers are byte addresses.
 */

/** Samples that shape a value between the middle two of them. */
const taps: i32 = 48;
const rowBytes: usize = 192;
const middle: usize = 96;

function sum(four: v128): f32 {
  return f32x4.extract_lane(four, 0) + f32x4.extract_lane(four, 1) + (f32x4.extract_lane(four, 2) + f32x4.extract_lane(four, 3));
}

/** The value at one place: the sum of `taps` samples, weighed by a row. */
function valueAt(window: usize, row: usize): f32 {
  let first = f32x4.splat(0);
  let second = first;
  for (const end: usize = window + rowBytes; window < end; window += 32, row += 32) {
    first = f32x4.add(first, f32x4.mul(v128.load(window), v128.load(row)));
    second = f32x4.add(second, f32x4.mul(v128.load(window, 16), v128.load(row, 16)));
  }
  return sum(f32x4.add(first, second));
}

/** The top of the parabola through three values at equal distances, as a magnitude, where the middle one is the highest; otherwise 0. */
function top(before: f32, at: f32, after: f32): f32 {
  const sign: f32 = at < 0 ? -1 : 1;
  const height = at * sign;
  const left = before * sign;
  const right = after * sign;
  if (height < left || height < right) return 0;
  const curve = left - 2 * height + right;
  return curve < 0 ? height - ((left - right) * (left - right)) / (8 * curve) : height;
}

/**
 * For each of `frames` intervals between two samples its highest magnitude, the first of both included, at `output`. The samples of the first interval are the middle two
 * of the `taps` that lie one sample behind `input`. `rows` holds the weights at one to seven eighths; `halves` has room for `frames` values and three more, as has `output`.
 * Eighths are read where a sample or the value half-way between two passes `low`, and one of them or of the values at the quarters passes `high`.
 */
export function peaksBetween(input: usize, rows: usize, halves: usize, output: usize, frames: i32, low: f32, high: f32): void {
  const half: usize = rows + 3 * rowBytes;
  const bytes: usize = (<usize>frames) << 2;
  for (let i: usize = 0; i < bytes; i += 32) {
    let near: usize = input + i + middle;
    let far: usize = near + 4;
    let first = f32x4.splat(0);
    let second = first;
    // The row is the same read backwards.
    for (let weight: usize = half + middle, end: usize = half + rowBytes; weight < end; weight += 4, near -= 4, far += 4) {
      const gain = v128.load32_splat(weight);
      first = f32x4.add(first, f32x4.mul(gain, f32x4.add(v128.load(near), v128.load(far))));
      second = f32x4.add(second, f32x4.mul(gain, f32x4.add(v128.load(near, 16), v128.load(far, 16))));
    }
    v128.store(halves + i, first);
    v128.store(halves + i, second, 16);
  }
  let last: f32 = 0;
  let known = false;
  for (let i: usize = 0; i < bytes; i += 4) {
    const at = load<f32>(input + i + middle);
    const next = load<f32>(input + i + middle, 4);
    const between = load<f32>(halves + i);
    let peak = max<f32>(abs<f32>(at), abs<f32>(between));
    let isHigh = false;
    if (max<f32>(peak, abs<f32>(next)) > low) {
      const window: usize = input + i + 4;
      let a = f32x4.splat(0);
      let b = a;
      for (let tap: usize = 0; tap < rowBytes; tap += 16) {
        const samples = v128.load(window + tap);
        a = f32x4.add(a, f32x4.mul(samples, v128.load(rows + tap, 192)));
        b = f32x4.add(b, f32x4.mul(samples, v128.load(rows + tap, 960)));
      }
      const two = sum(a);
      const six = sum(b);
      peak = max<f32>(peak, max<f32>(abs<f32>(two), abs<f32>(six)));
      isHigh = max<f32>(peak, abs<f32>(next)) > high;
      if (isHigh) {
        if (!known) last = valueAt(window - 4, rows + 6 * rowBytes);
        a = f32x4.splat(0);
        b = a;
        let c = a;
        let d = a;
        for (let tap: usize = 0; tap < rowBytes; tap += 16) {
          const samples = v128.load(window + tap);
          a = f32x4.add(a, f32x4.mul(samples, v128.load(rows + tap)));
          b = f32x4.add(b, f32x4.mul(samples, v128.load(rows + tap, 384)));
          c = f32x4.add(c, f32x4.mul(samples, v128.load(rows + tap, 768)));
          d = f32x4.add(d, f32x4.mul(samples, v128.load(rows + tap, 1152)));
        }
        const one = sum(a);
        const three = sum(b);
        const five = sum(c);
        const seven = sum(d);
        peak = max<f32>(peak, max<f32>(top(last, at, one), top(at, one, two)));
        peak = max<f32>(peak, max<f32>(top(one, two, three), top(two, three, between)));
        peak = max<f32>(peak, max<f32>(top(three, between, five), top(between, five, six)));
        peak = max<f32>(peak, max<f32>(top(five, six, seven), top(six, seven, next)));
        last = seven;
      }
    }
    known = isHigh;
    store<f32>(output + i, peak);
  }
}
