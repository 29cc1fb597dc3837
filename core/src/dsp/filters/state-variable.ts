import type { Frames } from '../../units';

/**
 * A second-order section in topology-preserving state-variable form (Zavalishin 2012; Simper 2013), which stays free of clicks
 * while its coefficients move. `g` and `k` set the poles, `m0…m2` mix input, band and low outputs.
 */
export interface SectionCoefficients {
  g: number;
  k: number;
  m0: number;
  m1: number;
  m2: number;
}

/** The coefficients that change nothing. */
export const passThrough: Readonly<SectionCoefficients> = { g: 0.5, k: 1, m0: 1, m1: 0, m2: 0 };

/**
 * Converts a stable direct-form section (b0 + b1 z⁻¹ + b2 z⁻²) / (1 + a1 z⁻¹ + a2 z⁻²) to state-variable form with the same
 * transfer function.
 */
export function sectionFromBiquad(b0: number, b1: number, b2: number, a1: number, a2: number): SectionCoefficients {
  const atDc = 1 + a1 + a2;
  const atNyquist = 1 - a1 + a2;
  const g = Math.sqrt(atDc / atNyquist);
  const k = (2 * (1 - a2)) / (atNyquist * g);
  const m0 = (b0 - b1 + b2) / atNyquist;
  const m2 = (b0 + b1 + b2) / atDc - m0;
  const m1 = ((b0 - b2) * 4) / (atNyquist * 2 * g) - m0 * k;
  return { g, k, m0, m1, m2 };
}

function isPassThrough({ g, k, m0, m1, m2 }: Readonly<SectionCoefficients>): boolean {
  return g === passThrough.g && k === passThrough.k && m0 === 1 && m1 === 0 && m2 === 0;
}

/** States (a, b) and output (c) of a section whose coefficients stand still. */
interface SectionMatrix {
  a11: number;
  a12: number;
  a21: number;
  a22: number;
  b1: number;
  b2: number;
  c0: number;
  c1: number;
  c2: number;
}

/** One channel of one section. State is kept in Float64; changed coefficients are reached in a straight line over `glideFrames`. */
export class Section {
  private first = 0;
  private second = 0;
  private readonly now: SectionCoefficients = { ...passThrough };
  private readonly target: SectionCoefficients = { ...passThrough };
  private remaining = 0;
  private fresh = true;
  private readonly matrixNow: SectionMatrix = { a11: 0, a12: 0, a21: 0, a22: 0, b1: 0, b2: 0, c0: 0, c1: 0, c2: 0 };
  private matrixStale = true;

  constructor(private readonly glideFrames: Frames) {}

  /** Forgets the sound; the next coefficients are taken over at once. */
  reset(): void {
    this.first = 0;
    this.second = 0;
    this.fresh = true;
  }

  aim(target: Readonly<SectionCoefficients>): void {
    Object.assign(this.target, target);
    this.matrixStale = true;
    if (this.fresh) {
      Object.assign(this.now, target);
      this.remaining = 0;
      this.fresh = false;
    } else {
      this.remaining = this.glideFrames;
    }
  }

  /** True when the section changes nothing and will not soon. */
  get idle(): boolean {
    return this.remaining === 0 && this.now.m0 === 1 && this.now.m1 === 0 && this.now.m2 === 0;
  }

  /** Frames until the coefficients stand still. */
  get moving(): Frames {
    return this.remaining;
  }

  /**
   * Writes the section as one in the transposed direct form II with the same transfer function and the same sound on its way: b0, b1, b2,
   * a1, a2 and two states, into every `stride`th place from `at` on.
   */
  writeDirect(numbers: Float64Array, at: number, stride: number): void {
    const { a11, a12, a21, a22, b1, b2, c0, c1, c2 } = this.matrix();
    const d1 = -(a11 + a22);
    const d2 = a11 * a22 - a12 * a21;
    const direct = c1 * b1 + c2 * b2;
    const later = c1 * (a11 * b1 + a12 * b2) + c2 * (a21 * b1 + a22 * b2);
    numbers[at] = c0;
    numbers[at + stride] = c0 * d1 + direct;
    numbers[at + 2 * stride] = c0 * d2 + later + d1 * direct;
    numbers[at + 3 * stride] = d1;
    numbers[at + 4 * stride] = d2;
    const { t1, t2 } = this.secondDirectState(d1);
    numbers[at + 5 * stride] = c1 * this.first + c2 * this.second;
    numbers[at + 6 * stride] = t1 * this.first + t2 * this.second;
  }

  /** Takes over the states that such a section has come to. */
  readDirect(numbers: Float64Array, at: number, stride: number): void {
    const { c1, c2 } = this.matrix();
    const { t1, t2 } = this.secondDirectState(numbers[at + 3 * stride]!);
    const first = numbers[at + 5 * stride]!;
    const second = numbers[at + 6 * stride]!;
    const determinant = c1 * t2 - c2 * t1;
    // Where they cannot be told from what is heard, they are not heard.
    const told = Math.abs(determinant) > 1e-15;
    this.keep(told ? (first * t2 - second * c2) / determinant : 0, told ? (second * c1 - first * t1) / determinant : 0);
  }

