import fc from 'fast-check';
import { createRandom } from '../dsp/random';
import type { Audio } from '../audio/audio';
import { timbreDistance, timbrePrint } from './timbre';

const sampleRate = 48_000;

interface Tap {
  readonly frequency: number;
  readonly decay: number;
  readonly noise: number;
  readonly delay: number;
  readonly gain: number;
}
const plain: Tap = { frequency: 500, decay: 0.2, noise: 0.3, delay: 0.15, gain: 1 };

/** Two taps behind each other, each of a tone and noise. */
function taps(changes: Partial<Tap> = {}, seed = 1): Audio {
  const { frequency, decay, noise, delay, gain } = { ...plain, ...changes };
  const random = createRandom(seed);
  const samples = new Float32Array(sampleRate);
  for (const [start, pitch, level] of [
    [0.02, frequency, 1],
    [0.02 + delay, 1.7 * frequency, 0.7 * gain],
  ] as const) {
    for (let i = Math.round(start * sampleRate); i < samples.length; i++) {
      const time = i / sampleRate - start;
      const hiss = noise * (2 * random.next() - 1) * Math.exp(-time / (0.3 * decay));
      samples[i]! += 0.3 * level * (Math.sin(2 * Math.PI * pitch * time) * Math.exp(-time / decay) + hiss);
    }
  }
  return { sampleRate, channels: [samples] };
}
const distance = (a: Audio, b: Audio): number => timbreDistance(timbrePrint(a), timbrePrint(b));
const scaled = ({ channels }: Audio, gain: number): Audio => ({
  sampleRate,
  channels: channels.map((channel) => channel.map((sample) => sample * gain)),
});
const later = ({ channels }: Audio, frames: number): Audio => ({
  sampleRate,
  channels: channels.map((channel) => {
    const moved = new Float32Array(channel.length + frames);
    moved.set(channel, frames);
    return moved;
  }),
});

/** Spearman's rank correlation of values with their places. */
function rankCorrelation(values: readonly number[]): number {
  const ranks = values.map((value) => values.filter((other) => other < value).length);
  const n = values.length;
  return 1 - (6 * ranks.reduce((sum, rank, i) => sum + (rank - i) ** 2, 0)) / (n * (n * n - 1));
}

describe('the distance between two sounds', () => {
  it('is 0 for the same one, however loud it is', () => {
    expect(distance(taps(), taps())).toBe(0);
    for (const gain of [0.01, 0.5, 3]) expect(distance(taps(), scaled(taps(), gain))).toBeLessThan(0.01);
  });

  it('is next to nothing for the same one later, with silence around it', () => {
    for (const frames of [1, 233, 480, 7_201, 24_000]) expect(distance(taps(), later(taps(), frames))).toBeLessThan(0.05);
  });

  it('is symmetric and never negative', () => {
    fc.assert(
      fc.property(fc.double({ min: 100, max: 4_000, noNaN: true }), fc.double({ min: 0.02, max: 0.5, noNaN: true }), (frequency, decay) => {
        const [a, b] = [timbrePrint(taps()), timbrePrint(taps({ frequency, decay }, 7))];
        expect(timbreDistance(a, b)).toBe(timbreDistance(b, a));
        expect(timbreDistance(a, b)).toBeGreaterThanOrEqual(0);
      }),
      { numRuns: 20 },
    );
  });

  it.each([
    ['pitch', (step: number) => ({ frequency: 500 * 2 ** (step / 24) })],
    ['length', (step: number) => ({ decay: 0.2 * 1.12 ** step })],
    ['share of noise', (step: number) => ({ noise: 0.3 * 1.25 ** step })],
    ['start of one of its parts', (step: number) => ({ delay: 0.15 + 0.006 * step })],
    ['level of one of its parts', (step: number) => ({ gain: 10 ** (step / 20) })],
  ])('grows with a change of %s (rank correlation of at least 0.95)', (_, changed) => {
    const original = timbrePrint(taps());
    const distances = Array.from({ length: 12 }, (_step, step) => timbreDistance(original, timbrePrint(taps(changed(step)))));
    expect(distances[0]).toBe(0);
    expect(rankCorrelation(distances)).toBeGreaterThanOrEqual(0.95);
  });

  it('of silence and of what is shorter than a window are numbers', () => {
    const silent = { sampleRate, channels: [new Float32Array(1_000)] };
    const short = { sampleRate, channels: [Float32Array.of(0.5, -0.5, 0.5)] };
    expect(distance(silent, silent)).toBe(0);
    for (const [a, b] of [
      [silent, short],
      [short, taps()],
      [silent, taps()],
      [{ sampleRate, channels: [new Float32Array(0)] }, taps()],
    ] as const)
      expect(distance(a, b)).toBeGreaterThan(5);
  });
});
