import { largest, noise } from '../testing/signals';
import { hannWindow, RealFft } from './fft';
import { pairTransform, PlainPairs } from './pair-transform';

/** Bins of both channels as they are by definition: Z = L + iR. */
function expected(left: Float32Array, right: Float32Array, window: Float64Array): { re: number[]; im: number[] } {
  const size = window.length;
  const fft = new RealFft(size);
  const of = (samples: Float32Array): { re: Float64Array; im: Float64Array } => {
    const re = new Float64Array(fft.bins);
    const im = new Float64Array(fft.bins);
    fft.forward(
      window.map((weight, i) => weight * samples[i]!),
      re,
      im,
    );
    return { re, im };
  };
  const [l, r] = [of(left), of(right)];
  const sides = Array.from({ length: size }, (_, k) => (k <= size / 2 ? [k, 1] : [size - k, -1])) as [number, number][];
  return {
    re: sides.map(([k, side]) => l.re[k]! - side * r.im[k]!),
    im: sides.map(([k, side]) => side * l.im[k]! + r.re[k]!),
  };
}

describe('spectra of two channels at once', () => {
  it.each([
    ['compiled', 64],
    ['compiled', 128],
    ['compiled', 2048],
    ['compiled', 4096],
    ['compiled', 16_384],
    ['plain', 64],
    ['plain', 2048],
  ])('are those of the two, %s, %i samples, and lead back to them', (kind, size) => {
    const window = hannWindow(size);
    const transform = kind === 'plain' ? new PlainPairs(size, window) : pairTransform(size, window);
    expect(transform.compiled !== undefined).toBe(kind === 'compiled');
    const [left, right] = [noise(size + 10, 1), noise(size + 10, 2)];
    const at = transform.allocate();
    transform.forward(left, right, 7, at);
    const wanted = expected(left.subarray(7), right.subarray(7), window);
    const memory = transform.memory();
    const scale = Math.sqrt(size);
    expect(largest(0, size, (k) => (memory[at + transform.places[k]!]! - wanted.re[k]!) / scale)).toBeLessThan(2e-6);
    expect(largest(0, size, (k) => (memory[at + transform.places[k]! + 4]! - wanted.im[k]!) / scale)).toBeLessThan(2e-6);
    transform.inverse(at);
    const sample = (i: number, channel: number): number => memory[at + (i >> 2) * 8 + (i & 3) + 4 * channel]! / size;
    expect(largest(0, size, (i) => sample(i, 0) - window[i]! * left[7 + i]!)).toBeLessThan(1e-6);
    expect(largest(0, size, (i) => sample(i, 1) - window[i]! * right[7 + i]!)).toBeLessThan(1e-6);
  });
});
