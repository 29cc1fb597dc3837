/**
 * Transforms for partitioned convolution, four complex numbers at a time. The reference in plain TypeScript is
 * `PlainSpectra` in src/dsp/plain-spectra.ts; tests compare the two.
 *
 * A block of 2P real samples is taken as P complex ones, x[n] + i·x[n + P], turned by exp(iπn / 2P): then a cyclic product of P complex
 * numbers is a convolution of 2P real ones whose end comes back at its beginning with the sign turned (negacyclic; Nussbaumer 1982). All
 * bins are alike, with no special case at zero and Nyquist. The order of the bins is that in which radix-4 decimation in frequency leaves
 * them; the way back (decimation in time) takes them as they lie, so that nothing is ever sorted.
 *
 * P is a power of four of at least 64. Complex arrays hold four real parts, then their four imaginary parts, and so on (32 bytes). All
 * pointers are byte addresses, multiples of 16. `turns` holds the factors w, w², w³ with w = exp(-2πik / L), three complex vectors for
 * every four k < L/4, for L = P/4, P/16 … 16. The first butterflies, of length P, have factors that turn in as well: `twists` holds t,
 * tw, tw², tw³ with t = exp(iπk / 2P), four complex vectors for every four k < P/4.
 */

import { add, mul, productIm, productRe, sub } from './complex';

/** Spectrum of the block whose halves lie at `earlier` and `later` (P samples each) into `data`. */
export function forward(earlier: usize, later: usize, data: usize, twists: usize, turns: usize, size: i32): void {
  turnIn(earlier, later, data, twists, <usize>size);
  for (let k: usize = 0; k < 4; k++) forwardWithin(data + k * ((<usize>size) << 1), (<usize>size) >> 2, turns);
}

/** The later half, scaled by P, of the block whose spectrum is `data` (which is overwritten) into `output`. */
export function inverse(data: usize, output: usize, twists: usize, turns: usize, size: i32): void {
  for (let k: usize = 0; k < 4; k++) inverseWithin(data + k * ((<usize>size) << 1), (<usize>size) >> 2, turns);
  turnOut(data, output, twists, <usize>size);
}

/** exp(iπ / 8), and 45 degrees. */
const cos22: f32 = 0.9238795325112867;
const sin22: f32 = 0.3826834323650898;
const cos45: f32 = 0.7071067811865476;

/**
 * The first butterflies of the way in. The four samples of one are turned by the angle of the first of them, which the factors behind the
 * butterfly have in them, and by 0, 22.5, 45 and 67.5 degrees.
 */
function turnIn(earlier: usize, later: usize, data: usize, twists: usize, size: usize): void {
  const c1 = f32x4.splat(cos22);
  const s1 = f32x4.splat(sin22);
  const c2 = f32x4.splat(cos45);
  const reals = size;
  const quarter = size << 1;
  for (let n: usize = 0; n < reals; n += 16, twists += 128) {
    const e: usize = earlier + n;
    const l: usize = later + n;
    const aRe = v128.load(e);
    const aIm = v128.load(l);
    let re = v128.load(e + reals);
    let im = v128.load(l + reals);
    const bRe = productRe(re, im, c1, s1);
    const bIm = productIm(re, im, c1, s1);
    re = v128.load(e + 2 * reals);
    im = v128.load(l + 2 * reals);
    const cRe = mul(sub(re, im), c2);
    const cIm = mul(add(re, im), c2);
    re = v128.load(e + 3 * reals);
    im = v128.load(l + 3 * reals);
    const dRe = productRe(re, im, s1, c1);
    const dIm = productIm(re, im, s1, c1);
    const sumRe = add(aRe, cRe);
    const sumIm = add(aIm, cIm);
    const diffRe = sub(aRe, cRe);
    const diffIm = sub(aIm, cIm);
    const otherRe = add(bRe, dRe);
    const otherIm = add(bIm, dIm);
    // (b - d) turned by -90 degrees.
    const sideRe = sub(bIm, dIm);
    const sideIm = sub(dRe, bRe);
    const at: usize = data + (n << 1);
    storeTurned(at, add(sumRe, otherRe), add(sumIm, otherIm), twists);
    storeTurned(at + quarter, add(diffRe, sideRe), add(diffIm, sideIm), twists + 32);
    storeTurned(at + 2 * quarter, sub(sumRe, otherRe), sub(sumIm, otherIm), twists + 64);
    storeTurned(at + 3 * quarter, sub(diffRe, sideRe), sub(diffIm, sideIm), twists + 96);
  }
}

