import { RealFft } from '../../dsp/fft';
import { amplitudeAt } from '../../testing/signals';
import { runSource } from '../../testing/synthesis';
import { oscillator } from './oscillator';

const sampleRate = 48_000;
const size = 32_768;

/** The loudest of what is no harmonic, in decibels of full scale; `cycles` of the wave fill the frames, so that harmonics lie on bins of their own. */
function aliasOf(values: Parameters<typeof runSource>[1], cycles: number): number {
  const settle = 4_096;
  const frequency = (cycles * sampleRate) / size;
  const frames = runSource(oscillator, values, frequency, size + settle)[0].subarray(settle);
  const fft = new RealFft(size);
  const re = new Float64Array(fft.bins);
  const im = new Float64Array(fft.bins);
  fft.forward(frames, re, im);
  let most = 0;
  for (let bin = 1; bin < size / 2; bin++) if (bin % cycles !== 0) most = Math.max(most, Math.hypot(re[bin]!, im[bin]!) / (size / 2));
  return 20 * Math.log10(most);
}

// Numbers of cycles from 20 Hz to 10 kHz that divide nothing.
const pitches = [17, 67, 683, 1_511, 3_001, 4_507, 6_827];

describe('the oscillator', () => {
  it.each([
    ['sine', { shape: 'sine' }],
    ['triangle', { shape: 'triangle' }],
    ['steepest triangle', { shape: 'triangle', width: 0.001 }],
    ['saw', { shape: 'saw' }],
    ['square', { shape: 'pulse' }],
    ['narrowest pulse', { shape: 'pulse', width: 0.001 }],
    ['widest pulse', { shape: 'pulse', width: 0.999 }],
    ['synced sine', { shape: 'sine', synced: true, sync: 2.7 }],
    ['synced saw', { shape: 'saw', synced: true, sync: 3.3 }],
    ['synced triangle', { shape: 'triangle', synced: true, sync: 15.9 }],
    ['synced pulse', { shape: 'pulse', width: 0.3, synced: true, sync: 1.5 }],
    ['sine that is synced beyond what can be heard', { shape: 'sine', synced: true, sync: 16 }],
  ])('folds nothing above −85 dB back: %s', (_, values) => {
    for (const cycles of pitches) expect({ cycles, quiet: aliasOf(values, cycles) < -85 }).toEqual({ cycles, quiet: true });
  });

  it('has the harmonics of its wave', () => {
    const at = (values: Parameters<typeof runSource>[1], harmonic: number): number =>
      amplitudeAt(Float32Array.from(runSource(oscillator, values, 200, 24_000)[0]), 200 * harmonic, sampleRate);
    for (const n of [1, 2, 3, 7, 40]) {
      expect(at({ shape: 'saw' }, n)).toBeCloseTo(2 / (Math.PI * n), 3);
      expect(at({ shape: 'pulse', width: 0.1 }, n)).toBeCloseTo((4 / (Math.PI * n)) * Math.abs(Math.sin(Math.PI * n * 0.1)), 3);
      expect(at({ shape: 'triangle' }, n)).toBeCloseTo(n % 2 ? 8 / (Math.PI * n) ** 2 : 0, 3);
    }
  });

  it('begins on its frame, at its phase', () => {
    expect(runSource(oscillator, {}, 1_000, 12)[0][3]).toBeCloseTo(Math.sin((2 * Math.PI * 3) / 48), 6);
    expect(runSource(oscillator, { phase: 0.25 }, 1_000, 12)[0][0]).toBeCloseTo(1, 6);
    // A saw rises from 0; by its tenth frame, nothing is left of how its beginning was cut.
    expect(runSource(oscillator, { shape: 'saw' }, 100, 60)[0][50]).toBeCloseTo((2 * 50) / 480, 2);
  });

  it('spreads a stack evenly around its pitch and over both sides', () => {
    const [left, right] = runSource(oscillator, { stack: 3, spread: 0.5, stackWidth: 1 }, 1_000, 96_000).map((side) =>
      Float32Array.from(side),
    );
    const low = 1_000 * 2 ** (-0.5 / 12);
    const high = 1_000 * 2 ** (0.5 / 12);
    expect(amplitudeAt(left!, low, sampleRate)).toBeCloseTo(Math.SQRT2 / Math.sqrt(3), 2);
    expect(amplitudeAt(right!, low, sampleRate)).toBeLessThan(0.01);
    expect(amplitudeAt(right!, high, sampleRate)).toBeCloseTo(Math.SQRT2 / Math.sqrt(3), 2);
    expect(amplitudeAt(left!, 1_000, sampleRate)).toBeCloseTo(1 / Math.sqrt(3), 2);
  });
});
