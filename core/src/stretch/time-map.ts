import type { Frames, Ratio } from '../units';

/** Corners nearer together than this are one. */
const leastApart: Frames = 1e-3;

/** A moment of a recording and when it is heard. */
export interface Corner {
  readonly input: Frames;
  readonly output: Frames;
}

/**
 * When each moment of a recording is heard after it has been stretched: corners (input, output), both rising, in straight lines between them and
 * on beyond the outer ones. Frames need not be whole.
 */
export class TimeMap {
  /** Throws RangeError where there are fewer than two corners, or where one does not lie behind the one before it in both. */
  constructor(
    private readonly inputs: Float64Array,
    private readonly outputs: Float64Array,
  ) {
    if (inputs.length < 2 || inputs.length !== outputs.length) throw new RangeError('A time map needs two corners or more.');
    for (let i = 1; i < inputs.length; i++)
      if (!(inputs[i]! > inputs[i - 1]! && outputs[i]! > outputs[i - 1]!)) throw new RangeError('The corners of a time map must rise.');
  }

  /** The map that makes everything `ratio` times as long. */
  static even(ratio: number): TimeMap {
    return new TimeMap(Float64Array.of(0, 1), Float64Array.of(0, ratio));
  }

  static through(corners: readonly Corner[]): TimeMap {
    return new TimeMap(
      Float64Array.from(corners, ({ input }) => input),
      Float64Array.from(corners, ({ output }) => output),
    );
  }

  /** The last corner. */
  get end(): Corner {
    return { input: this.inputs.at(-1)!, output: this.outputs.at(-1)! };
  }

  /** The corners strictly between two moments of the input. */
  cornersBetween(from: Frames, to: Frames): Corner[] {
    const corners: Corner[] = [];
    for (let i = 0; i < this.inputs.length; i++)
      if (this.inputs[i]! > from && this.inputs[i]! < to) corners.push({ input: this.inputs[i]!, output: this.outputs[i]! });
    return corners;
  }

  /** The same, heard later. */
  shifted(by: Frames): TimeMap {
    return new TimeMap(
      this.inputs,
      this.outputs.map((output) => output + by),
    );
  }

  /** The same, all of it so many times as late. */
  rescaled(ratio: Ratio): TimeMap {
    return new TimeMap(
      this.inputs,
      this.outputs.map((output) => output * ratio),
    );
  }

  /** This map and then another one, which is followed in steps of `step` frames from 0 to `frames`. */
  followed(next: TimeMap, frames: Frames, step: Frames): TimeMap {
    const outputs = [...this.outputs, ...Array.from({ length: Math.ceil(frames / step) + 1 }, (_, i) => i * step)];
    const places = outputs.sort((a, b) => a - b).filter((place, i) => i === 0 || place - outputs[i - 1]! > leastApart);
    return TimeMap.through(places.map((output) => ({ input: this.inputAt(output), output: next.outputAt(output) })));
  }

  outputAt(input: Frames): Frames {
    return along(this.inputs, this.outputs, input);
  }

  inputAt(output: Frames): Frames {
    return along(this.outputs, this.inputs, output);
  }
}

function along(from: Float64Array, to: Float64Array, at: number): number {
  let low = 0;
  let high = from.length - 1;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (from[middle]! <= at) low = middle;
    else high = middle;
  }
  return to[low]! + ((at - from[low]!) * (to[high]! - to[low]!)) / (from[high]! - from[low]!);
}
