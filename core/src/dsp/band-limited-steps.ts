import type { CompiledWaves } from './compiled/compiled-waves';
import { compiledWaves, lineNumbers } from './compiled/compiled-waves';
import type { KernelBlock } from './compiled/kernels';
import { getKernels } from './compiled/kernels';
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
/** How many frames can be taken at once. */
export const mostAhead: Frames = span;
/** What corrections that are known can reach over, and how far it moves through its line before it is brought back to the beginning. */
const reach = span + mostAhead;
const lineLength = 4 * reach - lineNumbers;
/** Pieces of a frame in which the beginning of a tone is integrated. */
const pieces = 8;
/** Half of one, in places of the table. */
const pieceCells = density / (2 * pieces);

interface Tables {
  readonly kernel: Float64Array;
  /** By how much a band-limited step differs from a plain one: for every place between two frames, the frames that it reaches over in a row. */
  readonly step: Float64Array;
  /** The same of a corner, whose slope goes up by 1. */
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
  tables = { kernel, step: rowsOf(step, 1), corner: rowsOf(corner, 0) };
  return tables;
}

/** Sorts a table by places between two frames, because a correction reads one place of every frame; `plain` is taken away behind its middle. */
function rowsOf(cells: Float64Array, plain: number): Float64Array {
  // One row more than there are places to interpolate with, and one for a place that rounding has put at the end.
  const rows = new Float64Array((density + 2) * span);
  for (let row = 0; row < density + 2; row++)
    for (let j = 0; j < span; j++) rows[row * span + j] = cells[j * density + Math.min(row, density)]! - (j >= stepDelay ? plain : 0);
  return rows;
}

/**
 * Takes a signal of one channel with jumps between its frames, and gives it back without what such jumps fold back into the audible range
 * (band-limited steps: Stilson & Smith 1996, Brandt 2001; corners: Esqueda, Välimäki & Bilbao 2016), `stepDelay` frames late.
 */
export class BandLimitedSteps {
  private readonly tables = corrections();
  /** Eight numbers for a wave that is drawn by a kernel, and behind them frames on their way and corrections of those to come. */
  private memory: Float64Array;
  /** The same memory, where kernels work on it. */
  private readonly block: KernelBlock | undefined;
  readonly waves: CompiledWaves | undefined;
  /** Where the next frame to be given lies among them. */
  private read = 0;
  /** What was left of a sine the last time, and of which. */
  private leftThen = 0;
  private leftOf = NaN;

  /** @param compiled false for the reference in plain TypeScript */
  constructor(compiled = true) {
    const kernels = compiled ? getKernels() : undefined;
    this.waves = kernels && compiledWaves(kernels, () => [this.tables.step, this.tables.corner]);
    this.block = kernels?.allocate(8 * (lineNumbers + lineLength));
    this.memory = new Float64Array(this.block ? 0 : lineNumbers + lineLength);
  }

  /** Its memory. What lies in the kernels' memory is seen anew when that has grown. */
  private room(): Float64Array {
    if (this.memory.length > 0 || !this.block) return this.memory;
    const from = this.block.at / 8;
    this.memory = getKernels()!
      .doubles()
      .subarray(from, from + lineNumbers + lineLength);
    return this.memory;
  }

  reset(): void {
    this.room().fill(0);
    this.read = 0;
  }

  /** Makes room for the frames of a run. */
  private makeRoom(frames: Frames): void {
    if (this.read + frames + reach <= lineLength) return;
    const memory = this.room();
    const from = lineNumbers + this.read;
    memory.copyWithin(lineNumbers, from, from + reach);
    memory.fill(0, lineNumbers + reach);
    this.read = 0;
  }

  /**
   * Draws and corrects a wave of two straight lines of which nothing moves; undefined where no kernel is to be had.
   * @param numbers bend, shift, value and slope of the first line and of the second one, jumps at the bend and at the end
   * @returns the place in its period behind them
   */
  draw(into: Float64Array, from: Frames, to: Frames, place: number, increment: number, numbers: Float64Array): number | undefined {
    const { waves, block } = this;
    if (!waves || !block) return undefined;
    this.makeRoom(to - from);
    this.room().set(numbers);
    const next = waves.lines(into, from, to, place, increment, block, this.read);
    this.read += to - from;
    return next;
  }

  /**
   * A jump of the value.
   * @param ago how many frames, 0 to 1, it lies before a frame
   * @param ahead how many frames that frame comes behind the next one to be taken, at most `mostAhead`
   */
  addStep(ago: number, jump: number, ahead: Frames): void {
    if (jump !== 0) this.add(this.tables.step, ago, jump, ahead);
  }