/** The last butterflies of the way back, and imaginary parts of what they give, turned back. */
function turnOut(data: usize, output: usize, twists: usize, size: usize): void {
  const c1 = f32x4.splat(cos22);
  const s1 = f32x4.splat(sin22);
  const c2 = f32x4.splat(cos45);
  const reals = size;
  const quarter = size << 1;
  for (let n: usize = 0; n < reals; n += 16, twists += 128) {
    const at: usize = data + (n << 1);
    let re = v128.load(at);
    let im = v128.load(at, 16);
    let wRe = v128.load(twists);
    let wIm = v128.load(twists, 16);
    const aRe = add(mul(re, wRe), mul(im, wIm));
    const aIm = sub(mul(im, wRe), mul(re, wIm));
    re = v128.load(at + quarter);
    im = v128.load(at + quarter, 16);
    wRe = v128.load(twists, 32);
    wIm = v128.load(twists, 48);
    const bRe = add(mul(re, wRe), mul(im, wIm));
    const bIm = sub(mul(im, wRe), mul(re, wIm));
    re = v128.load(at + 2 * quarter);
    im = v128.load(at + 2 * quarter, 16);
    wRe = v128.load(twists, 64);
    wIm = v128.load(twists, 80);
    const cRe = add(mul(re, wRe), mul(im, wIm));
    const cIm = sub(mul(im, wRe), mul(re, wIm));
    re = v128.load(at + 3 * quarter);
    im = v128.load(at + 3 * quarter, 16);
    wRe = v128.load(twists, 96);
    wIm = v128.load(twists, 112);
    const dRe = add(mul(re, wRe), mul(im, wIm));
    const dIm = sub(mul(im, wRe), mul(re, wIm));
    const sumRe = add(aRe, cRe);
    const sumIm = add(aIm, cIm);
    const diffRe = sub(aRe, cRe);
    const diffIm = sub(aIm, cIm);
    const otherRe = add(bRe, dRe);
    const otherIm = add(bIm, dIm);
    // (b - d) turned by 90 degrees.
    const sideRe = sub(dIm, bIm);
    const sideIm = sub(bRe, dRe);
    const into: usize = output + n;
    v128.store(into, add(sumIm, otherIm));
    v128.store(into + reals, sub(mul(add(diffIm, sideIm), c1), mul(add(diffRe, sideRe), s1)));
    v128.store(into + 2 * reals, mul(sub(sub(sumIm, otherIm), sub(sumRe, otherRe)), c2));
    v128.store(into + 3 * reals, sub(mul(sub(diffIm, sideIm), s1), mul(sub(diffRe, sideRe), c1)));
  }
}

function storeTurned(at: usize, re: v128, im: v128, turn: usize): void {
  const wRe = v128.load(turn);
  const wIm = v128.load(turn, 16);
  v128.store(at, productRe(re, im, wRe, wIm));
  v128.store(at, productIm(re, im, wRe, wIm), 16);
}

/** All further butterflies of a stretch, and of its quarters one after another: shorter stretches stay in the nearest cache. */
export function forwardWithin(data: usize, length: usize, turns: usize): void {
  if (length === 16) {
    forwardSixteen(data, turns);
    return;
  }
  const quarter: usize = length << 1;
  let turn = turns;
  for (let a: usize = data; a < data + quarter; a += 32, turn += 96) {
    const b = a + quarter;
    const c = b + quarter;
    const d = c + quarter;
    const sumRe = add(v128.load(a), v128.load(c));
    const sumIm = add(v128.load(a, 16), v128.load(c, 16));
    const diffRe = sub(v128.load(a), v128.load(c));
    const diffIm = sub(v128.load(a, 16), v128.load(c, 16));
    const otherRe = add(v128.load(b), v128.load(d));
    const otherIm = add(v128.load(b, 16), v128.load(d, 16));
    // (b - d) turned by -90 degrees.
    const sideRe = sub(v128.load(b, 16), v128.load(d, 16));
    const sideIm = sub(v128.load(d), v128.load(b));
    v128.store(a, add(sumRe, otherRe));
    v128.store(a, add(sumIm, otherIm), 16);
    storeTurned(b, add(diffRe, sideRe), add(diffIm, sideIm), turn);
    storeTurned(c, sub(sumRe, otherRe), sub(sumIm, otherIm), turn + 32);
    storeTurned(d, sub(diffRe, sideRe), sub(diffIm, sideIm), turn + 64);
  }
  for (let k: usize = 0; k < 4; k++) forwardWithin(data + k * quarter, length >> 2, turn);
}

