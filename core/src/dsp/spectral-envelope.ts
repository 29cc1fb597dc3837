import type { Frames } from '../units';
import { sharedFft } from './fft';

/** Partials are reached after a few rounds; noise, whose envelope has no peaks to run along, never quite. */
const mostRounds = 10;
/** In natural logarithms, an eighth of which is about 1 dB: no partial stands further above its envelope. */
const closeEnough = 0.12;

/**
 * The true envelope of a spectrum (Imai & Abe 1979; Röbel & Rodet 2005): a cepstrally smoothed curve is raised to whatever stands above it
 * and smoothed again, until it runs along the peaks. Makes one after another without allocating.
 */
export class SpectralEnvelope {
  private readonly spectrum: Float64Array;
  private readonly smooth: Float64Array;
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly lifter: Float64Array;

  /**
   * @param size of the transform that the spectrum comes from, a power of two
   * @param order how fine the envelope is, in samples: below the period of what is heard, so that it follows the formants and not the partials
   */
  constructor(
    private readonly size: Frames,
    order: number,
  ) {
    this.spectrum = new Float64Array(size);
    this.smooth = new Float64Array(size);
    this.re = new Float64Array(size / 2 + 1);
    this.im = new Float64Array(size / 2 + 1);
    // A soft edge: a hard one would ring along the frequencies.
    this.lifter = Float64Array.from({ length: size / 2 + 1 }, (_, n) => {
      const beyond = (n - 0.75 * order) / (0.5 * order);
      return beyond <= 0 ? 1 : beyond >= 1 ? 0 : 0.5 + 0.5 * Math.cos(Math.PI * beyond);
    });
  }

  /**
   * The envelope of logarithmic magnitudes (natural), one for each of size / 2 + 1 bins.
   * @param into receives the envelope, as long as the input
   */
  of(logMagnitudes: Float64Array, into: Float64Array): void {
    const { size, spectrum, smooth } = this;
    const half = size / 2;
    for (let k = 0; k <= half; k++) spectrum[k] = spectrum[(size - k) % size] = logMagnitudes[k]!;
    for (let round = 0; round < mostRounds; round++) {
      this.smoothOnce();
      let above = 0;
      for (let k = 0; k <= half; k++) {
        above = Math.max(above, logMagnitudes[k]! - smooth[k]!);
        spectrum[k] = spectrum[(size - k) % size] = Math.max(spectrum[k]!, smooth[k]!);
      }
      if (above < closeEnough) break;
    }
    for (let k = 0; k <= half; k++) into[k] = smooth[k]!;
  }

  /** Keeps of the spectrum, which is even, what varies slowly along the frequencies. */
  private smoothOnce(): void {
    const { spectrum, smooth, re, im, lifter, size } = this;
    const fft = sharedFft(size);
    fft.forward(spectrum, re, im);
    for (let n = 0; n < re.length; n++) {
      re[n]! *= lifter[n]!;
      im[n]! *= lifter[n]!;
    }
    fft.inverse(re, im, smooth);
  }
}
