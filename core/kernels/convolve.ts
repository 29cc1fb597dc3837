/**
 * Transforms and products of spectra for partitioned convolution, four complex numbers at a time. The reference in plain TypeScript is
 * `PlainSpectra` in src/dsp/plain-spectra.ts; tests compare the two.
 *
 * A block of 2P real samples is taken as P complex ones, x[n] + i·x[n + P], turned by exp(iπn / 2P): then a cyclic product of P complex
 * numbers is a convolution of 2P real ones whose end comes back at its beginning with the sign turned (negacyclic; Nussbaumer 1982). All
 * bins are alike, with no special case at zero and Nyquist. The order of the bins is that in which radix-4 decimation in frequency leaves
 * them; the way back (decimation in time) takes them as they lie, so that nothing is ever sorted.
 *
 * P is a power of four of at least 16. Complex arrays hold four real parts, then their four imaginary parts, and so on (32 bytes). All
 * pointers are byte addresses, multiples of 16. `twists` holds exp(iπn / 2P) for n < P; `turns` the factors w, w², w³ with
 * w = exp(-2πik / L), three complex vectors for every four k < L/4, for L = P, P/4 … 16.
 */

function add(a: v128, b: v128): v128 {
  return f32x4.add(a, b);
}
function sub(a: v128, b: v128): v128 {
  return f32x4.sub(a, b);
}
function mul(a: v128, b: v128): v128 {
  return f32x4.mul(a, b);
}
/** Re and im parts of two pairs multiplied. */
function productRe(aRe: v128, aIm: v128, bRe: v128, bIm: v128): v128 {
  return sub(mul(aRe, bRe), mul(aIm, bIm));
}
function productIm(aRe: v128, aIm: v128, bRe: v128, bIm: v128): v128 {
  return add(mul(aRe, bIm), mul(aIm, bRe));
}

/** Spectrum of the block whose halves lie at `earlier` and `later` (P samples each) into `data`. */
export function forward(earlier: usize, later: usize, data: usize, twists: usize, turns: usize, size: i32): void {
  for (let n = 0; n < size; n += 4) {
    const at: usize = (<usize>n) << 2;
    const place: usize = (<usize>n) << 3;
    const re = v128.load(earlier + at);
    const im = v128.load(later + at);
    const c = v128.load(twists + place);
    const s = v128.load(twists + place, 16);
    v128.store(data + place, productRe(re, im, c, s));
    v128.store(data + place, productIm(re, im, c, s), 16);
  }
  for (let length = size; length > 4; length >>= 2) {
    const quarter: usize = (<usize>length) << 1;
    for (let start: usize = data; start < data + ((<usize>size) << 3); start += quarter << 2) {
      let turn = turns;
      for (let a: usize = start; a < start + quarter; a += 32, turn += 96) {
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
        let re = add(diffRe, sideRe);
        let im = add(diffIm, sideIm);
        let wRe = v128.load(turn);
        let wIm = v128.load(turn, 16);
        v128.store(b, productRe(re, im, wRe, wIm));
        v128.store(b, productIm(re, im, wRe, wIm), 16);
        re = sub(sumRe, otherRe);
        im = sub(sumIm, otherIm);
        wRe = v128.load(turn, 32);
        wIm = v128.load(turn, 48);
        v128.store(c, productRe(re, im, wRe, wIm));
        v128.store(c, productIm(re, im, wRe, wIm), 16);
        re = sub(diffRe, sideRe);
        im = sub(diffIm, sideIm);
        wRe = v128.load(turn, 64);
        wIm = v128.load(turn, 80);
        v128.store(d, productRe(re, im, wRe, wIm));
        v128.store(d, productIm(re, im, wRe, wIm), 16);
      }
    }
    turns += quarter * 3;
  }
  for (let at: usize = data; at < data + ((<usize>size) << 3); at += 128) {
    transpose(at);
    transpose(at + 16);
    lastForward(at);
  }
}

