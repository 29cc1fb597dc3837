import type { Block } from '../block';
import { amplitudeAt, noise, sine } from '../../testing/signals';
import { Crossover } from './crossover';
import { RealFft } from '../fft';

const rate = 48_000;

function split(input: Float32Array, splits: readonly number[], blocks: readonly number[] = [1_024], moved = splits): Float32Array[] {
  const count = splits.length + 1;
  const crossover = new Crossover(count, 1, rate);
  const bands = Array.from({ length: count }, () => new Float32Array(input.length));
  for (let at = 0, turn = 0; at < input.length; turn++) {
    const frames = Math.min(blocks[turn % blocks.length]!, input.length - at, at < 4_096 ? 4_096 - at : Infinity);
    const into: Block[] = bands.map((samples) => ({ channels: [samples.subarray(at, at + frames)], frames }));
    crossover.process(at < 4_096 ? splits : moved, [input.subarray(at, at + frames)], into, frames);
    at += frames;
  }
  return bands;
}

const sum = (bands: readonly Float32Array[]): Float32Array => bands[0]!.map((_, i) => bands.reduce((all, band) => all + band[i]!, 0));

describe('crossover', () => {
  it.each([
    [2, [400]],
    [3, [160, 2_200]],
    [4, [90, 600, 6_000]],
    [6, [60, 200, 800, 3_000, 11_000]],
  ])('into %i bands sums flat within 0.05 dB', (_, splits) => {
    const size = 32_768;
    const impulse = new Float32Array(size);
    impulse[0] = 1;
    const fft = new RealFft(size);
    const re = new Float64Array(fft.bins);
    const im = new Float64Array(fft.bins);
    fft.forward(Float64Array.from(sum(split(impulse, splits))), re, im);
    let worst = 0;
    for (let k = 1; k < fft.bins; k++) worst = Math.max(worst, Math.abs(20 * Math.log10(Math.hypot(re[k]!, im[k]!))));
    // Reached: 0.001 dB.
    expect(worst).toBeLessThan(0.05);
  });

  it('falls by 6 dB at the split and by 24 dB per octave beyond it', () => {
    const level = (band: number, frequency: number): number =>
      20 * Math.log10(amplitudeAt(split(sine(frequency, 0.5, rate, 0), [500])[band]!, frequency, rate, 12_000, 24_000));
    expect(level(0, 500)).toBeCloseTo(-6.02, 1);
    expect(level(1, 500)).toBeCloseTo(-6.02, 1);
    expect(level(0, 1_500) - level(0, 3_000)).toBeCloseTo(24, 0);
    expect(level(1, 125) - level(1, 62.5)).toBeCloseTo(24, 0);
  });

  it('gives the same in blocks of any size, also while a split moves', () => {
    const input = noise(9_000, 4, -6);
    const whole = split(input, [300, 3_000], [4_096], [700, 2_000]);
    expect(split(input, [300, 3_000], [1, 64, 513, 7], [700, 2_000])).toEqual(whole);
  });

  it('keeps splits in order that are not', () => {
    const bands = split(noise(4_000, 5, -6), [2_000, 300]);
    for (const band of bands) expect(band.every((sample) => Number.isFinite(sample))).toBe(true);
  });
});
