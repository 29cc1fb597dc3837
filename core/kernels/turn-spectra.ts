/**
 * The phase vocoder's work on spectra of two channels at once (see `pair-spectrum.ts`): bins k and size − k of the complex spectrum hold bin k of both.
 * `places` holds where each bin lies, in bytes. The references are `addTurns` and `turn` in src/dsp/turned-spectra.ts; tests compare them.
 */

/** Adds to every bin the power of `now`, and the product of `last` with the conjugate of `earlier`, of both channels. */
export function addTurns(
  now: usize,
  earlier: usize,
  last: usize,
  places: usize,
  power: usize,
  turnRe: usize,
  turnIm: usize,
  size: i32,
): void {
  const half = size >> 1;
  for (let k = 0; k <= half; k++) {
    const one: usize = <usize>load<i32>(places + ((<usize>k) << 2));
    const other: usize = <usize>load<i32>(places + ((<usize>(k === 0 ? 0 : size - k)) << 2));
    let a = load<f32>(now + one);
    let b = load<f32>(now + one, 16);
    let c = load<f32>(now + other);
    let d = load<f32>(now + other, 16);
    const at: usize = (<usize>k) << 2;
    store<f32>(power + at, load<f32>(power + at) + a * a + b * b + c * c + d * d);
    a = load<f32>(last + one);
    b = load<f32>(last + one, 16);
    c = load<f32>(earlier + one);
    d = load<f32>(earlier + one, 16);
    let re = a * c + b * d;
    let im = b * c - a * d;
    a = load<f32>(last + other);
    b = load<f32>(last + other, 16);
    c = load<f32>(earlier + other);
    d = load<f32>(earlier + other, 16);
    re += a * c + b * d;
    im -= b * c - a * d;
    store<f32>(turnRe + at, load<f32>(turnRe + at) + re);
    store<f32>(turnIm + at, load<f32>(turnIm + at) + im);
  }
}

/** Turns every bin of `now` into `last`, and into `copy`. */
export function turnBins(now: usize, last: usize, copy: usize, places: usize, turnRe: usize, turnIm: usize, size: i32): void {
  const half = size >> 1;
  for (let k = 0; k <= half; k++) {
    const re = load<f32>(turnRe + ((<usize>k) << 2));
    const im = load<f32>(turnIm + ((<usize>k) << 2));
    const one: usize = <usize>load<i32>(places + ((<usize>k) << 2));
    const a = load<f32>(now + one);
    const b = load<f32>(now + one, 16);
    let x = a * re - b * im;
    let y = a * im + b * re;
    store<f32>(last + one, x);
    store<f32>(last + one, y, 16);
    store<f32>(copy + one, x);
    store<f32>(copy + one, y, 16);
    if (k === 0 || k === half) continue;
    const other: usize = <usize>load<i32>(places + ((<usize>(size - k)) << 2));
    const c = load<f32>(now + other);
    const d = load<f32>(now + other, 16);
    x = c * re + d * im;
    y = d * re - c * im;
    store<f32>(last + other, x);
    store<f32>(last + other, y, 16);
    store<f32>(copy + other, x);
    store<f32>(copy + other, y, 16);
  }
}

/** The samples of both channels under a window, one channel behind the other. */
export function partPair(data: usize, window: usize, into: usize, size: i32): void {
  const bytes: usize = (<usize>size) << 2;
  for (let n: usize = 0; n < bytes; n += 16) {
    const weight = v128.load(window + n);
    v128.store(into + n, f32x4.mul(v128.load(data + (n << 1)), weight));
    v128.store(into + bytes + n, f32x4.mul(v128.load(data + (n << 1), 16), weight));
  }
}
