import type { Frames } from '../units';

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

/** One channel of one section. State is kept in Float64; changed coefficients are reached in a straight line over `glideFrames`. */
export class Section {
  private first = 0;
  private second = 0;
  private readonly now: SectionCoefficients = { ...passThrough };
  private readonly target: SectionCoefficients = { ...passThrough };
  private remaining = 0;
  private fresh = true;

  constructor(private readonly glideFrames: Frames) {}

  /** Forgets the sound; the next coefficients are taken over at once. */
  reset(): void {
    this.first = 0;
    this.second = 0;
    this.fresh = true;
  }

  aim(target: Readonly<SectionCoefficients>): void {
    Object.assign(this.target, target);
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

  /** True when the coefficients stand still. */
  get steady(): boolean {
    return this.remaining === 0;
  }

  /**
   * Filters the first `frames` samples with two steady sections in one pass. Bit for bit what one after the other gives, but while
   * one section waits for its own last value the processor computes the other.
   */
  static processPair(first: Section, second: Section, samples: Float32Array, frames: Frames): void {
    const { g: ga, k: ka, m0: a0, m1: a1, m2: a2 } = first.now;
    const { g: gb, k: kb, m0: b0, m1: b1, m2: b2 } = second.now;
    const ca = 1 / (1 + ga * (ga + ka));
    const da = ga * ca;
    const cb = 1 / (1 + gb * (gb + kb));
    const db = gb * cb;
    let sa1 = first.first;
    let sa2 = first.second;
    let sb1 = second.first;
    let sb2 = second.second;
    for (let i = 0; i < frames; i++) {
      const input = samples[i]!;
      const bandA = ca * sa1 + da * (input - sa2);
      const lowA = sa2 + ga * bandA;
      sa1 = 2 * bandA - sa1;
      sa2 = 2 * lowA - sa2;
      // Rounded as it would be between two passes.
      const middle = Math.fround(a0 * input + a1 * bandA + a2 * lowA);
      const bandB = cb * sb1 + db * (middle - sb2);
      const lowB = sb2 + gb * bandB;
      sb1 = 2 * bandB - sb1;
      sb2 = 2 * lowB - sb2;
      samples[i] = b0 * middle + b1 * bandB + b2 * lowB;
    }
    first.keep(sa1, sa2);
    second.keep(sb1, sb2);
  }

  /** Filters `samples[from…to)` in place. */
  process(samples: Float32Array, from: Frames, to: Frames): void {
    const middle = Math.min(to, from + this.remaining);
    if (middle > from) this.processMoving(samples, from, middle);
    if (to > middle) this.processSteady(samples, middle, to);
    this.keep(this.first, this.second);
  }

  /** Keeps the state for the next block. While it decays it must not crawl through denormal numbers, which some processors compute slowly. */
  private keep(first: number, second: number): void {
    this.first = Math.abs(first) < 1e-30 ? 0 : first;
    this.second = Math.abs(second) < 1e-30 ? 0 : second;
  }

  private processSteady(samples: Float32Array, from: Frames, to: Frames): void {
    const { g, k, m0, m1, m2 } = this.now;
    let s1 = this.first;
    let s2 = this.second;
    const a1 = 1 / (1 + g * (g + k));
    const a2 = g * a1;
    for (let i = from; i < to; i++) {
      const input = samples[i]!;
      const band = a1 * s1 + a2 * (input - s2);
      const low = s2 + g * band;
      s1 = 2 * band - s1;
      s2 = 2 * low - s2;
      samples[i] = m0 * input + m1 * band + m2 * low;
    }
    this.first = s1;
    this.second = s2;
  }

  private processMoving(samples: Float32Array, from: Frames, to: Frames): void {
    const { now, target } = this;
    let s1 = this.first;
    let s2 = this.second;
    for (let i = from; i < to; i++) {
      const part = 1 / this.remaining--;
      now.g += (target.g - now.g) * part;
      now.k += (target.k - now.k) * part;
      now.m0 += (target.m0 - now.m0) * part;
      now.m1 += (target.m1 - now.m1) * part;
      now.m2 += (target.m2 - now.m2) * part;
      const input = samples[i]!;
      const band = (s1 + now.g * (input - s2)) / (1 + now.g * (now.g + now.k));
      const low = s2 + now.g * band;
      s1 = 2 * band - s1;
      s2 = 2 * low - s2;
      samples[i] = now.m0 * input + now.m1 * band + now.m2 * low;
    }
    if (this.remaining === 0) Object.assign(now, target);
    this.first = s1;
    this.second = s2;
  }
}
