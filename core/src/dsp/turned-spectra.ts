import type { PairTransform } from './pair-transform';
import type { Frames } from '../units';

/** Spectra of two channels: of the frame, of what lies one and two hops before it, and of what was last put out. */
export interface PairSpectra {
  now: number;
  earlier: number;
  readonly before: number;
  readonly last: number;
}

/**
 * The phase vocoder's work on spectra: what turns every bin so that it goes on where the last output was, and what becomes of it. All
 * arrays lie in the transform's memory; compiled where there are kernels.
 */
export class TurnedSpectra {
  private readonly powerAt: number;
  private readonly turnReAt: number;
  private readonly turnImAt: number;
  private readonly scratch: number;
  private readonly windowAt: number;
  private readonly heardAt: number;
  readonly bins: number;

  /** @param synthesis the window that the output is under */
  constructor(
    private readonly transform: PairTransform,
    synthesis: Float64Array,
  ) {
    const { size } = transform;
    this.bins = size / 2 + 1;
    this.powerAt = transform.allocate(this.bins);
    this.turnReAt = transform.allocate(this.bins);
    this.turnImAt = transform.allocate(this.bins);
    this.scratch = transform.allocate();
    this.windowAt = transform.allocate(size);
    this.heardAt = transform.allocate();
    // The transform's way back multiplies by its size.
    const scaled = synthesis.map((weight) => weight / size);
    transform.memory().set(scaled, this.windowAt);
  }

  /** Twice the power of every bin, summed over all channels, after `addTurns`; a view, stale after anything is allocated. */
  get power(): Float32Array {
    return this.part(this.powerAt);
  }

  /** By how much every bin is turned: its parts along the axes. Views like `power`. */
  get turnRe(): Float32Array {
    return this.part(this.turnReAt);
  }

  get turnIm(): Float32Array {
    return this.part(this.turnImAt);
  }

  private part(at: number): Float32Array {
    return this.transform.memory().subarray(at, at + this.bins);
  }

  /** Adds of two channels the power of the frame and, as turns, the last output over what lies a hop before the frame. */
  addTurns({ now, earlier, last }: PairSpectra): void {
    const { transform, powerAt, turnReAt, turnImAt, bins } = this;
    const { compiled, size, places } = transform;
    if (compiled) {
      compiled.kernels.addTurns(4 * now, 4 * earlier, 4 * last, compiled.places, 4 * powerAt, 4 * turnReAt, 4 * turnImAt, size);
      return;
    }
    const memory = transform.memory();
    for (let k = 0; k < bins; k++) {
      for (let side = 1; side >= -1; side -= 2) {
        const place = places[(size + side * k) % size]!;
        memory[powerAt + k]! += memory[now + place]! ** 2 + memory[now + place + 4]! ** 2;
        const re = memory[last + place]!;
        const im = memory[last + place + 4]!;
        const u = memory[earlier + place]!;
        const v = memory[earlier + place + 4]!;
        memory[turnReAt + k]! += re * u + im * v;
        memory[turnImAt + k]! += side * (im * u - re * v);
      }
    }
  }

  /** Adds of two channels the power of the frame alone. */
  addPower({ now }: Pick<PairSpectra, 'now'>): void {
    const { transform, powerAt, bins } = this;
    const { size, places } = transform;
    const memory = transform.memory();
    for (let k = 0; k < bins; k++) {
      const one = now + places[k]!;
      const other = now + places[k === 0 ? 0 : size - k]!;
      const a = memory[one]!;
      const b = memory[one + 4]!;
      const c = memory[other]!;
      const d = memory[other + 4]!;
      memory[powerAt + k]! += a * a + b * b + c * c + d * d;
    }
  }

  /** Turns two channels of the frame, which become the last output, and returns their samples under the window, one channel behind the other: a view. */
  turn({ now, last }: PairSpectra): Float32Array {
    const { transform, scratch, turnReAt, turnImAt, windowAt, heardAt } = this;
    const { compiled, size } = transform;
    if (compiled) {
      const { kernels, places } = compiled;
      kernels.turnBins(4 * now, 4 * last, 4 * scratch, places, 4 * turnReAt, 4 * turnImAt, size);
      transform.inverse(scratch);
      kernels.partPair(4 * scratch, 4 * windowAt, 4 * heardAt, size);
    } else {
      this.turnPlainly(now, last);
      transform.inverse(scratch);
      const memory = transform.memory();
      for (let i: Frames = 0; i < size; i++) {
        const place = scratch + (((i >> 2) << 3) | (i & 3));
        memory[heardAt + i] = memory[place]! * memory[windowAt + i]!;
        memory[heardAt + size + i] = memory[place + 4]! * memory[windowAt + i]!;
      }
    }
    return transform.memory().subarray(heardAt, heardAt + 2 * size);
  }

  private turnPlainly(now: number, last: number): void {
    const { transform, scratch, turnReAt, turnImAt, bins } = this;
    const { size, places } = transform;
    const memory = transform.memory();
    for (let k = 0; k < bins; k++) {
      const re = memory[turnReAt + k]!;
      for (let side = 1; side >= (k === 0 || k === size / 2 ? 1 : -1); side -= 2) {
        const im = side * memory[turnImAt + k]!;
        const place = places[(size + side * k) % size]!;
        const a = memory[now + place]!;
        const b = memory[now + place + 4]!;
        memory[scratch + place] = memory[last + place] = a * re - b * im;
        memory[scratch + place + 4] = memory[last + place + 4] = a * im + b * re;
      }
    }
  }
}
