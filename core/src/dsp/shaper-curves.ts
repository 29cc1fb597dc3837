import type { CompiledCurves } from './compiled/compiled-curves';
import { compiledCurves } from './compiled/compiled-curves';
import { foldedArea, logCosh, warmBias } from './curve-areas';
import { getKernels } from './compiled/kernels';
import { Glide } from './glide';
import type { Shaper } from './shaper';

/** A static curve with its first and, where it has corners, its second antiderivative. */
export interface ShaperFunction {
  readonly value: (x: number) => number;
  readonly first: (x: number) => number;
  readonly second?: (x: number) => number;
}

const biased = Math.tanh(warmBias);

const curves = {
  /** Round saturation. */
  soft: { value: Math.tanh, first: logCosh },
  /** Saturation whose two sides differ, which adds even harmonics. */
  warm: { value: (x) => Math.tanh(x + warmBias) - biased, first: (x) => logCosh(x + warmBias) - biased * x },
  /** Straight to full scale, flat from there. */
  hard: {
    value: (x) => (x > 1 ? 1 : x < -1 ? -1 : x),
    first: (x) => (x > 1 ? x - 0.5 : x < -1 ? -x - 0.5 : (x * x) / 2),
    second: (x) => (x > 1 ? (x * x) / 2 - x / 2 + 1 / 6 : x < -1 ? (-x * x) / 2 - x / 2 - 1 / 6 : (x * x * x) / 6),
  },
  /** Turns back at full scale, over and over. */
  fold: { value: (x) => Math.sin((x * Math.PI) / 2), first: foldedArea },
  /** Turns the lower half up: an octave above everything. */
  rectify: {
    value: (x) => Math.min(1, Math.abs(x)),
    first: (x) => (Math.abs(x) > 1 ? Math.sign(x) * (Math.abs(x) - 0.5) : (x * Math.abs(x)) / 2),
    second: (x) => {
      const size = Math.abs(x);
      return size > 1 ? (size * size) / 2 - size / 2 + 1 / 6 : (size * size * size) / 6;
    },
  },
} satisfies Record<string, ShaperFunction>;

export type ShaperCurve = keyof typeof curves;
export const shaperCurves: readonly ShaperCurve[] = ['soft', 'warm', 'hard', 'fold', 'rectify'];

export function isShaperCurve(name: string): name is ShaperCurve {
  return Object.hasOwn(curves, name);
}

/** Value of a curve, for drawing it. */
export function shapedValue(curve: ShaperCurve | ShaperFunction, x: number): number {
  return (typeof curve === 'string' ? curves[curve] : curve).value(x);
}

/** For so many samples one curve fades over to the other. */
const fadeSamples = 4_096;

/** Inputs nearer to each other than this are one: their quotient would only be rounding errors. */
const nearFirst = 1e-5;
const nearSecond = 1e-3;

/**
 * A static curve with antiderivative antialiasing: of the first order (Parker, Zavalishin & Le Bivic 2016) where the curve is smooth, of
 * the second (Bilbao et al. 2017) where it has corners. It lags one sample; curves of the first order half of one, which is made up
 * for by averaging neighbours.
 */
export class CurveShaper implements Shaper {
  private readonly kernels = getKernels();
  private readonly compiled = this.kernels && compiledCurves(this.kernels);
  /** Of curves that the kernels know. */
  private name: ShaperCurve | undefined = 'soft';
  private curve: ShaperFunction = curves.soft;
  private x1 = 0;
  private x2 = 0;
  private f1 = 0;
  private s1 = 0;
  private slope1 = 0;
  private held = 0;
  /** True until there was sound. */
  private fresh = true;
  /** The curve before the latest change, and for how many samples it is still heard. */
  private former: CurveShaper | undefined;
  private fading = 0;
  private formerSamples = new Float32Array(0);
  /** What is added to every sample before the curve, for the next samples. */
  private readonly bias = new Glide(fadeSamples);
  private biases = new Float64Array(0);

  /** Changes the curve; while there is sound, it fades over from one to the other. */
  use(curve: ShaperCurve | ShaperFunction): void {
    const chosen = typeof curve === 'string' ? curves[curve] : curve;
    if (chosen === this.curve) return;
    if (!this.fresh) this.fadeFromHere();
    this.name = typeof curve === 'string' ? curve : undefined;
    this.curve = chosen;
    this.prepare();
  }

  /** Shifts what comes along the curve; silence stays silent. */
  lean(bias: number): void {
    // As the samples have it, or silence would not be where it is taken for.
    const rounded = Math.fround(bias);
    this.bias.aim(rounded);
    if (!this.fresh || this.x1 === rounded) return;
    this.x1 = this.x2 = rounded;
    this.prepare();
  }

  reset(): void {
    this.x1 = this.x2 = 0;
    this.bias.reset();
    this.fresh = true;
    this.fading = 0;
    this.prepare();
  }

  private fadeFromHere(): void {
    if (this.formerSamples.length === 0) this.formerSamples = new Float32Array(fadeSamples);
    this.former ??= new CurveShaper();
    this.former.continueFrom(this);
    this.fading = fadeSamples;
  }

  private continueFrom({ name, curve, x1, x2, f1, s1, slope1, held }: CurveShaper): void {
    this.name = name;
    this.curve = curve;
    this.x1 = x1;
    this.x2 = x2;
    this.f1 = f1;
    this.s1 = s1;
    this.slope1 = slope1;
    this.held = held;
  }

