import { foldedArea, logCosh, warmBias } from '../curve-areas';
import type { KernelBlock, Kernels } from './kernels';

/** The static curves as compiled: they shape samples in the kernels' memory in place (see core/kernels/shape.ts). */
export interface CompiledCurves {
  /** Writes what a shaper knows of the past; after a call, the same four places hold what it knows then. */
  state(a: number, b: number, c: number, d: number): Float64Array;
  cornered(curve: 'hard' | 'rectify', at: number, count: number): void;
  tabled(curve: 'soft' | 'warm' | 'fold', at: number, count: number): void;
  /** What comes out of a tabled curve while `x`, from -1 to 1, goes in and does not move, to the last digit. */
  steady(curve: 'soft' | 'warm' | 'fold', x: number): number;
}

/** Pieces of a table per unit: cubics of this length miss the curve by less than -140 dB. */
const density = 256;
/** From here on ln cosh x is x - ln 2 in double precision. */
const straightFrom = 20;
/** After so much the folded curve comes again. */
const foldPeriod = 4;

let curves: CompiledCurves | undefined;

export function compiledCurves(kernels: Kernels): CompiledCurves {
  return (curves ??= makeCurves(kernels));
}

function makeCurves(kernels: Kernels): CompiledCurves {
  const soft = table(kernels, straightFrom, logCosh, Math.tanh);
  const fold = table(kernels, foldPeriod, foldedArea, (x) => Math.sin((x * Math.PI) / 2));
  const past = kernels.allocate(64);
  // The slopes that the kernel finds, to the last digit: silence must stay silent.
  const level = slopeAt(kernels, soft, warmBias);
  let view = new Float64Array(0);
  return {
    state(a, b, c, d) {
      // Memory that has grown has another buffer.
      if (view.buffer !== kernels.doubles().buffer) view = kernels.doubles().subarray(past.at / 8, past.at / 8 + 4);
      view[0] = a;
      view[1] = b;
      view[2] = c;
      view[3] = d;
      return view;
    },
    steady(curve, x) {
      const middle = curve === 'warm' ? x + warmBias : x;
      const slope = slopeAt(kernels, curve === 'fold' ? fold : soft, Math.abs(middle));
      return (middle < 0 ? -slope : slope) - (curve === 'warm' ? level : 0);
    },
    cornered: (curve, at, count) => kernels.shapeCornered(at, count, past.at, curve === 'rectify'),
    tabled(curve, at, count) {
      if (curve === 'fold') kernels.shapeTabled(at, count, past.at, fold.at, foldPeriod * density, density, true, 0, 0);
      else {
        const pieces = straightFrom * density + 1;
        const warm = curve === 'warm';
        kernels.shapeTabled(at, count, past.at, soft.at, pieces, density, false, warm ? warmBias : 0, warm ? level : 0);
      }
    },
  };
}

/** Cubic pieces with the values and slopes of a function at their ends (Hermite), from 0 to `end`, and one more that is a line. */
function table(kernels: Kernels, end: number, value: (x: number) => number, slope: (x: number) => number): KernelBlock {
  const pieces = end * density;
  const block = kernels.allocate((pieces + 1) * 32);
  const coefficients = kernels.doubles();
  let at = block.at / 8;
  for (let piece = 0; piece < pieces; piece++, at += 4) {
    const x = piece / density;
    const next = (piece + 1) / density;
    const rise = value(next) - value(x);
    const [start, stop] = [slope(x) / density, slope(next) / density];
    coefficients.set([value(x), start, 3 * rise - 2 * start - stop, start + stop - 2 * rise], at);
  }
  coefficients.set([value(end), slope(end) / density, 0, 0], at);
  return block;
}

/** Slope of a tabled function, worked out as the kernel does. */
function slopeAt(kernels: Kernels, { at }: KernelBlock, x: number): number {
  const scaled = x * density;
  const piece = Math.floor(scaled);
  const t = scaled - piece;
  const [, c1, c2, c3] = kernels.doubles().subarray(at / 8 + 4 * piece);
  return density * (c1! + t * (2 * c2! + t * 3 * c3!));
}
