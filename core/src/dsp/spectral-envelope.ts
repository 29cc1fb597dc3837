import type { Frames } from '../units';
import type { PairTransform } from './pair-transform';
import { pairTransform } from './pair-transform';
import type { PairSpectra } from './turned-spectra';
import { TurnedSpectra } from './turned-spectra';

/** Partials are reached after a few rounds; noise, whose envelope has no peaks to run along, never quite. */
const mostRounds = 10;
/** In natural logarithms, an eighth of which is about 1 dB: no partial stands further above its envelope. */
const closeEnough = 0.12;

/**
 * The true envelope of a spectrum (Imai & Abe 1979; Röbel & Rodet 2005): a cepstrally smoothed curve is raised to whatever stands above it
 * and smoothed again, until it runs along the peaks. Makes one after another without allocating.
 */
export class SpectralEnvelope {
  /** The spectrum as it is raised round by round; even, as if it were samples. */
  private readonly spectrum: Float32Array;
  private readonly transform: PairTransform;
  private readonly spectra: TurnedSpectra;
  private readonly pair: PairSpectra;
  private readonly lifter: Float64Array;

  /**
   * @param size of the transform that the spectrum comes from, a power of two of at least 64
   * @param order how fine the envelope is, in samples: below the period of what is heard, so that it follows the formants and not the partials
   */
  constructor(
    private readonly size: Frames,
    order: number,
  ) {
    this.spectrum = new Float32Array(size);
    const plain = new Float64Array(size).fill(1);
    this.transform = pairTransform(size, plain);
    this.spectra = new TurnedSpectra(this.transform, plain);
    const at = this.transform.allocate();
    this.pair = { now: at, earlier: at, before: at, last: this.transform.allocate() };
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
    const { size, spectrum, spectra, lifter } = this;
    const half = size / 2;
    spectra.turnRe.set(lifter);
    spectra.turnIm.fill(0);
    for (let k = 0; k <= half; k++) spectrum[k] = spectrum[(size - k) % size] = logMagnitudes[k]!;
    for (let round = 1; ; round++) {
      const smooth = this.smoothed();
      let above = 0;
      for (let k = 0; k <= half; k++) {
        const value = smooth[k]!;
        const beyond = logMagnitudes[k]! - value;
        if (beyond > above) above = beyond;
        if (value > spectrum[k]!) spectrum[k] = value;
      }
      if (above < closeEnough || round === mostRounds) {
        for (let k = 0; k <= half; k++) into[k] = smooth[k]!;
        return;
      }
      for (let k = 1; k < half; k++) spectrum[size - k] = spectrum[k]!;
    }
  }

  /** What of the spectrum varies slowly along the frequencies; a view. */
  private smoothed(): Float32Array {
    this.transform.forward(this.spectrum, undefined, 0, this.pair.now);
    return this.spectra.turn(this.pair);
  }
}
