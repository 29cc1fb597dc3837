import type { Frames } from '../units';
import type { PairTransform } from './pair-transform';
import { pairTransform } from './pair-transform';
import { sharedBySize } from './shared-by-size';

/** A correlator of a length that is made once and used by all: what one caller has read is overwritten by the next. */
export const sharedCorrelator = sharedBySize((size) => new Correlator(size));

/**
 * Correlation of the head of a frame with the whole of it, c(τ) = Σ head[i] · frame[i + τ], by one transform to and one from the spectrum: head and whole are
 * its two channels. In single precision: exact to about −125 dB of c(0).
 */
export class Correlator {
  /** What `correlate` has found, lags 0 to size − 1; of use up to the frame's length less that of its head. */
  readonly lags: Float32Array;
  private readonly transform: PairTransform;
  private readonly spectrum: number;
  private readonly whole: Float32Array;
  private readonly head: Float32Array;

  /** @param size a power of two of at least 64 that the frame fits into */
  constructor(readonly size: Frames) {
    this.transform = pairTransform(size, new Float64Array(size).fill(1));
    this.spectrum = this.transform.allocate();
    this.lags = new Float32Array(size);
    this.whole = new Float32Array(size);
    this.head = new Float32Array(size);
  }

  /** Correlates the first `head` samples of `frame` with all of it. */
  correlate(frame: ArrayLike<number>, head: Frames): void {
    const { transform, spectrum, size, whole, lags } = this;
    whole.fill(0);
    whole.set(frame);
    this.head.fill(0);
    this.head.set(whole.subarray(0, head));
    transform.forward(whole, this.head, 0, spectrum);
    const memory = transform.memory();
    const { places } = transform;
    for (let bin = 0; bin <= size / 2; bin++) {
      const at = spectrum + places[bin]!;
      const mirrored = spectrum + places[(size - bin) % size]!;
      const wholeRe = (memory[at]! + memory[mirrored]!) / 2;
      const wholeIm = (memory[at + 4]! - memory[mirrored + 4]!) / 2;
      const headRe = (memory[at + 4]! + memory[mirrored + 4]!) / 2;
      const headIm = (memory[mirrored]! - memory[at]!) / 2;
      const re = wholeRe * headRe + wholeIm * headIm;
      const im = wholeIm * headRe - wholeRe * headIm;
      memory[mirrored] = re;
      memory[mirrored + 4] = -im;
      memory[at] = re;
      memory[at + 4] = im;
    }
    transform.inverse(spectrum);
    const found = transform.memory();
    const scale = 1 / size;
    for (let i = 0; i < size; i++) lags[i] = found[spectrum + ((i >> 2) << 3) + (i & 3)]! * scale;
  }
}
