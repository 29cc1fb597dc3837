/**
 * Spectra of two channels at once: left and right, under a window, are the real and the imaginary parts of complex numbers, whose cyclic
 * transform holds both. The size is a power of two of at least 64; where it is no power of four, one butterfly of two comes first. Complex arrays
 * are those of `transform.ts`, and so are `turns`, for lengths from the size (or its half) down to 16; `halves` holds exp(-2πik / size), a complex vector for every four
 * k below the half. The reference is `PlainPairs` in src/dsp/pair-transform.ts; tests compare the two.
 */

import { add, mul, productIm, productRe, sub } from './complex';
import { forwardWithin, inverseWithin } from './transform';

/** True for powers of four. */
function isFours(size: i32): bool {
  return (ctz(size) & 1) === 0;
}

/** The spectrum of `size` samples of two channels under a window into `data`. */
export function forwardPair(left: usize, right: usize, window: usize, data: usize, halves: usize, turns: usize, size: i32): void {
  const bytes: usize = (<usize>size) << 2;
  for (let n: usize = 0; n < bytes; n += 16) {
    const weight = v128.load(window + n);
    const at: usize = data + (n << 1);
    v128.store(at, mul(v128.load(left + n), weight));
    v128.store(at, mul(v128.load(right + n), weight), 16);
  }
  if (isFours(size)) {
    forwardWithin(data, <usize>size, turns);
    return;
  }
  const half: usize = bytes;
  for (let a: usize = data, turn = halves; a < data + half; a += 32, turn += 32) {
    const b = a + half;
    const aRe = v128.load(a);
    const aIm = v128.load(a, 16);
    const bRe = v128.load(b);
    const bIm = v128.load(b, 16);
    v128.store(a, add(aRe, bRe));
    v128.store(a, add(aIm, bIm), 16);
    const re = sub(aRe, bRe);
    const im = sub(aIm, bIm);
    const wRe = v128.load(turn);
    const wIm = v128.load(turn, 16);
    v128.store(b, productRe(re, im, wRe, wIm));
    v128.store(b, productIm(re, im, wRe, wIm), 16);
  }
  forwardWithin(data, (<usize>size) >> 1, turns);
  forwardWithin(data + half, (<usize>size) >> 1, turns);
}

/** The samples, times the size, whose spectrum is `data`, in its place. */
export function inversePair(data: usize, halves: usize, turns: usize, size: i32): void {
  if (isFours(size)) {
    inverseWithin(data, <usize>size, turns);
    return;
  }
  const half: usize = (<usize>size) << 2;
  inverseWithin(data, (<usize>size) >> 1, turns);
  inverseWithin(data + half, (<usize>size) >> 1, turns);
  for (let a: usize = data, turn = halves; a < data + half; a += 32, turn += 32) {
    const b = a + half;
    const aRe = v128.load(a);
    const aIm = v128.load(a, 16);
    const re = v128.load(b);
    const im = v128.load(b, 16);
    const wRe = v128.load(turn);
    const wIm = v128.load(turn, 16);
    const bRe = add(mul(re, wRe), mul(im, wIm));
    const bIm = sub(mul(im, wRe), mul(re, wIm));
    v128.store(a, add(aRe, bRe));
    v128.store(a, add(aIm, bIm), 16);
    v128.store(b, sub(aRe, bRe));
    v128.store(b, sub(aIm, bIm), 16);
  }
}
