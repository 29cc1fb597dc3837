import type { Decibels, Frames, Hertz } from '../../units';
import { sharedFft } from '../fft';

const deepest: Decibels = -120;
/** Two thirds of a second at 48 kHz: the cepstra of curves that can be drawn or set have died away by then. */
const longEnough: Frames = 32_768;

/**
 * A minimum-phase impulse response whose magnitude follows a curve, by folding the real cepstrum (Oppenheim & Schafer, "Discrete-Time
 * Signal Processing", homomorphic filtering).
 * @param level level in dB at a frequency
 * @param taps length of the response, a power of two; it is designed longer, so that the cepstrum does not wrap around
 */
export function minimumPhaseResponse(level: (frequency: Hertz) => Decibels, taps: Frames, sampleRate: Hertz): Float64Array {
  const size = Math.max(2 * taps, Math.min(4 * taps, longEnough));
  const fft = sharedFft(size);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  for (let k = 0; k < fft.bins; k++) re[k] = (Math.max(deepest, level((k * sampleRate) / size)) / 20) * Math.LN10;
  const cepstrum = new Float64Array(size);
  fft.inverse(re, im, cepstrum);
  for (let n = 1; n < size / 2; n++) cepstrum[n]! *= 2;
  cepstrum.fill(0, size / 2 + 1);
  fft.forward(cepstrum, re, im);
  for (let k = 0; k < fft.bins; k++) {
    const magnitude = Math.exp(re[k]!);
    re[k] = magnitude * Math.cos(im[k]!);
    im[k] = magnitude * Math.sin(im[k]!);
  }
  const response = new Float64Array(size);
  fft.inverse(re, im, response);
  const kept = response.slice(0, taps);
  // What is cut off fades out, so that the cut leaves no ripple.
  const fade = taps / 4;
  for (let i = 0; i < fade; i++) kept[taps - 1 - i]! *= 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / fade);
  return kept;
}
