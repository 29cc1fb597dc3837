import type { Hertz } from '../../units';
import type { AnaloguePrototype } from './analogue';
import { analoguePower } from './analogue';
import { leastSquares } from './linear-system';
import type { SectionCoefficients } from './state-variable';
import { passThrough, sectionFromBiquad } from './state-variable';

/**
 * Digital second-order sections whose cascade follows a cascade of analogue prototypes in magnitude up to the top of the audible
 * band, without the cramping of the bilinear transform: one section per prototype and, where they miss by more than a
 * hundredth of a decibel, one more that corrects the rest.
 *
 * The squared magnitude of a second-order section is a ratio of two parabolas in u = sin²(ω/2). Starting from the poles of impulse
 * invariance (Vicanek, "Matched Second Order Digital Filters", 2016), a few rounds of reweighted linear least squares
 * (Sanathanan & Koerner 1963) minimise the relative error against the prototype. Vicanek's spectral factorisation then gives the
 * minimum-phase section. The best of all rounds and of the plain bilinear design is taken.
 * @returns as many sections as prototypes plus one
 */
export function matchSections(prototypes: readonly AnaloguePrototype[], sampleRate: Hertz): SectionCoefficients[] {
  const sections: SectionCoefficients[] = [];
  const first = prototypes[0];
  if (!first) return [{ ...passThrough }];
  // What all sections together still miss, looked at around the first prototype.
  const rest = fillGrid(wholeGrid, first.frequency, sampleRate);
  rest.target.fill(1);
  const found: Powers[] = [];
  for (const prototype of prototypes) {
    const powers = matchPrototype(prototypes, found, sampleRate);
    found.push(powers);
    sections.push(sectionOf(powers));
    for (let i = 0; i < rest.count; i++) rest.target[i]! *= missed(prototype, powers, rest, i);
  }
  sections.push(correct(rest));
  return sections;
}

/** Matches the next of some prototypes together with what the sections before it have missed, so that misses of steep cuts do not add up. */
function matchPrototype(prototypes: readonly AnaloguePrototype[], before: readonly Powers[], sampleRate: Hertz): Powers {
  const prototype = prototypes[before.length]!;
  const grid = fillGrid(ownGrid, prototype.frequency, sampleRate);
  for (let i = 0; i < grid.count; i++) {
    let target = analoguePower(prototype, grid.frequencies[i]!);
    for (let s = 0; s < before.length; s++) target *= missed(prototypes[s]!, before[s]!, grid, i);
    grid.target[i] = Math.max(target, floor);
  }
  const start = candidate(bilinear(prototype, sampleRate), grid);
  return refine(start, impulseInvariantPoles(prototype, sampleRate), grid, lowestPower(prototype)).powers;
}

/** By what the power of a section is too low at a place of a grid. */
function missed(prototype: AnaloguePrototype, { top, bottom }: Powers, grid: Grid, place: number): number {
  const u = grid.u[place]!;
  return (analoguePower(prototype, grid.frequencies[place]!) + floor) / (valueAt(top, u) / valueAt(bottom, u) + floor);
}

function correct(grid: Grid): SectionCoefficients {
  const nothing = candidate({ top: [1, 0, 0], bottom: [1, 0, 0] }, grid);
  if (nothing.error < worthCorrecting) return { ...passThrough };
  const best = correctorPoles.reduce((found, poles) => refine(found, poles, grid, 0), nothing);
  return sectionOf(best.powers);
}

/** Pole pairs near the top of the band, where the first sections miss most. */
const correctorPoles: readonly Parabola[] = [
  powersOf(1, 0.9, 0.2),
  powersOf(1, 1.2, 0.5),
  powersOf(1, 0, 0),
  powersOf(1, 1.5, 0.7),
  powersOf(1, 0.6, 0.5),
];

/** Improves on `best` by fitting numerators and poles in turn. */
function refine(best: Candidate, start: Parabola, grid: Grid, lowest: number): Candidate {
  let poles = start;
  for (let round = 0; round < rounds && best.error > goodEnough; round++) {
    const numerator = fitNumerator(grid, lowest, poles);
    if (numerator) best = better(best, candidate(numerator, grid));
    const both = fitBoth(grid, lowest, poles);
    if (!both) break;
    best = better(best, candidate(both, grid));
    poles = both.bottom;
  }
  return best;
}

function sectionOf({ top, bottom }: Powers): SectionCoefficients {
  const [b0, b1, b2] = factor(top);
  const [a0, a1, a2] = factor(bottom);
  return sectionFromBiquad(b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0);
}

const rounds = 8;
/** Largest relative error of the squared magnitude after which no better fit is looked for (0.004 dB). */
const goodEnough = 0.001;
/** Largest relative error that is left uncorrected (0.02 dB). */
const worthCorrecting = 0.005;
/** Squared magnitudes below this (-140 dB) count as equal. */
const floor = 1e-14;
/** The fit looks this far up; above it the ear and the formula part ways anyway. */
const topOfBand: Hertz = 18_500;

