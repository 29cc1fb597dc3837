/**
 * Fast Fourier transform of real signals whose length is a power of two, in Float64: a complex radix-2
 * decimation-in-time transform of half the length, then the usual split into a real spectrum (Sorensen et al. 1987).
 */
export class RealFft {
  /** Number of bins from DC to Nyquist: size / 2 + 1. */
  readonly bins: number;
  private readonly half: number;
  private readonly cosines: Float64Array;
  private readonly sines: Float64Array;
  private readonly reversed: Uint32Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;

  /** @param size transform length in samples, a power of two of at least 4. Throws RangeError otherwise. */
  constructor(readonly size: number) {
    if (size < 4 || (size & (size - 1)) !== 0) throw new RangeError(`The transform length ${size} is not a power of two.`);
    this.half = size / 2;
    this.bins = this.half + 1;
    this.cosines = new Float64Array(this.half);
    this.sines = new Float64Array(this.half);
    for (let i = 0; i < this.half; i++) {
      this.cosines[i] = Math.cos((2 * Math.PI * i) / size);
      this.sines[i] = Math.sin((2 * Math.PI * i) / size);
    }
    this.reversed = new Uint32Array(this.half);
    const bits = Math.log2(this.half);
    for (let i = 0; i < this.half; i++) {
      let value = 0;
      for (let bit = 0; bit < bits; bit++) if (i & (1 << bit)) value |= 1 << (bits - 1 - bit);
      this.reversed[i] = value;
    }
    this.re = new Float64Array(this.half);
    this.im = new Float64Array(this.half);
  }

  /** Writes the spectrum of `input` (`size` samples) into `re` and `im` (`bins` values each). */
  forward(input: ArrayLike<number>, re: Float64Array, im: Float64Array): void {
    const { half, cosines, sines, reversed, re: workRe, im: workIm } = this;
    for (let i = 0; i < half; i++) {
      const j = reversed[i]!;
      workRe[i] = input[2 * j]!;
      workIm[i] = input[2 * j + 1]!;
    }
    this.butterflies(1);
    for (let k = 0; k <= half; k++) {
      const a = k === half ? 0 : k;
      const b = k === 0 ? 0 : half - k;
      const evenRe = (workRe[a]! + workRe[b]!) / 2;
      const evenIm = (workIm[a]! - workIm[b]!) / 2;
      const oddRe = (workIm[a]! + workIm[b]!) / 2;
      const oddIm = (workRe[b]! - workRe[a]!) / 2;
      const c = k === half ? -1 : cosines[k]!;
      const s = k === half ? 0 : sines[k]!;
      re[k] = evenRe + oddRe * c + oddIm * s;
      im[k] = evenIm + oddIm * c - oddRe * s;
    }
  }

  /** Writes the signal whose spectrum is `re`, `im` into `output`; the exact inverse of `forward`. */
  inverse(re: ArrayLike<number>, im: ArrayLike<number>, output: Float32Array | Float64Array): void {
    const { half, cosines, sines, reversed, re: workRe, im: workIm } = this;
    for (let i = 0; i < half; i++) {
      const k = reversed[i]!;
      const evenRe = (re[k]! + re[half - k]!) / 2;
      const evenIm = (im[k]! - im[half - k]!) / 2;
      const diffRe = (re[k]! - re[half - k]!) / 2;
      const diffIm = (im[k]! + im[half - k]!) / 2;
      const oddRe = diffRe * cosines[k]! - diffIm * sines[k]!;
      const oddIm = diffIm * cosines[k]! + diffRe * sines[k]!;
      workRe[i] = evenRe - oddIm;
      workIm[i] = evenIm + oddRe;
    }
    this.butterflies(-1);
    for (let i = 0; i < half; i++) {
      output[2 * i] = workRe[i]! / half;
      output[2 * i + 1] = workIm[i]! / half;
    }
  }

  private butterflies(direction: 1 | -1): void {
    const { half, re, im, cosines, sines } = this;
    for (let length = 2; length <= half; length *= 2) {
      const quarter = length / 2;
      const step = (2 * half) / length;
      for (let start = 0; start < half; start += length) {
        for (let k = 0; k < quarter; k++) {
          const c = cosines[k * step]!;
          const s = -direction * sines[k * step]!;
          const i = start + k;
          const j = i + quarter;
          const productRe = re[j]! * c - im[j]! * s;
          const productIm = re[j]! * s + im[j]! * c;
          re[j] = re[i]! - productRe;
          im[j] = im[i]! - productIm;
          re[i] = re[i]! + productRe;
          im[i] = im[i]! + productIm;
        }
      }
    }
  }
}

/** Hann window of `size` samples, periodic (for transforms), not symmetric. */
export function hannWindow(size: number): Float64Array {
  const window = new Float64Array(size);
  for (let i = 0; i < size; i++) window[i] = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size);
  return window;
}