  private prepare(): void {
    const { curve, x1, x2 } = this;
    this.f1 = curve.first(x1);
    this.held = this.steady(x1);
    if (!curve.second) return;
    this.s1 = curve.second(x1);
    this.slope1 = Math.abs(x1 - x2) < nearSecond ? shortSlope(curve, x1, x2) : (this.s1 - curve.second(x2)) / (x1 - x2);
  }

  /** Samples that lie in the kernels' memory are shaped by the kernel, all others here. */
  shape(samples: Float32Array, from: number, count: number): void {
    this.fresh = false;
    const leans = this.bias.moving || this.bias.current !== 0;
    if (leans) this.fillBiases(count);
    if (this.fading === 0) this.shapeLeaning(samples, from, count, leans ? this.biases : undefined);
    else this.shapeFading(samples, from, Math.min(count, this.fading), count, leans ? this.biases : undefined);
  }

  private fillBiases(count: number): void {
    if (this.biases.length < count) this.biases = new Float64Array(count);
    this.bias.fill(this.biases, count);
  }

  private shapeFading(samples: Float32Array, from: number, fading: number, count: number, biases: Float64Array | undefined): void {
    const { former, formerSamples } = this;
    for (let i = 0; i < fading; i++) formerSamples[i] = samples[from + i]!;
    former?.shapeLeaning(formerSamples, 0, fading, biases);
    this.shapeLeaning(samples, from, count, biases);
    for (let i = 0; i < fading; i++) {
      const share = this.fading-- / fadeSamples;
      samples[from + i] = samples[from + i]! + (formerSamples[i]! - samples[from + i]!) * share;
    }
  }

  private shapeLeaning(samples: Float32Array, from: number, count: number, biases: Float64Array | undefined): void {
    if (!biases) {
      this.shapeAlone(samples, from, count);
      return;
    }
    for (let i = 0; i < count; i++) samples[from + i]! += biases[i]!;
    this.shapeAlone(samples, from, count);
    let [bias, rest] = [NaN, 0];
    for (let i = 0; i < count; i++) {
      if (biases[i] !== bias) {
        bias = biases[i]!;
        rest = Math.fround(this.steady(bias));
      }
      samples[from + i]! -= rest;
    }
  }

  /** What comes out while `x` goes in and does not move. */
  private steady(x: number): number {
    const { name, compiled } = this;
    return compiled && (name === 'soft' || name === 'warm' || name === 'fold') && Math.abs(x) <= 1
      ? compiled.steady(name, x)
      : this.curve.value(x);
  }

  private shapeAlone(samples: Float32Array, from: number, count: number): void {
    const { kernels, compiled } = this;
    if (compiled && this.name && samples.buffer === kernels?.samples().buffer) this.shapeCompiled(compiled, this.name, from * 4, count);
    else for (let i = from; i < from + count; i++) samples[i] = this.next(samples[i]!);
  }

  private shapeCompiled(compiled: CompiledCurves, name: ShaperCurve, at: number, count: number): void {
    if (name === 'hard' || name === 'rectify') {
      const state = compiled.state(this.x1, this.x2, this.s1, this.slope1);
      compiled.cornered(name, at, count);
      this.x1 = state[0]!;
      this.x2 = state[1]!;
      this.s1 = state[2]!;
      this.slope1 = state[3]!;
    } else {
      const state = compiled.state(this.x1, this.f1, this.held, 0);
      compiled.tabled(name, at, count);
      this.x1 = state[0]!;
      this.f1 = state[1]!;
      this.held = state[2]!;
    }
  }

  private next(x: number): number {
    const { curve } = this;
    return curve.second ? this.nextSecond(x, curve.second) : this.nextFirst(x);
  }

  private nextFirst(x: number): number {
    const { curve, x1 } = this;
    const f = curve.first(x);
    const value = Math.abs(x - x1) < nearFirst ? curve.value((x + x1) / 2) : (f - this.f1) / (x - x1);
    this.x1 = x;
    this.f1 = f;
    const output = (value + this.held) / 2;
    this.held = value;
    return output;
  }

  private nextSecond(x: number, second: (x: number) => number): number {
    const { curve, x1, x2 } = this;
    const s = second(x);
    const slope = Math.abs(x - x1) < nearSecond ? shortSlope(curve, x, x1) : (s - this.s1) / (x - x1);
    let output: number;
    if (Math.abs(x - x2) >= nearSecond) output = (2 * (slope - this.slope1)) / (x - x2);
    else {
      const middle = (x + x2) / 2;
      const distance = middle - x1;
      output =
        Math.abs(distance) < nearSecond
          ? curve.value((2 * middle + x1) / 3)
          : (2 / distance) * (curve.first(middle) + (this.s1 - second(middle)) / distance);
    }
    this.x2 = x1;
    this.x1 = x;
    this.s1 = s;
    this.slope1 = slope;
    return output;
  }
}

/** Slope of the second antiderivative over a short way; exact where the curve is straight. */
function shortSlope(curve: ShaperFunction, x: number, x1: number): number {
  return curve.first((x + x1) / 2) + ((curve.value(x) - curve.value(x1)) * (x - x1)) / 24;
}