/** c0 + c1 u + c2 u² with u = sin²(ω/2). */
type Parabola = readonly [number, number, number];

/** Squared magnitude of a section. */
interface Powers {
  readonly top: Parabola;
  readonly bottom: Parabola;
}

/** Where a fit is looked at; designs are made anew many times a second while an EQ is moved, so that they share their memory. */
interface Grid {
  readonly frequencies: Float64Array;
  /** sin²(ω/2) of each frequency. */
  readonly u: Float64Array;
  /** Squared magnitude of what is to be matched. */
  readonly target: Float64Array;
  count: number;
}

interface Candidate {
  readonly powers: Powers;
  /** Largest relative error of the squared magnitude over the grid. */
  readonly error: number;
}

/** Frequencies spread over the whole band, and around the centre: as many octaves away from it. */
const spread = 24;
const nearby = Float64Array.from({ length: 31 }, (_, n) => Math.pow(2, ((n - 15) * Math.abs(n - 15)) / 45));
const mostPoints = spread + nearby.length;
const mostUnknowns = 5;

function createGrid(): Grid {
  return {
    frequencies: new Float64Array(mostPoints),
    u: new Float64Array(mostPoints),
    target: new Float64Array(mostPoints),
    count: 0,
  };
}

const wholeGrid = createGrid();
const ownGrid = createGrid();
const columns = Array.from({ length: mostUnknowns }, () => new Float64Array(mostPoints));
const rightSide = new Float64Array(mostPoints);

/** Frequencies from DC to the top of the band, dense around `centre`. */
function fillGrid(grid: Grid, centre: Hertz, sampleRate: Hertz): Grid {
  const { frequencies, u } = grid;
  const top = Math.min(topOfBand, 0.42 * sampleRate);
  let count = 0;
  for (let i = 1; i <= spread; i++) frequencies[count++] = (top * i) / spread;
  for (let n = 0; n < nearby.length; n++) {
    const near = Math.min(centre, top) * nearby[n]!;
    if (near <= top && near > 1) frequencies[count++] = near;
  }
  for (let i = 0; i < count; i++) u[i] = Math.sin((Math.PI * frequencies[i]!) / sampleRate) ** 2;
  grid.count = count;
  return grid;
}

/** Zeros of the prototype at DC stay exactly where they are: the numerator has no lower powers of u than this. */
function lowestPower(prototype: AnaloguePrototype): number {
  const [n0, n1] = prototype.n;
  return n0 !== 0 ? 0 : n1 !== 0 ? 1 : 2;
}

function impulseInvariantPoles(prototype: AnaloguePrototype, sampleRate: Hertz): Parabola {
  const [d0, d1, d2] = prototype.d;
  const w0 = (2 * Math.PI * prototype.frequency) / sampleRate;
  if (d2 === 0) return powersOf(1, -Math.exp((-w0 * d0) / d1), 0);
  const damping = d1 / (2 * Math.sqrt(d0 * d2));
  const w = Math.min(w0 * Math.sqrt(d0 / d2), 0.95 * Math.PI);
  const decay = Math.exp(-damping * w);
  // cosh grows as fast as the decay falls, so for heavy damping the two are joined into one exponential.
  const root = Math.sqrt(Math.abs(damping * damping - 1)) * w;
  const sum = damping <= 1 ? 2 * decay * Math.cos(root) : Math.exp(root - damping * w) + Math.exp(-root - damping * w);
  return powersOf(1, -sum, decay * decay);
}

/** The bilinear transform, exact at the prototype's own frequency; unbeaten for narrow bands far below Nyquist. */
function bilinear(prototype: AnaloguePrototype, sampleRate: Hertz): Powers {
  const c = 1 / Math.tan(Math.PI * Math.min(prototype.frequency / sampleRate, 0.49));
  const firstOrder = prototype.n[2] === 0 && prototype.d[2] === 0;
  const transform = ([p0, p1, p2]: readonly [number, number, number]): Parabola => {
    const s1 = p1 * c;
    const s2 = p2 * c * c;
    // A first-order prototype would get its second pole exactly at Nyquist, where it has no state-variable form.
    return firstOrder ? powersOf(p0 + s1, p0 - s1, 0) : powersOf(p0 + s1 + s2, 2 * (p0 - s2), p0 - s1 + s2);
  };
  return { top: transform(prototype.n), bottom: transform(prototype.d) };
}

/** Squared magnitude of c0 + c1 z⁻¹ + c2 z⁻². */
function powersOf(c0: number, c1: number, c2: number): Parabola {
  const atDc = (c0 + c1 + c2) ** 2;
  const atNyquist = (c0 - c1 + c2) ** 2;
  const bend = 16 * c0 * c2;
  return [atDc, atNyquist - atDc - bend, bend];
}