/** The later half, scaled by P, of the block whose spectrum is `data` (which is overwritten) into `output`. */
export function inverse(data: usize, output: usize, twists: usize, turns: usize, size: i32): void {
  const end: usize = data + ((<usize>size) << 3);
  for (let at: usize = data; at < end; at += 128) {
    lastInverse(at);
    transpose(at);
    transpose(at + 16);
  }
  // From the shortest length, whose factors lie last, to the longest.
  for (let length = size; length > 4; length >>= 2) turns += <usize>length * 6;
  for (let length = 16; length <= size; length <<= 2) {
    const quarter: usize = (<usize>length) << 1;
    turns -= quarter * 3;
    for (let start: usize = data; start < end; start += quarter << 2) {
      let turn = turns;
      for (let a: usize = start; a < start + quarter; a += 32, turn += 96) {
        const b = a + quarter;
        const c = b + quarter;
        const d = c + quarter;
        const aRe = v128.load(a);
        const aIm = v128.load(a, 16);
        let re = v128.load(b);
        let im = v128.load(b, 16);
        let wRe = v128.load(turn);
        let wIm = v128.load(turn, 16);
        const bRe = add(mul(re, wRe), mul(im, wIm));
        const bIm = sub(mul(im, wRe), mul(re, wIm));
        re = v128.load(c);
        im = v128.load(c, 16);
        wRe = v128.load(turn, 32);
        wIm = v128.load(turn, 48);
        const cRe = add(mul(re, wRe), mul(im, wIm));
        const cIm = sub(mul(im, wRe), mul(re, wIm));
        re = v128.load(d);
        im = v128.load(d, 16);
        wRe = v128.load(turn, 64);
        wIm = v128.load(turn, 80);
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
  }
  for (let n = 0; n < size; n += 4) {
    const place: usize = (<usize>n) << 3;
    const c = v128.load(twists + place);
    const s = v128.load(twists + place, 16);
    v128.store(output + ((<usize>n) << 2), sub(mul(v128.load(data + place, 16), c), mul(v128.load(data + place), s)));
  }
}

/** Butterflies of length 4, four of them side by side: vectors a, b, c, d lie 32 bytes apart. */
function lastForward(at: usize): void {
  const sumRe = add(v128.load(at), v128.load(at, 64));
  const sumIm = add(v128.load(at, 16), v128.load(at, 80));
  const diffRe = sub(v128.load(at), v128.load(at, 64));
  const diffIm = sub(v128.load(at, 16), v128.load(at, 80));
  const otherRe = add(v128.load(at, 32), v128.load(at, 96));
  const otherIm = add(v128.load(at, 48), v128.load(at, 112));
  const sideRe = sub(v128.load(at, 48), v128.load(at, 112));
  const sideIm = sub(v128.load(at, 96), v128.load(at, 32));
  v128.store(at, add(sumRe, otherRe));
  v128.store(at, add(sumIm, otherIm), 16);
  v128.store(at, add(diffRe, sideRe), 32);
  v128.store(at, add(diffIm, sideIm), 48);
  v128.store(at, sub(sumRe, otherRe), 64);
  v128.store(at, sub(sumIm, otherIm), 80);
  v128.store(at, sub(diffRe, sideRe), 96);
  v128.store(at, sub(diffIm, sideIm), 112);
}

function lastInverse(at: usize): void {
  const sumRe = add(v128.load(at), v128.load(at, 64));
  const sumIm = add(v128.load(at, 16), v128.load(at, 80));
  const diffRe = sub(v128.load(at), v128.load(at, 64));
  const diffIm = sub(v128.load(at, 16), v128.load(at, 80));
  const otherRe = add(v128.load(at, 32), v128.load(at, 96));
  const otherIm = add(v128.load(at, 48), v128.load(at, 112));
  const sideRe = sub(v128.load(at, 112), v128.load(at, 48));
  const sideIm = sub(v128.load(at, 32), v128.load(at, 96));
  v128.store(at, add(sumRe, otherRe));
  v128.store(at, add(sumIm, otherIm), 16);
  v128.store(at, add(diffRe, sideRe), 32);
  v128.store(at, add(diffIm, sideIm), 48);
  v128.store(at, sub(sumRe, otherRe), 64);
  v128.store(at, sub(sumIm, otherIm), 80);
  v128.store(at, sub(diffRe, sideRe), 96);
  v128.store(at, sub(diffIm, sideIm), 112);
}

/** Rows and columns of four vectors, 32 bytes apart, change places. */
function transpose(at: usize): void {
  const a = v128.load(at);
  const b = v128.load(at, 32);
  const c = v128.load(at, 64);
  const d = v128.load(at, 96);
  const abLow = v128.shuffle<f32>(a, b, 0, 4, 1, 5);
  const abHigh = v128.shuffle<f32>(a, b, 2, 6, 3, 7);
  const cdLow = v128.shuffle<f32>(c, d, 0, 4, 1, 5);
  const cdHigh = v128.shuffle<f32>(c, d, 2, 6, 3, 7);
  v128.store(at, v128.shuffle<f32>(abLow, cdLow, 0, 1, 4, 5));
  v128.store(at, v128.shuffle<f32>(abLow, cdLow, 2, 3, 6, 7), 32);
  v128.store(at, v128.shuffle<f32>(abHigh, cdHigh, 0, 1, 4, 5), 64);
  v128.store(at, v128.shuffle<f32>(abHigh, cdHigh, 2, 3, 6, 7), 96);
}

/** Bytes of a spectrum that are taken through all partitions together: they stay in the nearest cache, and are read in a row. */
const run: usize = 2048;

/**
 * The sum of products of the latest `count` spectra, whose newest lies at place `newest` of a ring of `ring` at `past`, with those of a
 * response, into `sum`.
 */
export function accumulate(past: usize, ring: i32, newest: i32, response: usize, count: i32, sum: usize, size: i32): void {
  const bytes: usize = (<usize>size) << 3;
  for (let from: usize = 0; from < bytes; from += run) {
    const to: usize = from + run < bytes ? from + run : bytes;
    memory.fill(sum + from, 0, to - from);
    // Two partitions at a time, so that the sum is read and written half as often.
    for (let p = 0; p < count; p += 2) {
      const place = newest + p;
      const next = place + 1;
      const a: usize = past + <usize>(place < ring ? place : place - ring) * bytes;
      const b: usize = response + <usize>p * bytes;
      if (p + 1 < count) {
        const c: usize = past + <usize>(next < ring ? next : next - ring) * bytes;
        const d: usize = b + bytes;
        for (let bin: usize = from; bin < to; bin += 32) {
          const aRe = v128.load(a + bin);
          const aIm = v128.load(a + bin, 16);
          const bRe = v128.load(b + bin);
          const bIm = v128.load(b + bin, 16);
          const cRe = v128.load(c + bin);
          const cIm = v128.load(c + bin, 16);
          const dRe = v128.load(d + bin);
          const dIm = v128.load(d + bin, 16);
          v128.store(sum + bin, add(v128.load(sum + bin), add(productRe(aRe, aIm, bRe, bIm), productRe(cRe, cIm, dRe, dIm))));
          v128.store(sum + bin, add(v128.load(sum + bin, 16), add(productIm(aRe, aIm, bRe, bIm), productIm(cRe, cIm, dRe, dIm))), 16);
        }
      } else {
        for (let bin: usize = from; bin < to; bin += 32) {
          const aRe = v128.load(a + bin);
          const aIm = v128.load(a + bin, 16);
          const bRe = v128.load(b + bin);
          const bIm = v128.load(b + bin, 16);
          v128.store(sum + bin, add(v128.load(sum + bin), productRe(aRe, aIm, bRe, bIm)));
          v128.store(sum + bin, add(v128.load(sum + bin, 16), productIm(aRe, aIm, bRe, bIm)), 16);
        }
      }
    }
  }
}

/** Adds `frames` samples at `from`, a multiple of four, to those at `sum`. */
export function addTo(sum: usize, from: usize, frames: i32): void {
  const last: usize = sum + ((<usize>frames) << 2);
  for (; sum < last; sum += 16, from += 16) v128.store(sum, add(v128.load(sum), v128.load(from)));
}