/** The way back of `forwardWithin`. */
export function inverseWithin(data: usize, length: usize, turns: usize): void {
  if (length === 16) {
    inverseSixteen(data, turns);
    return;
  }
  const quarter: usize = length << 1;
  for (let k: usize = 0; k < 4; k++) inverseWithin(data + k * quarter, length >> 2, turns + 3 * quarter);
  for (let a: usize = data; a < data + quarter; a += 32, turns += 96) {
    const b = a + quarter;
    const c = b + quarter;
    const d = c + quarter;
    const aRe = v128.load(a);
    const aIm = v128.load(a, 16);
    let re = v128.load(b);
    let im = v128.load(b, 16);
    let wRe = v128.load(turns);
    let wIm = v128.load(turns, 16);
    const bRe = add(mul(re, wRe), mul(im, wIm));
    const bIm = sub(mul(im, wRe), mul(re, wIm));
    re = v128.load(c);
    im = v128.load(c, 16);
    wRe = v128.load(turns, 32);
    wIm = v128.load(turns, 48);
    const cRe = add(mul(re, wRe), mul(im, wIm));
    const cIm = sub(mul(im, wRe), mul(re, wIm));
    re = v128.load(d);
    im = v128.load(d, 16);
    wRe = v128.load(turns, 64);
    wIm = v128.load(turns, 80);
    const dRe = add(mul(re, wRe), mul(im, wIm));
    const dIm = sub(mul(im, wRe), mul(re, wIm));
    const sumRe = add(aRe, cRe);
    const sumIm = add(aIm, cIm);
    const diffRe = sub(aRe, cRe);
    const diffIm = sub(aIm, cIm);
    const otherRe = add(bRe, dRe);
    const otherIm = add(bIm, dIm);
    // (b - d) turned by 90 degrees.
    const sideRe = sub(dIm, bIm);
    const sideIm = sub(bRe, dRe);
    v128.store(a, add(sumRe, otherRe));
    v128.store(a, add(sumIm, otherIm), 16);
    v128.store(b, add(diffRe, sideRe));
    v128.store(b, add(diffIm, sideIm), 16);
    v128.store(c, sub(sumRe, otherRe));
    v128.store(c, sub(sumIm, otherIm), 16);
    v128.store(d, sub(diffRe, sideRe));
    v128.store(d, sub(diffIm, sideIm), 16);
  }
}

/** The last two butterflies of sixteen numbers, which need no memory in between. */
function forwardSixteen(data: usize, turns: usize): void {
  let aRe = v128.load(data);
  let aIm = v128.load(data, 16);
  let bRe = v128.load(data, 32);
  let bIm = v128.load(data, 48);
  let cRe = v128.load(data, 64);
  let cIm = v128.load(data, 80);
  let dRe = v128.load(data, 96);
  let dIm = v128.load(data, 112);
  let sumRe = add(aRe, cRe);
  let sumIm = add(aIm, cIm);
  let diffRe = sub(aRe, cRe);
  let diffIm = sub(aIm, cIm);
  let otherRe = add(bRe, dRe);
  let otherIm = add(bIm, dIm);
  // (b - d) turned by -90 degrees.
  let sideRe = sub(bIm, dIm);
  let sideIm = sub(dRe, bRe);
  aRe = add(sumRe, otherRe);
  aIm = add(sumIm, otherIm);
  let re = add(diffRe, sideRe);
  let im = add(diffIm, sideIm);
  let wRe = v128.load(turns);
  let wIm = v128.load(turns, 16);
  bRe = productRe(re, im, wRe, wIm);
  bIm = productIm(re, im, wRe, wIm);
  re = sub(sumRe, otherRe);
  im = sub(sumIm, otherIm);
  wRe = v128.load(turns, 32);
  wIm = v128.load(turns, 48);
  cRe = productRe(re, im, wRe, wIm);
  cIm = productIm(re, im, wRe, wIm);
  re = sub(diffRe, sideRe);
  im = sub(diffIm, sideIm);
  wRe = v128.load(turns, 64);
  wIm = v128.load(turns, 80);
  dRe = productRe(re, im, wRe, wIm);
  dIm = productIm(re, im, wRe, wIm);
  // Rows and columns change places, so that the butterflies of length 4 lie side by side.
  let low = pairLow(aRe, bRe);
  let high = pairHigh(aRe, bRe);
  let otherLow = pairLow(cRe, dRe);
  let otherHigh = pairHigh(cRe, dRe);
  aRe = joinLow(low, otherLow);
  bRe = joinHigh(low, otherLow);
  cRe = joinLow(high, otherHigh);
  dRe = joinHigh(high, otherHigh);
  low = pairLow(aIm, bIm);
  high = pairHigh(aIm, bIm);
  otherLow = pairLow(cIm, dIm);
  otherHigh = pairHigh(cIm, dIm);
  aIm = joinLow(low, otherLow);
  bIm = joinHigh(low, otherLow);
  cIm = joinLow(high, otherHigh);
  dIm = joinHigh(high, otherHigh);
  sumRe = add(aRe, cRe);
  sumIm = add(aIm, cIm);
  diffRe = sub(aRe, cRe);
  diffIm = sub(aIm, cIm);
  otherRe = add(bRe, dRe);
  otherIm = add(bIm, dIm);
  sideRe = sub(bIm, dIm);
  sideIm = sub(dRe, bRe);
  v128.store(data, add(sumRe, otherRe));
  v128.store(data, add(sumIm, otherIm), 16);
  v128.store(data, add(diffRe, sideRe), 32);
  v128.store(data, add(diffIm, sideIm), 48);
  v128.store(data, sub(sumRe, otherRe), 64);
  v128.store(data, sub(sumIm, otherIm), 80);
  v128.store(data, sub(diffRe, sideRe), 96);
  v128.store(data, sub(diffIm, sideIm), 112);
}

