import type { Frames } from '../units';
import { kaiser, sinc } from './kaiser';

const factor = 8;
/** Taps at the raised rate; 8 n less one, so that up and down together with a curve's own sample lag whole frames at the base rate. */
const taps = 280;
const centre = (taps - 1) / 2;
/** Middle of the slope from 20 to 28 kHz at a base rate of 48 kHz: what folds back lies above 20 kHz. */
const cutoff = 0.5;
const beta = 9.6;

/** Coefficients of the interpolation filter, phase by phase, newest input first. */
const phases: readonly Float64Array[] = (() => {
  const all = Float64Array.from(
    { length: taps },
    (_, i) => sinc(((i - centre) / factor) * 2 * cutoff) * kaiser((i - centre) / (taps / 2), beta),
  );
  const sum = all.reduce((total, tap) => total + tap, 0);
  return Array.from({ length: factor }, (_, phase) =>
    Float64Array.from({ length: taps / factor }, (_unused, i) => (all[i * factor + phase]! * factor) / sum),
  );
})();
const phaseTaps = taps / factor;

/** Something that changes samples one by one. */
export interface SampleShaper {
  next(sample: number): number;
}

/**
 * Runs a nonlinearity at eight times the sampling rate, so that what it adds above Nyquist can be filtered away before it folds back:
 * linear-phase Kaiser filters, flat within 0.1 dB to 20 kHz, -90 dB from 28 kHz on (at 48 kHz). One for each channel.
 */
export class Oversampler {
  /** Frames by which the output lags behind the input, with a shaper that lags one raised sample. */
  static readonly latency: Frames = taps / factor;
  private readonly input = new Float64Array(2 * phaseTaps);
  private readonly raised = new Float64Array(2 * taps);
  private inputAt = 0;
  private raisedAt = 0;

  reset(): void {
    this.input.fill(0);
    this.raised.fill(0);
    this.inputAt = this.raisedAt = 0;
  }

  next(sample: number, shaper: SampleShaper): number {
    const { input, raised } = this;
    // Both histories are written twice, so that what a filter reads always lies in one piece.
    this.inputAt = this.inputAt === 0 ? phaseTaps - 1 : this.inputAt - 1;
    input[this.inputAt] = sample;
    input[this.inputAt + phaseTaps] = sample;
    let output = 0;
    for (let p = 0; p < factor; p++) {
      const phase = phases[p]!;
      let sum = 0;
      for (let i = 0, at = this.inputAt; i < phaseTaps; i++, at++) sum += phase[i]! * input[at]!;
      const shaped = shaper.next(sum);
      this.raisedAt = this.raisedAt === 0 ? taps - 1 : this.raisedAt - 1;
      raised[this.raisedAt] = shaped;
      raised[this.raisedAt + taps] = shaped;
      // The raised sample at the time of the input itself; read later, the lag would not be whole.
      if (p === 0) output = this.lowered();
    }
    return output;
  }

  private lowered(): number {
    let sum = 0;
    for (let p = 0; p < factor; p++) {
      const phase = phases[p]!;
      for (let i = 0, at = this.raisedAt + p; i < phaseTaps; i++, at += factor) sum += phase[i]! * this.raised[at]!;
    }
    return sum / factor;
  }
}
