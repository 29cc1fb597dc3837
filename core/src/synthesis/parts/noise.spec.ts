import { runSource } from '../../testing/synthesis';
import { RealFft, hannWindow } from '../../dsp/fft';
import { noise } from './noise';

const sampleRate = 48_000;

/** Mean power of bands an octave wide around some frequencies, in decibels per hertz. */
function densities(samples: Float64Array, centres: readonly number[]): number[] {
  const size = 16_384;
  const fft = new RealFft(size);
  const window = hannWindow(size);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  const power = new Float64Array(fft.bins);
  for (let at = 0; at + size <= samples.length; at += size / 2) {
    fft.forward(
      samples.subarray(at, at + size).map((sample, i) => sample * window[i]!),
      re,
      im,
    );
    for (let bin = 0; bin < fft.bins; bin++) power[bin]! += re[bin]! ** 2 + im[bin]! ** 2;
  }
  return centres.map((centre) => {
    const from = Math.round(((centre / Math.SQRT2) * size) / sampleRate);
    const to = Math.round((centre * Math.SQRT2 * size) / sampleRate);
    return 10 * Math.log10(power.subarray(from, to).reduce((sum, each) => sum + each, 0) / (to - from));
  });
}

const rootMeanSquare = (samples: Float64Array): number => Math.sqrt(samples.reduce((sum, each) => sum + each * each, 0) / samples.length);

describe('noise', () => {
  it.each([-12, -9, -6.5, -6, -3, -0.5, 3, 6])('falls or rises by %s dB per octave, within half a decibel', (slope) => {
    const samples = runSource(noise, { texture: 'steady', slope, apart: 0 }, 440, 40 * sampleRate)[0];
    const [low, middle, high] = densities(samples, [62.5, 1_000, 8_000]);
    expect(Math.abs((middle! - low!) / 4 - slope)).toBeLessThan(0.5);
    expect(Math.abs((high! - middle!) / 3 - slope)).toBeLessThan(0.5);
  });

  it('has one level, whatever its slope', () => {
    for (const slope of [-6, -3, 0, 2.9, 6])
      expect(rootMeanSquare(runSource(noise, { slope, apart: 0 }, 440, 20 * sampleRate)[0])).toBeCloseTo(0.25, 1);
  });

  it('keeps left and right as far apart as it is told', () => {
    const correlation = (apart: number): number => {
      const [left, right] = runSource(noise, { slope: 0, apart }, 440, 96_000);
      return left.reduce((sum, each, i) => sum + each * right[i]!, 0) / (left.length * rootMeanSquare(left) * rootMeanSquare(right));
    };
    expect(correlation(0)).toBeCloseTo(1, 6);
    expect(correlation(0.4)).toBeCloseTo(0.6, 1);
    expect(correlation(1)).toBeCloseTo(0, 1);
  });

  it('throws as many grains of dust as its density says, and the same ones again', () => {
    const samples = runSource(noise, { texture: 'dust', density: 200, slope: 0, apart: 0 }, 440, 20 * sampleRate)[0];
    const grains = samples.filter((sample) => sample !== 0).length;
    expect(Math.abs(grains / 20 - 200)).toBeLessThan(15);
    expect(runSource(noise, { texture: 'dust', density: 200, slope: 0, apart: 0 }, 440, 4_800)[0]).toEqual(samples.subarray(0, 4_800));
    expect(runSource(noise, { texture: 'dust', density: 200, slope: 0, apart: 0 }, 440, 4_800, 2)[0]).not.toEqual(
      samples.subarray(0, 4_800),
    );
  });

  it('keeps a band around the note, and a wander below it', () => {
    const band = densities(runSource(noise, { texture: 'band', width: 0.2, apart: 0 }, 1_000, 4 * sampleRate)[0], [250, 1_000, 4_000]);
    expect(band[1]! - band[0]!).toBeGreaterThan(18);
    expect(band[1]! - band[2]!).toBeGreaterThan(18);
    const wander = densities(runSource(noise, { texture: 'smooth', apart: 0 }, 200, 4 * sampleRate)[0], [100, 3_200]);
    expect(wander[0]! - wander[1]!).toBeGreaterThan(40);
  });
});
