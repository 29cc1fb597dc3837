import { noise } from '../testing/signals';
import { RealFft } from './fft';

describe('RealFft', () => {
  it.each([4, 8, 16, 64, 128])('matches the discrete Fourier transform by definition, at length %i', (size) => {
    const input = noise(size, 3);
    const fft = new RealFft(size);
    const re = new Float64Array(fft.bins);
    const im = new Float64Array(fft.bins);
    fft.forward(input, re, im);
    for (let k = 0; k < fft.bins; k++) {
      let sumRe = 0;
      let sumIm = 0;
      for (let i = 0; i < size; i++) {
        sumRe += input[i]! * Math.cos((2 * Math.PI * k * i) / size);
        sumIm -= input[i]! * Math.sin((2 * Math.PI * k * i) / size);
      }
      expect(re[k]).toBeCloseTo(sumRe, 10);
      expect(im[k]).toBeCloseTo(sumIm, 10);
    }
  });

  it.each([4, 8, 512, 4096])('returns to the signal after forward and inverse of length %i', (size) => {
    const input = Float64Array.from(noise(size, 9));
    const fft = new RealFft(size);
    const re = new Float64Array(fft.bins);
    const im = new Float64Array(fft.bins);
    const back = new Float64Array(size);
    fft.forward(input, re, im);
    fft.inverse(re, im, back);
    expect(Math.max(...back.map((value, i) => Math.abs(value - input[i]!)))).toBeLessThan(1e-13);
  });

  it('refuses lengths that are not powers of two', () => {
    expect(() => new RealFft(48)).toThrow('not a power of two');
  });
});
