const sectionCount = 12;
/** Width of the transition around DC as a part of the sampling rate: 29 Hz at 48 kHz. */
const transition = 0.0006;

/**
 * Coefficients of the all-pass sections of an elliptic half-band filter (Valenzuela & Constantinides, "Digital Signal Processing Schemes
 * for Efficient Interpolation and Decimation", 1983), by series in the nome `q`.
 */
function halfBandCoefficients(count: number): number[] {
  const root = Math.tan(((1 - transition * 2) * Math.PI) / 4);
  const k = root * root;
  const complement = Math.pow(1 - k * k, 0.25);
  const e = (0.5 * (1 - complement)) / (1 + complement);
  const e4 = e ** 4;
  const q = e * (1 + e4 * (2 + e4 * (15 + 150 * e4)));
  const order = count * 2 + 1;
  return Array.from({ length: count }, (_, index) => {
    const c = index + 1;
    let top = 0;
    let bottom = 0.5;
    for (let i = 0; i < 40; i++) {
      const sign = i % 2 ? -1 : 1;
      top += sign * Math.pow(q, i * (i + 1)) * Math.sin(((i * 2 + 1) * c * Math.PI) / order);
      if (i > 0) bottom += sign * Math.pow(q, i * i) * Math.cos((i * 2 * c * Math.PI) / order);
    }
    const w = (top * Math.pow(q, 0.25)) / bottom;
    const w2 = w * w;
    const x = Math.sqrt((1 - w2 * k) * (1 - w2 / k)) / (1 + w2);
    return (1 - x) / (1 + x);
  });
}

const coefficients = halfBandCoefficients(sectionCount);

/** One path of second-order all-passes (a - z⁻²) / (1 - a z⁻²). */
class AllPassPath {
  private readonly states: Float64Array;

  constructor(private readonly factors: readonly number[]) {
    this.states = new Float64Array(2 * (factors.length + 1));
  }

  reset(): void {
    this.states.fill(0);
  }

  next(input: number): number {
    const { factors, states } = this;
    let x = input;
    for (let i = 0; i < factors.length; i++) {
      const at = 2 * i;
      // States of neighbouring sections are the output of one and the input of the next.
      const y = factors[i]! * (x + states[at + 3]!) - states[at + 1]!;
      states[at + 1] = states[at]!;
      states[at] = Math.abs(x) < 1e-30 ? 0 : x;
      x = y;
    }
    const last = 2 * factors.length;
    states[last + 1] = states[last]!;
    states[last] = Math.abs(x) < 1e-30 ? 0 : x;
    return x;
  }
}

/**
 * Splits a signal into two of equal magnitude whose phases are a quarter of a period apart from about 15 Hz up: two paths of all-passes
 * of an elliptic half-band filter, turned by a quarter of the sampling rate.
 */
export class Quadrature {
  /** The signal, and the one a quarter of a period later, after `next`. */
  real = 0;
  imaginary = 0;
  private readonly even = new AllPassPath(coefficients.filter((_, i) => i % 2 === 0));
  private readonly odd = new AllPassPath(coefficients.filter((_, i) => i % 2 === 1));
  private before = 0;

  reset(): void {
    this.even.reset();
    this.odd.reset();
    this.before = this.real = this.imaginary = 0;
  }

  next(sample: number): void {
    this.real = this.even.next(sample);
    this.imaginary = this.odd.next(this.before);
    this.before = sample;
  }
}
