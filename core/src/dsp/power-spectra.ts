import type { Frames } from '../units';
import { hannWindow } from './fft';
import type { PairTransform } from './pair-transform';
import { pairTransform } from './pair-transform';
import { sharedBySize } from './shared-by-size';

/** Power spectra of Hann windows of a length, made once and used by all: what one caller has read is overwritten by the next. */
export const sharedPowerSpectra = sharedBySize((size) => new PowerSpectra(size));

/**
 * Power spectra of Hann windows, two at a time: two real frames are the two channels of one complex transform, whose halves tell them apart. In
 * single precision: what lies 130 dB below the louder frame is not to be seen.
 */
export class PowerSpectra {
  /** |X|² of both frames, bins 0 to size / 2: a full-scale sine has size² / 16 in the bin that it falls on. */
  readonly first: Float64Array;
  readonly second: Float64Array;
  readonly bins: number;
  private readonly transform: PairTransform;
  private readonly spectrum: number;
  private readonly edge: Float32Array;
  private readonly otherEdge: Float32Array;

  /** @param size samples of a frame, a power of two of at least 64 */
  constructor(readonly size: Frames) {
    this.bins = size / 2 + 1;
    this.first = new Float64Array(this.bins);
    this.second = new Float64Array(this.bins);
    this.transform = pairTransform(size, hannWindow(size));
    this.spectrum = this.transform.allocate();
    this.edge = new Float32Array(size);
    this.otherEdge = new Float32Array(size);
  }

  /** Takes the frames of a signal that begin at `start` and at `other`; outside of it is silence. */
  take(samples: Float32Array, start: Frames, other: Frames): void {
    const { transform, spectrum, size, first, second } = this;
    transform.forward(frameOf(samples, start, this.edge), frameOf(samples, other, this.otherEdge), 0, spectrum);
    const memory = transform.memory();
    const { places } = transform;
    for (let bin = 0; bin <= size / 2; bin++) {
      const at = spectrum + places[bin]!;
      const mirrored = spectrum + places[(size - bin) % size]!;
      const re = memory[at]!;
      const im = memory[at + 4]!;
      const mirroredRe = memory[mirrored]!;
      const mirroredIm = memory[mirrored + 4]!;
      first[bin] = ((re + mirroredRe) * (re + mirroredRe) + (im - mirroredIm) * (im - mirroredIm)) / 4;
      second[bin] = ((im + mirroredIm) * (im + mirroredIm) + (mirroredRe - re) * (mirroredRe - re)) / 4;
    }
  }
}

/** So many samples from `start` on: a part of the signal, or a copy where that reaches beyond it. */
function frameOf(samples: Float32Array, start: Frames, edge: Float32Array): Float32Array {
  const end = start + edge.length;
  if (start >= 0 && end <= samples.length) return samples.subarray(start, end);
  edge.fill(0);
  const from = Math.max(0, start);
  if (from < Math.min(end, samples.length)) edge.set(samples.subarray(from, end), from - start);
  return edge;
}
