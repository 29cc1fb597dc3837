import type { Decibels, Hertz } from '../../units';

/**
 * A second-order analogue prototype (n0 + n1 s + n2 s²) / (d0 + d1 s + d2 s²) with s = jf / f0. The reference that digital EQ bands
 * are matched to and tested against.
 */
export interface AnaloguePrototype {
  readonly frequency: Hertz;
  readonly n: readonly [number, number, number];
  readonly d: readonly [number, number, number];
}

/** Squared magnitude of the prototype at `frequency`. */
export function analoguePower(prototype: AnaloguePrototype, frequency: Hertz): number {
  const w = frequency / prototype.frequency;
  const w2 = w * w;
  const { n, d } = prototype;
  const top = (n[0] - n[2] * w2) ** 2 + n[1] * n[1] * w2;
  const bottom = (d[0] - d[2] * w2) ** 2 + d[1] * d[1] * w2;
  return top / bottom;
}

/** Bell: `gain` at the centre, width by Q at the half-gain points (constant-Q symmetric for boost and cut). */
export function bell(frequency: Hertz, gain: Decibels, q: number): AnaloguePrototype {
  const a = Math.pow(10, gain / 40);
  return { frequency, n: [1, a / q, 1], d: [1, 1 / (a * q), 1] };
}

/** Low shelf: `gain` below, half of it at `frequency`; Q sets the slope. */
export function lowShelf(frequency: Hertz, gain: Decibels, q: number): AnaloguePrototype {
  const a = Math.pow(10, gain / 40);
  const root = Math.sqrt(a);
  return { frequency, n: [a * a, (a * root) / q, a], d: [1, root / q, a] };
}

/** High shelf: `gain` above, half of it at `frequency`; Q sets the slope. */
export function highShelf(frequency: Hertz, gain: Decibels, q: number): AnaloguePrototype {
  const a = Math.pow(10, gain / 40);
  const root = Math.sqrt(a);
  return { frequency, n: [a, (a * root) / q, a * a], d: [a, root / q, 1] };
}

/** Tilt: half of `gain` up on the high side, half of it down on the low side, turning at `frequency` (first order). */
export function tilt(frequency: Hertz, gain: Decibels): AnaloguePrototype {
  const a = Math.pow(10, gain / 80);
  return { frequency, n: [1 / a, a, 0], d: [a, 1 / a, 0] };
}

/** Band-pass with 0 dB at the centre. */
export function bandPass(frequency: Hertz, q: number): AnaloguePrototype {
  return { frequency, n: [0, 1 / q, 0], d: [1, 1 / q, 1] };
}

/** Notch: 40 dB down at the centre; a deeper hole is not heard, and costs accuracy beside it. */
export function notch(frequency: Hertz, q: number): AnaloguePrototype {
  return { frequency, n: [1, 0.01 / q, 1], d: [1, 1 / q, 1] };
}

/**
 * Butterworth high- or low-pass as second-order and, for odd orders, one first-order part; `slope` is 6 to 48 dB/oct in steps of 6.
 * `q` replaces the sharpest part's Q relative to Butterworth: 0.7071 leaves it alone, more makes a resonance.
 */
export function cut(kind: 'low' | 'high', frequency: Hertz, slope: number, q: number): AnaloguePrototype[] {
  const order = Math.max(1, Math.round(slope / 6));
  const parts: AnaloguePrototype[] = [];
  for (let i = 0; i < Math.floor(order / 2); i++) {
    const angle = (Math.PI * (2 * i + 1)) / (2 * order);
    const butterworth = 1 / (2 * Math.sin(angle));
    const damping = 1 / (i === 0 ? butterworth * (q / Math.SQRT1_2) : butterworth);
    parts.push({ frequency, n: kind === 'low' ? [0, 0, 1] : [1, 0, 0], d: [1, damping, 1] });
  }
  if (order % 2 === 1) parts.push({ frequency, n: kind === 'low' ? [0, 1, 0] : [1, 0, 0], d: [1, 1, 0] });
  return parts;
}
