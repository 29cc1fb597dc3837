import { sharedBySize } from './shared-by-size';

/** A transform of a length that is made once and used by all who do not keep one: its tables take longer than a transform. */
export const sharedFft = sharedBySize((size) => new RealFft(size));

/**
 * Fast Fourier transform of real signals whose length is a power of two, in Float64: a complex decimation-in-time transform of half the
 * length (radix 4, with one radix-2 stage where that is needed), then the usual split into a real spectrum (Sorensen et al. 1987).
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
  /** For every stage of radix 4 the factors w, w², w³ of its butterflies, real and imaginary, in the order in which they are used. */
  private readonly turns: readonly Float64Array[];

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
    const turns: Float64Array[] = [];
    for (let length = firstLength(this.half) * 4; length <= this.half; length *= 4) turns.push(stageTurns(length));
    this.turns = turns;
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
    const { half, re, im } = this;
    let length = firstLength(half);
    if (length === 2) {
      for (let i = 0; i < half; i += 2) {
        const aRe = re[i]!;
        const aIm = im[i]!;
        re[i] = aRe + re[i + 1]!;
        im[i] = aIm + im[i + 1]!;
        re[i + 1] = aRe - re[i + 1]!;
        im[i + 1] = aIm - im[i + 1]!;
      }
    }
    for (const turns of this.turns) {
      this.radix4(length, turns, direction);
      length *= 4;
    }
  }

  /** Joins four transforms of `quarter` numbers each into one, everywhere. In bit-reversed order the second and the third have changed places. */
  private radix4(quarter: number, turns: Float64Array, direction: 1 | -1): void {
    const { half, re, im } = this;
    for (let start = 0; start < half; start += 4 * quarter) {
      for (let k = 0, turn = 0; k < quarter; k++, turn += 6) {
        const a = start + k;
        const c = a + quarter;
        const b = c + quarter;
        const d = b + quarter;
        const w1Re = turns[turn]!;
        const w1Im = direction * turns[turn + 1]!;
        const w2Re = turns[turn + 2]!;
        const w2Im = direction * turns[turn + 3]!;
        const w3Re = turns[turn + 4]!;
        const w3Im = direction * turns[turn + 5]!;
        const bRe = re[b]! * w1Re - im[b]! * w1Im;
        const bIm = re[b]! * w1Im + im[b]! * w1Re;
        const cRe = re[c]! * w2Re - im[c]! * w2Im;
        const cIm = re[c]! * w2Im + im[c]! * w2Re;
        const dRe = re[d]! * w3Re - im[d]! * w3Im;
        const dIm = re[d]! * w3Im + im[d]! * w3Re;
        const sumRe = re[a]! + cRe;
        const sumIm = im[a]! + cIm;
        const diffRe = re[a]! - cRe;
        const diffIm = im[a]! - cIm;
        const otherRe = bRe + dRe;
        const otherIm = bIm + dIm;
        // (b - d) turned by a quarter, back or on.
        const sideRe = direction * (bIm - dIm);
        const sideIm = direction * (dRe - bRe);
        re[a] = sumRe + otherRe;
        im[a] = sumIm + otherIm;
        re[c] = diffRe + sideRe;
        im[c] = diffIm + sideIm;
        re[b] = sumRe - otherRe;
        im[b] = sumIm - otherIm;
        re[d] = diffRe - sideRe;
        im[d] = diffIm - sideIm;
      }
    }
  }
}

/** Numbers that the first stage joins: two where fours alone do not make up the whole, else none. */
function firstLength(half: number): 1 | 2 {
  return Math.log2(half) % 2 === 0 ? 1 : 2;
}

/** exp(-2πik / length) and its square and cube, for k below a quarter of the length. */
function stageTurns(length: number): Float64Array {
  const turns = new Float64Array((length / 4) * 6);
  for (let k = 0; k < length / 4; k++)
    for (let power = 1; power <= 3; power++) {
      const angle = (-2 * Math.PI * k * power) / length;
      turns[6 * k + 2 * power - 2] = Math.cos(angle);
      turns[6 * k + 2 * power - 1] = Math.sin(angle);
    }
  return turns;
}

/** Hann window of `size` samples, periodic (for transforms), not symmetric. */
export function hannWindow(size: number): Float64Array {
  const window = new Float64Array(size);
  for (let i = 0; i < size; i++) window[i] = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / size);
  return window;
}