  /** What the second state of the direct form is made of: the next output without input is −d1 times the first one, plus it. */
  private secondDirectState(d1: number): { readonly t1: number; readonly t2: number } {
    const { a11, a12, a21, a22, c1, c2 } = this.matrix();
    return { t1: c1 * a11 + c2 * a21 + d1 * c1, t2: c1 * a12 + c2 * a22 + d1 * c2 };
  }

  /** Filters `samples[from…to)` in place. */
  process(samples: Float32Array, from: Frames, to: Frames): void {
    const middle = Math.min(to, from + this.remaining);
    if (middle > from) {
      if (isPassThrough(this.now) && isPassThrough(this.target)) this.listen(samples, from, middle);
      else this.processMoving(samples, from, middle);
    }
    if (to > middle) this.processSteady(samples, middle, to);
    this.keep(this.first, this.second);
  }

  /** Keeps the state for the next block. While it decays it must not crawl through denormal numbers, which some processors compute slowly. */
  private keep(first: number, second: number): void {
    this.first = Math.abs(first) < 1e-30 ? 0 : first;
    this.second = Math.abs(second) < 1e-30 ? 0 : second;
  }

  private processSteady(samples: Float32Array, from: Frames, to: Frames): void {
    const { a11, a12, a21, a22, b1, b2, c0, c1, c2 } = this.matrix();
    let s1 = this.first;
    let s2 = this.second;
    for (let i = from; i < to; i++) {
      const input = samples[i]!;
      samples[i] = c0 * input + c1 * s1 + c2 * s2;
      const next1 = b1 * input + (a11 * s1 + a12 * s2);
      s2 = b2 * input + (a21 * s1 + a22 * s2);
      s1 = next1;
    }
    this.first = s1;
    this.second = s2;
  }

  /**
   * The steady section with all substitutions done: next states and output as sums over states and input. Half as many operations wait for
   * each other from sample to sample.
   */
  private matrix(): SectionMatrix {
    const { matrixNow: matrix } = this;
    if (!this.matrixStale) return matrix;
    this.matrixStale = false;
    const { g, k, m0, m1, m2 } = this.now;
    const damped = 1 / (1 + g * (g + k));
    const band = g * damped;
    matrix.a11 = 2 * damped - 1;
    matrix.a12 = -2 * band;
    matrix.b1 = 2 * band;
    matrix.a21 = 2 * g * damped;
    matrix.a22 = 1 - 2 * g * band;
    matrix.b2 = 2 * g * band;
    matrix.c0 = m0 + m1 * band + m2 * g * band;
    matrix.c1 = m1 * damped + m2 * g * damped;
    matrix.c2 = m2 - (m1 + m2 * g) * band;
    return matrix;
  }

  /** What changes nothing and is on its way to change nothing only keeps hearing, for when it is aimed elsewhere: `processMoving`, shortened. */
  private listen(samples: Float32Array, from: Frames, to: Frames): void {
    const { g, k } = passThrough;
    const damping = 1 + g * (g + k);
    let s1 = this.first;
    let s2 = this.second;
    for (let i = from; i < to; i++) {
      const band = (s1 + g * (samples[i]! - s2)) / damping;
      const low = s2 + g * band;
      s1 = 2 * band - s1;
      s2 = 2 * low - s2;
    }
    this.remaining -= to - from;
    this.first = s1;
    this.second = s2;
  }

  private processMoving(samples: Float32Array, from: Frames, to: Frames): void {
    const { now, target } = this;
    // Kept in variables on the way: objects would be written to with every sample.
    let { g, k, m0, m1, m2 } = now;
    const { g: toG, k: toK, m0: to0, m1: to1, m2: to2 } = target;
    let remaining = this.remaining;
    let s1 = this.first;
    let s2 = this.second;
    for (let i = from; i < to; i++) {
      const part = 1 / remaining--;
      g += (toG - g) * part;
      k += (toK - k) * part;
      m0 += (to0 - m0) * part;
      m1 += (to1 - m1) * part;
      m2 += (to2 - m2) * part;
      const input = samples[i]!;
      const band = (s1 + g * (input - s2)) / (1 + g * (g + k));
      const low = s2 + g * band;
      s1 = 2 * band - s1;
      s2 = 2 * low - s2;
      samples[i] = m0 * input + m1 * band + m2 * low;
    }
    this.remaining = remaining;
    if (remaining === 0) Object.assign(now, target);
    else {
      now.g = g;
      now.k = k;
      now.m0 = m0;
      now.m1 = m1;
      now.m2 = m2;
    }
    this.matrixStale = true;
    this.first = s1;
    this.second = s2;
  }
}
