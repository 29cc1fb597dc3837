import fc from 'fast-check';
import { sine } from '../testing/signals';
import { InterSampleReader, interSampleReach } from './inter-sample';
import { createRandom } from './random';

const everything = -1;

function peaksOf(samples: Float32Array, matters = everything): Float32Array {
  const peaks = new Float32Array(samples.length);
  new InterSampleReader().read(samples, 0, samples.length, matters, peaks);
  return peaks;
}

const decibels = (value: number): number => 20 * Math.log10(value);
const most = (peaks: Float32Array): number => peaks.reduce((peak, value) => Math.max(peak, value), 0);

/** Noise that holds nothing above a share of half the rate: a sum of sines at random phases, whose height anywhere is known. */
function tones(seed: number, rate: number, highest: number): { samples: Float32Array; at: (time: number) => number } {
  const random = createRandom(seed);
  const parts = Array.from({ length: 24 }, () => ({ frequency: 50 + random.next() * (highest - 50), phase: 2 * Math.PI * random.next() }));
  const at = (time: number): number =>
    parts.reduce((sum, { frequency, phase }) => sum + Math.sin(2 * Math.PI * frequency * time + phase), 0) / 24;
  return { samples: Float32Array.from({ length: 4_000 }, (_, i) => at(i / rate)), at };
}

describe('reading between samples', () => {
  it.each([
    [48_000, 20_000],
    [48_000, 22_000],
    [44_100, 20_000],
    [96_000, 44_000],
  ])('at %i Hz, reads sines of up to %i Hz within 0.02 dB, wherever their samples lie', (rate, highest) => {
    for (let frequency = highest; frequency > 900; frequency *= 0.83)
      for (let phase = 0; phase < 0.5; phase += 0.05) {
        // Whole fractions of the rate have the same places again and again.
        const even = rate / Math.round(rate / frequency);
        for (const hertz of [frequency, Math.min(even, highest)]) {
          const samples = sine(hertz, 0.02, rate, 0, 2 * Math.PI * phase);
          const heard = peaksOf(samples).subarray(2 * interSampleReach);
          expect(most(heard)).toBeLessThan(10 ** (0.02 / 20));
          // Where no sample lies near a top, those that come later do, or the top is read between them.
          expect(decibels(most(heard))).toBeGreaterThan(-0.02);
        }
      }
  });

  it('follows a signal whose height is known, sample by sample', () => {
    for (const seed of [1, 2, 3]) {
      const rate = 48_000;
      const { samples, at } = tones(seed, rate, 20_000);
      const peaks = peaksOf(samples);
      for (let i = 200; i < 3_000; i++) {
        const highest = (from: number, to: number): number => {
          let height = 0;
          for (let n = from; n <= to; n++) height = Math.max(height, Math.abs(at((i + n / 64) / rate)));
          return height;
        };
        // What is highest near the next sample is read there.
        expect(peaks[i + interSampleReach]!).toBeLessThan(highest(-4, 68) + 0.001);
        expect(Math.max(peaks[i + interSampleReach]!, peaks[i + interSampleReach + 1]!)).toBeGreaterThan(highest(0, 64) - 0.001);
      }
    }
  });

  it('is the same compiled and not', () => {
    const { samples } = tones(5, 48_000, 23_000);
    for (const matters of [-1, 0.2, 0.5]) {
      const plain = new Float32Array(512);
      new InterSampleReader(false).read(samples, 0, 128, matters, plain);
      const compiled = peaksOf(samples.subarray(0, 128), matters);
      for (let i = 0; i < 128; i++) expect(Math.abs(compiled[i]! - plain[i]!)).toBeLessThan(2e-6);
    }
  });

  it('misses no peak that matters, in pieces of any length', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1_000 }),
        fc.integer({ min: 1, max: 400 }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (seed, piece, share) => {
          const { samples } = tones(seed, 48_000, 22_000);
          const whole = peaksOf(samples);
          const matters = share * most(whole);
          const reader = new InterSampleReader();
          const late = new Float32Array(samples.length);
          for (let from = 0; from < samples.length; from += piece) {
            const to = Math.min(samples.length, from + piece);
            const [peaks, delayed] = [new Float32Array(to - from), new Float32Array(to - from)];
            reader.read(samples, from, to, matters, peaks, delayed);
            late.set(delayed, from);
            peaks.forEach((peak, i) => {
              const exact = whole[from + i]!;
              if (exact > matters) expect(peak).toBeCloseTo(exact, 6);
              else expect(peak).toBeLessThanOrEqual(matters);
            });
          }
          expect(late.subarray(interSampleReach)).toEqual(samples.subarray(0, samples.length - interSampleReach));
        },
      ),
      { numRuns: 30, seed: -196236572, examples: [[384, 1, 0.1144513001584281]] },
    );
  });
});
