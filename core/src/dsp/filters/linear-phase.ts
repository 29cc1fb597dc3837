import type { Decibels, Frames, Hertz } from '../../units';
import { sharedFft } from '../fft';

/**
 * A linear-phase impulse response whose magnitude follows a curve: frequency sampling on a grid four times as fine, then a Hann window
 * over the taps (Oppenheim & Schafer, "Discrete-Time Signal Processing", window design). Symmetric around tap `taps / 2`.
 * @param level level in dB at a frequency
 * @param taps length of the response, a power of two
 */
export function linearPhaseResponse(level: (frequency: Hertz) => Decibels, taps: Frames, sampleRate: Hertz): Float64Array {
  const size = taps * 4;
  const fft = sharedFft(size);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  for (let k = 0; k < fft.bins; k++) re[k] = 10 ** (level((k * sampleRate) / size) / 20);
  const centred = new Float64Array(size);
  fft.inverse(re, im, centred);
  const half = taps / 2;
  return Float64Array.from({ length: taps }, (_, i) => {
    const from = i - half;
    return centred[from < 0 ? size + from : from]! * (0.5 + 0.5 * Math.cos((Math.PI * from) / half));
  });
}