/** The way back of `forwardSixteen`. */
function inverseSixteen(data: usize, turns: usize): void {
  let aRe = v128.load(data);
  let aIm = v128.load(data, 16);
  let bRe = v128.load(data, 32);
  let bIm = v128.load(data, 48);
  let cRe = v128.load(data, 64);
  let cIm = v128.load(data, 80);
  let dRe = v128.load(data, 96);
  let dIm = v128.load(data, 112);
  let sumRe = add(aRe, cRe);
  let sumIm = add(aIm, cIm);
  let diffRe = sub(aRe, cRe);
  let diffIm = sub(aIm, cIm);
  let otherRe = add(bRe, dRe);
  let otherIm = add(bIm, dIm);
  // (b - d) turned by 90 degrees.
  let sideRe = sub(dIm, bIm);
  let sideIm = sub(bRe, dRe);
  aRe = add(sumRe, otherRe);
  aIm = add(sumIm, otherIm);
  bRe = add(diffRe, sideRe);
  bIm = add(diffIm, sideIm);
  cRe = sub(sumRe, otherRe);
  cIm = sub(sumIm, otherIm);
  dRe = sub(diffRe, sideRe);
  dIm = sub(diffIm, sideIm);
  let low = pairLow(aRe, bRe);
  let high = pairHigh(aRe, bRe);
  let otherLow = pairLow(cRe, dRe);
  let otherHigh = pairHigh(cRe, dRe);
  aRe = joinLow(low, otherLow);
  let re = joinHigh(low, otherLow);
  cRe = joinLow(high, otherHigh);
  dRe = joinHigh(high, otherHigh);
  low = pairLow(aIm, bIm);
  high = pairHigh(aIm, bIm);
  otherLow = pairLow(cIm, dIm);
  otherHigh = pairHigh(cIm, dIm);
  aIm = joinLow(low, otherLow);
  let im = joinHigh(low, otherLow);
  cIm = joinLow(high, otherHigh);
  dIm = joinHigh(high, otherHigh);
  let wRe = v128.load(turns);
  let wIm = v128.load(turns, 16);
  bRe = add(mul(re, wRe), mul(im, wIm));
  bIm = sub(mul(im, wRe), mul(re, wIm));
  wRe = v128.load(turns, 32);
  wIm = v128.load(turns, 48);
  re = cRe;
  im = cIm;
  cRe = add(mul(re, wRe), mul(im, wIm));
  cIm = sub(mul(im, wRe), mul(re, wIm));
  wRe = v128.load(turns, 64);
  wIm = v128.load(turns, 80);
  re = dRe;
  im = dIm;
  dRe = add(mul(re, wRe), mul(im, wIm));
  dIm = sub(mul(im, wRe), mul(re, wIm));
  sumRe = add(aRe, cRe);
  sumIm = add(aIm, cIm);
  diffRe = sub(aRe, cRe);
  diffIm = sub(aIm, cIm);
  otherRe = add(bRe, dRe);
  otherIm = add(bIm, dIm);
  sideRe = sub(dIm, bIm);
  sideIm = sub(bRe, dRe);
  v128.store(data, add(sumRe, otherRe));
  v128.store(data, add(sumIm, otherIm), 16);
  v128.store(data, add(diffRe, sideRe), 32);
  v128.store(data, add(diffIm, sideIm), 48);
  v128.store(data, sub(sumRe, otherRe), 64);
  v128.store(data, sub(sumIm, otherIm), 80);
  v128.store(data, sub(diffRe, sideRe), 96);
  v128.store(data, sub(diffIm, sideIm), 112);
}

function pairLow(a: v128, b: v128): v128 {
  return v128.shuffle<f32>(a, b, 0, 4, 1, 5);
}
function pairHigh(a: v128, b: v128): v128 {
  return v128.shuffle<f32>(a, b, 2, 6, 3, 7);
}
function joinLow(a: v128, b: v128): v128 {
  return v128.shuffle<f32>(a, b, 0, 1, 4, 5);
}
function joinHigh(a: v128, b: v128): v128 {
  return v128.shuffle<f32>(a, b, 2, 3, 6, 7);
}
