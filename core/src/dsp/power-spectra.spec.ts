import { RealFft, hannWindow } from './fft';
import { PowerSpectra } from './power-spectra';
import { createRandom, seedOf } from './random';

const size = 512;

describe('PowerSpectra', () => {
  const random = createRandom(seedOf('power'));
  const samples = Float32Array.from({ length: 3_000 }, () => 2 * random.next() - 1);
  const spectra = new PowerSpectra(size);

  /** The power spectrum by the plain transform. */
  function plainly(start: number): Float64Array {
    const fft = new RealFft(size);
    const window = hannWindow(size);
    const frame = Float64Array.from({ length: size }, (_, i) => (samples[start + i] ?? 0) * window[i]!);
    const re = new Float64Array(fft.bins);
    const im = new Float64Array(fft.bins);
    fft.forward(frame, re, im);
    return re.map((value, bin) => value * value + im[bin]! * im[bin]!);
  }

  test.each([
    [0, 128],
    [-256, 2_900],
    [1_000, 1_000],
    [-600, 4_000],
  ])('tells two frames apart that begin at %i and %i, with silence around the signal', (start, other) => {
    spectra.take(samples, start, other);
    for (const [found, at] of [
      [spectra.first, start],
      [spectra.second, other],
    ] as const) {
      const wanted = plainly(at);
      const most = Math.max(...wanted, 1);
      const farthest = found.reduce((worst, power, bin) => Math.max(worst, Math.abs(power - wanted[bin]!)), 0);
      expect(farthest / most).toBeLessThan(1e-5);
    }
  });

  test('has a quarter of the size squared over four in the bin of a full-scale sine', () => {
    const sine = Float32Array.from({ length: size }, (_, i) => Math.sin((2 * Math.PI * 20 * i) / size));
    spectra.take(sine, 0, size);
    expect(spectra.first[20]).toBeCloseTo(size ** 2 / 16, 0);
    expect(Math.max(...spectra.second)).toBeLessThan(size ** 2 * 1e-12);
  });
});
