import { RealFft } from '../dsp/fft';
import type { Hertz } from '../units';

/**
 * The loudest harmonic of a tone and the loudest of everything else below 20 kHz, as amplitudes, from a Blackman–Harris window (side
 * lobes below -92 dB) over the largest power of two that fits.
 */
export function harmonicsOf(samples: Float32Array, frequency: Hertz, sampleRate: Hertz): { loudest: number; others: number } {
  const size = 2 ** Math.floor(Math.log2(samples.length));
  const fft = new RealFft(size);
  const { cos, PI, hypot, abs, round, max } = Math;
  const frame = Float64Array.from({ length: size }, (_, i) => {
    const x = (2 * PI * i) / size;
    return samples[i]! * (0.35875 - 0.48829 * cos(x) + 0.14128 * cos(2 * x) - 0.01168 * cos(3 * x));
  });
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  fft.forward(frame, re, im);
  let loudest = 0;
  let others = 0;
  for (let bin = 8; bin < (20_000 * size) / sampleRate; bin++) {
    const at = (bin * sampleRate) / size;
    const nearest = max(1, round(at / frequency)) * frequency;
    const amplitude = hypot(re[bin]!, im[bin]!);
    if (abs(at - nearest) < (6 * sampleRate) / size) loudest = max(loudest, amplitude);
    else others = max(others, amplitude);
  }
  return { loudest, others };
}
