import type { Audio } from '../../audio/audio';
import { RealFft } from '../../dsp/fft';
import { amplitudeAt } from '../../testing/signals';
import { runSource } from '../../testing/synthesis';
import { cyclesOf, periodAt } from './cut-cycles';
import { table } from './table';
import { levelFor, readTable, tableOfHarmonics } from './wave-table';

const sampleRate = 48_000;
type Values = Parameters<typeof runSource>[1];
const at = (values: Values, frequency: number, harmonic: number, recordings: Readonly<Record<string, Audio>> = {}): number =>
  amplitudeAt(
    Float32Array.from(runSource(table, values, frequency, 24_000, 1, recordings)[0]),
    frequency * harmonic,
    sampleRate,
    4_800,
    24_000,
  );
/** A saw of a hundred harmonics, whose period is no whole number of frames. */
const saw = (frequency: number, frames: number): Float32Array =>
  Float32Array.from({ length: frames }, (_, i) => {
    let sum = 0;
    for (let h = 1; h * frequency < 20_000 && h <= 100; h++) sum += Math.sin((2 * Math.PI * h * frequency * i) / sampleRate + 1) / h;
    return sum / 2;
  });

describe('a table', () => {
  it('is at its beginning where rounding has brought a place to a whole period', () => {
    const samples = tableOfHarmonics([1, 0.5]).level(0);
    const place = -1e-17;
    expect(readTable(samples, place - Math.floor(place))).toBe(readTable(samples, 0));
  });

  it('has the harmonics that were drawn, and nothing else', () => {
    const drawn = { lastHarmonics: '', firstHarmonics: '100 0 50 0 0 25' };
    const [one, three, six] = [1, 3, 6].map((harmonic) => at(drawn, 200, harmonic));
    expect(three! / one!).toBeCloseTo(0.5, 3);
    expect(six! / one!).toBeCloseTo(0.25, 3);
    for (const harmonic of [2, 4, 5, 7, 20]) expect(at(drawn, 200, harmonic)).toBeLessThan(1e-4);
    const wave = runSource(table, drawn, 200, 4_800)[0];
    expect(Math.max(...wave.map(Math.abs))).toBeCloseTo(1, 2);
  });

  it('turns from the first into the last by its position', () => {
    const values = { firstHarmonics: '100', lastHarmonics: '0 100' };
    for (const position of [0, 0.25, 0.5, 1]) {
      expect(at({ ...values, position }, 300, 1)).toBeCloseTo(1 - position, 3);
      expect(at({ ...values, position }, 300, 2)).toBeCloseTo(position, 3);
    }
  });

  it('plays a cycle that was drawn', () => {
    // A square of 64 points, at its peak of one: what is left of its harmonics below half its points.
    const square = Array.from({ length: 64 }, (_, i) => (i < 32 ? 100 : -100)).join(' ');
    const [one, two, three] = [1, 2, 3].map((harmonic) => at({ made: 'a drawing', firstDrawing: square }, 100, harmonic));
    expect(three! / one!).toBeCloseTo(1 / 3, 2);
    expect(two!).toBeLessThan(1e-3);
    // Nothing drawn is a triangle.
    expect(at({ made: 'a drawing' }, 100, 3) / at({ made: 'a drawing' }, 100, 1)).toBeCloseTo(1 / 9, 2);
  });

  it.each([
    ['harmonics', { position: 1 }],
    ['between two', { position: 0.5 }],
    ['a drawing', { made: 'a drawing', position: 1 }],
  ])('folds nothing above −80 dB back from 20 Hz to 10 kHz: %s', (_, values) => {
    const size = 32_768;
    const fft = new RealFft(size);
    const [re, im] = [new Float64Array(fft.bins), new Float64Array(fft.bins)];
    for (const cycles of [17, 67, 683, 1_511, 3_001, 4_507, 6_827]) {
      const frames = runSource(table, values, (cycles * sampleRate) / size, size + 4_096)[0].subarray(4_096);
      fft.forward(frames, re, im);
      let most = 0;
      for (let bin = 1; bin < size / 2; bin++) if (bin % cycles !== 0) most = Math.max(most, Math.hypot(re[bin]!, im[bin]!) / (size / 2));
      expect({ cycles, quiet: 20 * Math.log10(most) < -80 }).toEqual({ cycles, quiet: true });
    }
  });

  it('loses its highest harmonics without a jump as its pitch rises', () => {
    expect(levelFor(1 / 4_096)).toBe(0);
    for (const increment of [0.0003, 0.001, 0.02, 0.3, 0.5]) {
      const spectrum = new Float64Array(512).fill(1);
      const wave = tableOfHarmonics(spectrum).level(levelFor(increment));
      // As many as there are below half the rate, or half an octave fewer.
      const energy = wave.slice(1, 4_097).reduce((sum, sample) => sum + sample * sample, 0) / 4_096;
      const all = tableOfHarmonics(spectrum).level(0).slice(1, 4_097);
      const each = all.reduce((sum, sample) => sum + sample * sample, 0) / 4_096 / 512;
      const kept = energy / each;
      expect(kept).toBeLessThanOrEqual(0.5 / increment + 1e-3);
      expect(kept).toBeGreaterThan(Math.min(512, 0.5 / increment) / Math.SQRT2 - 1.01);
    }
  });

  it('finds the period of a recording within a thousandth, and cuts its cycle out of it', () => {
    for (const frequency of [41.3, 110.7, 333.3, 987]) {
      const period = periodAt(saw(frequency, 9_600), 3_000, sampleRate);
      expect(Math.abs((period * frequency) / sampleRate - 1)).toBeLessThan(1e-3);
    }
    const audio = { sampleRate, channels: [saw(220.5, 48_000)] };
    const values = { made: 'a source', position: 0.5, begin: 0.1, end: 0.9 };
    const one = at(values, 330, 1, { source: audio });
    for (const harmonic of [2, 3, 10, 30]) expect(at(values, 330, harmonic, { source: audio }) / one / (1 / harmonic)).toBeCloseTo(1, 1);
  });

  it('is silent without a source, and with a silent one', () => {
    const silent: readonly Readonly<Record<string, Audio>>[] = [{}, { source: { sampleRate, channels: [new Float32Array(9_600)] } }];
    for (const recordings of silent) {
      const wave = runSource(table, { made: 'a source' }, 220, 4_800, 1, recordings)[0];
      expect(wave.every((sample) => sample === 0)).toBe(true);
    }
    expect(cyclesOf({ sampleRate, channels: [new Float32Array(3)] }, 0, 1)).toHaveLength(16);
  });
});
