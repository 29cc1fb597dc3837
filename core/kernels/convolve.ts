/**
 * Products of spectra for partitioned convolution, laid out as transform.ts leaves them. The reference in plain TypeScript is `PlainSpectra`
 * in src/dsp/plain-spectra.ts; tests compare the two.
 */

import { add, productIm, productRe } from './complex';

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
