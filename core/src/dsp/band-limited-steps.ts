import { besselI0, sinc } from './kaiser';
import type { Frames } from '../units';

/** Half the length of a correction: by so many frames the corrected signal lags. */
export const stepDelay: Frames = 32;
/** Pass-band edge as a part of the Nyquist frequency; the slope of the kernel ends there, so that next to nothing folds back. */
const cutoff = 0.905;
/** Side lobes of the kernel below -90 dB. */
const beta = 9.2;
/** Places of a correction per frame in its table. */
const density = 512;
const span = 2 * stepDelay;
/** Places in a ring that holds what corrections reach back and forth over. */
const mask = 2 * span - 1;
/** How many frames can be taken at once. */
export const mostAhead: Frames = span;
/** Pieces of a frame in which the beginning of a tone is integrated. */
const pieces = 8;

interface Tables {
  readonly kernel: Float64Array;
  /** The band-limited step. */
  readonly step: Float64Array;
  /** By how much a band-limited corner, whose slope goes up by 1, differs from a plain one. */
  readonly corner: Float64Array;
}
let tables: Tables | undefined;

/** A Kaiser-windowed sinc, its integral, and the integral of that, around the moment of the jump. */
function corrections(): Tables {
  if (tables) return tables;
  const cells = span * density;
  const scale = besselI0(beta);
  const kernelAt = (cell: number): number => {
    const at = cell / density - stepDelay;
    const inside = 1 - (at / stepDelay) ** 2;
    return inside <= 0 ? 0 : (cutoff * sinc(at * cutoff) * besselI0(beta * Math.sqrt(inside))) / scale;
  };
  const kernel = Float64Array.from({ length: cells + 2 }, (_, i) => kernelAt(i));
  const step = new Float64Array(cells + 2);
  // Simpson's rule from cell to cell.
  for (let i = 1; i <= cells; i++) step[i] = step[i - 1]! + (kernel[i - 1]! + 4 * kernelAt(i - 0.5) + kernel[i]!) / (6 * density);
  const whole = step[cells]!;
  for (let i = 0; i <= cells; i++) {
    kernel[i] = kernel[i]! / whole;
    step[i] = step[i]! / whole;
  }
  const corner = new Float64Array(cells + 2);
  const middle = cells / 2;
  for (let i = 1; i <= cells; i++)
    corner[i] = corner[i - 1]! + (step[i - 1]! - (i > middle ? 1 : 0) + step[i]! - (i > middle ? 1 : 0)) / (2 * density);
  tables = { kernel, step, corner };
  return tables;
}

/**
 * Takes a signal of one channel with jumps between its frames, and gives it back without what such jumps fold back into the audible range
 * (band-limited steps: Stilson & Smith 1996, Brandt 2001; corners: Esqueda, Välimäki & Bilbao 2016), `stepDelay` frames late.
 */
export class BandLimitedSteps {
  private readonly tables = corrections();
  private readonly line = new Float64Array(mask + 1);
  private write = 0;

  reset(): void {
    this.line.fill(0);
    this.write = 0;
  }

  /**
   * A jump of the value.
   * @param ago how many frames, 0 to 1, it lies before a frame
   * @param ahead how many frames that frame comes behind the next one to be taken, at most `mostAhead`
   */
  addStep(ago: number, jump: number, ahead: Frames): void {
    if (jump !== 0) this.add(this.tables.step, ago, jump, 1, ahead);
  }

  /** A jump of the slope, in values per frame. */
  addCorner(ago: number, jump: number, ahead: Frames): void {
    if (jump !== 0) this.add(this.tables.corner, ago, jump, 0, ahead);
  }

  private add(table: Float64Array, ago: number, jump: number, plain: number, ahead: Frames): void {
    const { line } = this;
    const write = this.write + ahead;
    const place = ago * density;
    const whole = Math.floor(place);
    const rest = place - whole;
    for (let j = -stepDelay; j < stepDelay; j++) {
      const cell = (j + stepDelay) * density + whole;
      const low = table[cell]!;
      const difference = low + (table[cell + 1]! - low) * rest - (j >= 0 ? plain : 0);
      const at = (write + j) & mask;
      line[at] = line[at]! + jump * difference;
    }
  }

  /**
   * A sine that ends at one phase and goes on at another, both in radians. Its derivatives jump, all of them, so its beginning is integrated with the kernel
   * as it is. Returns how much of a sine so high the kernel leaves: the frames that follow must be scaled by it.
   * @param speed radians per frame
   */
  addTurn(ago: number, speed: number, from: number, to: number, ahead: Frames): number {
    const { line } = this;
    const write = this.write + ahead;
    const { kernel } = this.tables;
    // How the turn differs: (e^(i·to) − e^(i·from)) · e^(i·speed·t) · ∫ kernel(u) e^(−i·speed·u) du up to t.
    const real = Math.cos(to) - Math.cos(from);
    const imaginary = Math.sin(to) - Math.sin(from);
    const left = this.left(speed);
    let re = 0;
    let im = 0;
    // From one end of the kernel to the first frame it is next to nothing.
    for (let j = -stepDelay; j < stepDelay; j++) {
      const end = j + ago;
      if (j > -stepDelay) {
        for (let p = 0; p <= 2 * pieces; p++) {
          const at = end - 1 + p / (2 * pieces);
          const weight = (p === 0 || p === 2 * pieces ? 1 : p % 2 ? 4 : 2) / (6 * pieces);
          const cell = (at + stepDelay) * density;
          const index = Math.floor(cell);
          const low = kernel[index]!;
          const value = weight * (low + (kernel[index + 1]! - low) * (cell - index));
          re += value * Math.cos(speed * at);
          im -= value * Math.sin(speed * at);
        }
      }
      const rest = j >= 0 ? left : 0;
      const cos = Math.cos(speed * end);
      const sin = Math.sin(speed * end);
      const turnedRe = (re - rest) * cos - im * sin;
      const turnedIm = (re - rest) * sin + im * cos;
      const at = (write + j) & mask;
      line[at] = line[at]! + real * turnedIm + imaginary * turnedRe;
    }
    return left;
  }

  /** What the kernel leaves of a sine: its response at `speed` radians per frame. */
  private left(speed: number): number {
    const { kernel } = this.tables;
    let sum = 0;
    const stride = density / (2 * pieces);
    for (let cell = 0; cell < span * density; cell += stride) sum += kernel[cell]! * Math.cos(speed * (cell / density - stepDelay));
    return sum / (2 * pieces);
  }

  /** Takes frames, at most `mostAhead`, and gives back those of `stepDelay` frames ago. */
  process(samples: Float64Array, from: Frames, to: Frames): void {
    const { line } = this;
    let { write } = this;
    for (let i = from; i < to; i++) {
      line[write] = line[write]! + samples[i]!;
      const late = (write - stepDelay) & mask;
      samples[i] = line[late]!;
      line[late] = 0;
      write = (write + 1) & mask;
    }
    this.write = write;
  }
}
