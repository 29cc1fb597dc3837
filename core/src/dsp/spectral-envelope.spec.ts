import { largest } from '../testing/signals';
import { SpectralEnvelope } from './spectral-envelope';

const size = 2048;
const bins = size / 2 + 1;
/** Two smooth hills over the frequencies, in natural logarithms. */
const hills = (k: number): number => 2 * Math.exp(-(((k - 60) / 60) ** 2)) + 1.2 * Math.exp(-(((k - 260) / 90) ** 2)) - 3;

describe('the true envelope', () => {
  it('runs along the peaks of partials, whatever lies between them', () => {
    const spacing = 7;
    // Partials of a Hann window's width with 60 dB between them.
    const magnitudes = Float64Array.from({ length: bins }, (_, k) => {
      const off = Math.abs(k - spacing * Math.round(k / spacing));
      return hills(k) - Math.min(7, 1.4 * off * off);
    });
    const envelope = new Float64Array(bins);
    // Partials 7 bins apart repeat after size / 7 samples; the envelope is coarser than that.
    new SpectralEnvelope(size, size / spacing / 2).of(magnitudes, envelope);
    const peaks = Array.from({ length: 80 }, (_, n) => spacing * (n + 2));
    expect(largest(0, peaks.length, (n) => envelope[peaks[n]!]! - hills(peaks[n]!))).toBeLessThan(0.6);
  });

  it('is a smooth spectrum itself', () => {
    const envelope = new Float64Array(bins);
    const magnitudes = Float64Array.from({ length: bins }, (_, k) => hills(k));
    new SpectralEnvelope(size, 120).of(magnitudes, envelope);
    expect(largest(20, bins - 20, (k) => envelope[k]! - magnitudes[k]!)).toBeLessThan(0.15);
  });
});
