import type { Decibels, Frames, Hertz, Ratio } from '../../units';

/** The slope holds from here on; below it, noise levels out. */
const lowest: Hertz = 12;
/** One pole and one zero for so many octaves. */
const spacing = 2;
const pairs = 6;
const tiny = 1e-30;
/** How densely the power of slopes is known, in decibels per octave. */
const slopeStep: Decibels = 0.25;

/**
 * Tilts white noise to a slope of −12 to +6 dB per octave from 20 Hz up: poles and zeros that alternate along the logarithmic axis, shifted against each
 * other by as much as the slope asks for (J. O. Smith & H. F. Smith, Closed form fractional integration, 2016). With `gain`, the power of white noise is kept.
 */
export class NoiseTilt {
  private readonly a = new Float64Array(2 * pairs);
  private readonly b = new Float64Array(2 * pairs);
  /** Of each pair, so that the lowest frequencies pass as they are. */
  private readonly scale = new Float64Array(2 * pairs);
  private readonly state = new Float64Array(2 * pairs);
  /** Noise that goes in must be scaled by it, so that its power is kept. */
  gain: Ratio = 1;
  private slope: Decibels = NaN;
  /** How many pairs are at work. */
  private used = pairs;

  constructor(private readonly sampleRate: Hertz) {}

  reset(): void {
    this.state.fill(0);
  }

  /** @param slope in decibels per octave */
  tilt(slope: Decibels): void {
    if (slope === this.slope) return;
    this.slope = slope;
    this.used = place(slope, this.sampleRate, this.a, this.b);
    for (let s = 0; s < this.used; s++) this.scale[s] = (1 - this.a[s]!) / (1 - this.b[s]!);
    const step = Math.floor(slope / slopeStep);
    const below = powerAt(step, this.sampleRate);
    const above = powerAt(step + 1, this.sampleRate);
    this.gain = Math.pow(below, -0.5 * (1 - (slope / slopeStep - step))) * Math.pow(above, -0.5 * (slope / slopeStep - step));
  }

  process(samples: Float64Array, from: Frames, to: Frames): void {
    if (this.slope === 0) return;
    const { a, b, state, scale } = this;
    // Three at a time: what each waits for by itself, they wait for together.
    for (let s = 0; s < this.used; s += 3) {
      const a0 = a[s]!;
      const a1 = a[s + 1]!;
      const a2 = a[s + 2]!;
      const b0 = b[s]!;
      const b1 = b[s + 1]!;
      const b2 = b[s + 2]!;
      const whole = scale[s]! * scale[s + 1]! * scale[s + 2]!;
      let m0 = state[s]!;
      let m1 = state[s + 1]!;
      let m2 = state[s + 2]!;
      for (let i = from; i < to; i++) {
        const n0 = samples[i]! + a0 * m0;
        const n1 = n0 - b0 * m0 + a1 * m1;
        const n2 = n1 - b1 * m1 + a2 * m2;
        samples[i] = whole * (n2 - b2 * m2);
        m0 = n0;
        m1 = n1;
        m2 = n2;
      }
      state[s] = Math.abs(m0) < tiny ? 0 : m0;
      state[s + 1] = Math.abs(m1) < tiny ? 0 : m1;
      state[s + 2] = Math.abs(m2) < tiny ? 0 : m2;
    }
  }
}

/** Places poles and zeros for a slope; returns how many pairs of them are needed. */
function place(slope: Decibels, sampleRate: Hertz, a: Float64Array, b: Float64Array): number {
  // One row takes at most the slope of one pole.
  const rows = Math.abs(slope) > 6 ? 2 : 1;
  const exponent = slope / (rows * 20 * Math.log10(2));
  const root = (frequency: Hertz): number => {
    const t = Math.tan(Math.min(1.55, (Math.PI * frequency) / sampleRate));
    return (1 - t) / (1 + t);
  };
  for (let i = 0; i < pairs; i++) {
    const pole = lowest * Math.pow(2, i * spacing);
    a[i] = a[i + pairs] = root(pole);
    b[i] = b[i + pairs] = root(pole * Math.pow(2, -exponent * spacing));
  }
  return rows * pairs;
}

const powers = new Map<string, number>();

/** Mean power of what a slope makes of white noise of power 1. It takes long to compute, so it is known from step to step. */
function powerAt(step: number, sampleRate: Hertz): number {
  const key = `${step} ${sampleRate}`;
  const known = powers.get(key);
  if (known !== undefined) return known;
  const a = new Float64Array(2 * pairs);
  const b = new Float64Array(2 * pairs);
  const used = place(step * slopeStep, sampleRate, a, b);
  const bins = 4_096;
  let sum = 0;
  for (let k = 0; k < bins; k++) {
    const cos = Math.cos((Math.PI * (k + 0.5)) / bins);
    let power = 1;
    for (let i = 0; i < used; i++)
      power *= ((1 - a[i]!) ** 2 * (1 + b[i]! ** 2 - 2 * b[i]! * cos)) / ((1 - b[i]!) ** 2 * (1 + a[i]! ** 2 - 2 * a[i]! * cos));
    sum += power;
  }
  powers.set(key, sum / bins);
  return sum / bins;
}

/** Level of steady noise as a part of full scale (root of the mean square), so that its peaks stay below it. */
export const steadyLevel = 0.25;

/** The gain of white noise of power one that makes a band of it as loud as steady noise, however narrow: what `VoiceFilter` lets through as a band-pass. */
export function bandGain(frequency: Hertz, resonance: number, sampleRate: Hertz): number {
  // How wide the band is, as a part of its frequency.
  const share = Math.SQRT2 * Math.pow(0.02 / Math.SQRT2, resonance);
  return steadyLevel * Math.min(12, Math.sqrt(sampleRate / (4 * Math.max(40, frequency) * share)));
}