  /** A jump of the slope, in values per frame. */
  addCorner(ago: number, jump: number, ahead: Frames): void {
    if (jump !== 0) this.add(this.tables.corner, ago, jump, ahead);
  }

  private add(table: Float64Array, ago: number, jump: number, ahead: Frames): void {
    const line = this.room();
    const first = lineNumbers + this.read + ahead;
    const place = ago * density;
    const row = place | 0;
    const above = jump * (place - row);
    const below = jump - above;
    const low = row * span;
    const high = low + span;
    for (let j = 0; j < span; j++) line[first + j] = line[first + j]! + below * table[low + j]! + above * table[high + j]!;
  }

  /**
   * A sine that ends at one phase and goes on at another, both in radians. Its derivatives jump, all of them, so its beginning is integrated with the kernel
   * as it is. Returns how much of a sine so high the kernel leaves: the frames that follow must be scaled by it.
   * @param speed radians per frame
   */
  addTurn(ago: number, speed: number, from: number, to: number, ahead: Frames): number {
    const line = this.room();
    const first = lineNumbers + this.read + ahead + stepDelay;
    const { kernel } = this.tables;
    // How the turn differs: (e^(i·to) − e^(i·from)) · e^(i·speed·t) · ∫ kernel(u) e^(−i·speed·u) du up to t.
    const real = Math.cos(to) - Math.cos(from);
    const imaginary = Math.sin(to) - Math.sin(from);
    const left = this.left(speed);
    const [pieceCos, pieceSin] = [Math.cos(speed / (2 * pieces)), Math.sin(speed / (2 * pieces))];
    // A piece is a whole number of places long, so that all lie equally far between two of them.
    const shift = ago * density;
    const between = shift - Math.floor(shift);
    let index = Math.floor(shift);
    let re = 0;
    let im = 0;
    let cos = Math.cos(speed * (ago - stepDelay));
    let sin = Math.sin(speed * (ago - stepDelay));
    // From one end of the kernel to the first frame it is next to nothing.
    for (let j = -stepDelay; j < stepDelay; j++) {
      const end = j + ago;
      if (j > -stepDelay) {
        for (let p = 0; p <= 2 * pieces; p++, index += pieceCells) {
          const weight = p === 0 || p === 2 * pieces ? 1 : p % 2 ? 4 : 2;
          const low = kernel[index]!;
          const value = weight * (low + (kernel[index + 1]! - low) * between);
          re += value * cos;
          im -= value * sin;
          const turned = cos * pieceCos - sin * pieceSin;
          sin = sin * pieceCos + cos * pieceSin;
          cos = turned;
        }
        // The next frame begins where this one ends.
        index -= pieceCells;
        // Turned so often, it would drift.
        cos = Math.cos(speed * end);
        sin = Math.sin(speed * end);
      }
      const now = re / (6 * pieces) - (j >= 0 ? left : 0);
      const nowIm = im / (6 * pieces);
      line[first + j] = line[first + j]! + real * (now * sin + nowIm * cos) + imaginary * (now * cos - nowIm * sin);
    }
    return left;
  }

  /** What the kernel leaves of a sine: its response at `speed` radians per frame. */
  private left(speed: number): number {
    if (speed === this.leftOf) return this.leftThen;
    const { kernel } = this.tables;
    const [pieceCos, pieceSin] = [Math.cos(speed / (2 * pieces)), Math.sin(speed / (2 * pieces))];
    let sum = 0;
    for (let frame = 0; frame < span; frame++) {
      let cos = Math.cos(speed * (frame - stepDelay));
      let sin = Math.sin(speed * (frame - stepDelay));
      for (let p = 0; p < 2 * pieces; p++) {
        sum += kernel[frame * density + p * pieceCells]! * cos;
        const turned = cos * pieceCos - sin * pieceSin;
        sin = sin * pieceCos + cos * pieceSin;
        cos = turned;
      }
    }
    this.leftOf = speed;
    return (this.leftThen = sum / (2 * pieces));
  }

  /** Takes frames, at most `mostAhead`, and gives back those of `stepDelay` frames ago. */
  process(samples: Float64Array, from: Frames, to: Frames): void {
    const frames = to - from;
    this.makeRoom(frames);
    const line = this.room();
    const read = lineNumbers + this.read;
    const write = read + stepDelay;
    for (let i = 0; i < frames; i++) {
      line[write + i] = line[write + i]! + samples[from + i]!;
      samples[from + i] = line[read + i]!;
    }
    this.read += frames;
  }
}