/** Minimum-phase polynomial with this squared magnitude (Vicanek 2016). */
function factor(parabola: Parabola): [number, number, number] {
  const atDc = Math.sqrt(Math.max(0, parabola[0]));
  const atNyquist = Math.sqrt(Math.max(0, parabola[0] + parabola[1] + parabola[2]));
  const bend = -parabola[2] / 4;
  const mean = (atDc + atNyquist) / 2;
  const c0 = (mean + Math.sqrt(Math.max(0, mean * mean + bend))) / 2;
  return [c0, (atDc - atNyquist) / 2, c0 === 0 ? 0 : -bend / (4 * c0)];
}

function isFactorable(parabola: Parabola): boolean {
  const [p0, p1, p2] = parabola;
  const atNyquist = p0 + p1 + p2;
  if (p0 < 0 || atNyquist < 0) return false;
  const mean = (Math.sqrt(p0) + Math.sqrt(atNyquist)) / 2;
  return mean * mean - p2 / 4 >= -1e-13 * (p0 + atNyquist);
}

/** Fits the numerator, a parabola in u without powers below `lowest`. */
function fitNumerator({ u, target, count }: Grid, lowest: number, poles: Parabola): Powers | undefined {
  const [p0, p1, p2] = poles;
  for (let i = 0; i < count; i++) {
    const at = u[i]!;
    fillNumerator(i, at, (p0 + at * (p1 + at * p2)) * target[i]!, lowest);
  }
  rightSide.fill(1);
  const x = leastSquares(columns, 3 - lowest, rightSide, count);
  return x && usable({ top: numeratorOf(x, lowest), bottom: poles });
}

/** Fits numerator and poles together, around the poles that there are. */
function fitBoth({ u, target, count }: Grid, lowest: number, poles: Parabola): Powers | undefined {
  const [p0, p1, p2] = poles;
  const unknowns = 3 - lowest;
  const linear = columns[unknowns]!;
  const square = columns[unknowns + 1]!;
  for (let i = 0; i < count; i++) {
    const at = u[i]!;
    const bottom = (p0 + at * (p1 + at * p2)) / p0;
    fillNumerator(i, at, bottom * target[i]!, lowest);
    linear[i] = -at / bottom;
    square[i] = (-at * at) / bottom;
    rightSide[i] = 1 / bottom;
  }
  const x = leastSquares(columns, unknowns + 2, rightSide, count);
  if (!x) return undefined;
  return usable({ top: numeratorOf(x, lowest), bottom: [1, x[unknowns]!, x[unknowns + 1]!] });
}

/** One row of the columns of the numerator: the powers of u from `lowest` on, by weight. */
function fillNumerator(row: number, u: number, weight: number, lowest: number): void {
  let column = 0;
  if (lowest === 0) columns[column++]![row] = 1 / weight;
  if (lowest <= 1) columns[column++]![row] = u / weight;
  columns[column]![row] = (u * u) / weight;
}

function numeratorOf(x: Float64Array, lowest: number): Parabola {
  if (lowest === 0) return [x[0]!, x[1]!, x[2]!];
  return lowest === 1 ? [0, x[0]!, x[1]!] : [0, 0, x[0]!];
}

function usable(powers: Powers): Powers | undefined {
  const [a0, a1, a2] = powers.bottom;
  const strictlyStable = a0 > 0 && a0 + a1 + a2 > 1e-9 * a0;
  return strictlyStable && isFactorable(powers.top) && isFactorable(powers.bottom) ? powers : undefined;
}

function valueAt(parabola: Parabola, u: number): number {
  return parabola[0] + u * (parabola[1] + u * parabola[2]);
}

function better(best: Candidate, other: Candidate): Candidate {
  return best.error <= other.error ? best : other;
}

function candidate(powers: Powers, grid: Grid): Candidate {
  let error = 0;
  for (let i = 0; i < grid.count; i++) {
    const ratio = (valueAt(powers.top, grid.u[i]!) / valueAt(powers.bottom, grid.u[i]!) + floor) / (grid.target[i]! + floor);
    error = Math.max(error, ratio > 1 ? ratio - 1 : 1 / Math.max(ratio, 1e-9) - 1);
  }
  return { powers, error };
}

/** Squared magnitude of a section at `frequency`. */
export function sectionPower({ g, k, m0, m1, m2 }: Readonly<SectionCoefficients>, frequency: Hertz, sampleRate: Hertz): number {
  // With s = j·tan(ω/2)/g the section is m0 + (m1 s + m2) / (s² + k s + 1).
  const w = Math.tan((Math.PI * frequency) / sampleRate) / g;
  const re = 1 - w * w;
  const im = k * w;
  const size = re * re + im * im;
  const outRe = m0 + (m2 * re + m1 * w * im) / size;
  const outIm = (m1 * w * re - m2 * im) / size;
  return outRe * outRe + outIm * outIm;
}
