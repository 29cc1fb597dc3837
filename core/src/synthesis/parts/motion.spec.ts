import { bentShare } from '../../automation/lane-value';
import { partWith, patchWith, playerNote, playPatch, runSource } from '../../testing/synthesis';
import { drop, dropInterval } from './drop';
import { sweep } from './sweep';

const sampleRate = 48_000;

/** Frequency between the zero crossings around a moment. */
function frequencyAt(samples: Float64Array | Float32Array, seconds: number): number {
  const crossings: number[] = [];
  for (let i = Math.round(seconds * sampleRate); crossings.length < 2; i++)
    if (samples[i - 1]! < 0 && samples[i]! >= 0) crossings.push(i - samples[i]! / (samples[i]! - samples[i - 1]!));
  return sampleRate / (crossings[1]! - crossings[0]!);
}
const level = (samples: Float64Array, from: number, to: number): number => {
  const part = samples.subarray(Math.round(from * sampleRate), Math.round(to * sampleRate));
  return 10 * Math.log10(part.reduce((sum, sample) => sum + sample * sample, 0) / part.length);
};

describe('a sub drop', () => {
  it('falls onto its note by its bend, and sags on', () => {
    const values = { fall: 36, time: 0.5, bend: -0.4, sag: 12 };
    const wave = runSource(drop, values, 100, 2 * sampleRate)[0];
    for (const seconds of [0.05, 0.2, 0.4, 0.9, 1.5]) {
      const measured = frequencyAt(wave, seconds);
      // Over one period, the way bends little.
      const middle = seconds + 0.75 / measured;
      expect(12 * Math.log2(measured / (100 * 2 ** (dropInterval(values, middle) / 12)))).toBeCloseTo(0, 0);
    }
    expect(dropInterval(values, 0)).toBe(36);
    expect(dropInterval(values, 0.5)).toBeCloseTo(0, 9);
    expect(dropInterval(values, 1.5)).toBeCloseTo(-12, 9);
  });

  it('is as loud at its peak with harmonics as without', () => {
    for (const weight of [0, 0.5, 1]) {
      const wave = runSource(drop, { fall: 0, weight }, 60, sampleRate)[0];
      const peak = wave.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
      expect(peak).toBeLessThanOrEqual(1);
      expect(peak).toBeGreaterThan(0.75);
    }
  });
});

it('keeps a drop within what can be heard, whatever its dials say', () => {
  for (const frequency of [0.01, 12_000]) {
    const wave = runSource(drop, { fall: 60, time: 10, sag: 48, weight: 1 }, frequency, sampleRate)[0];
    expect(wave.every((sample) => Math.abs(sample) <= 1)).toBe(true);
    expect(frequencyAt(wave, 0.1)).toBeLessThanOrEqual(8_000.1);
    expect(frequencyAt(wave, 0.1)).toBeGreaterThanOrEqual(4.9);
  }
});

describe('a sweep', () => {
  const bare = { air: -96, grains: -96, tone: 0, swell: 0, shape: 'sine' };
  const run = (values: Parameters<typeof runSource>[1], frequency: number, seconds: number) =>
    runSource(sweep, values, frequency, seconds * sampleRate, 1, {}, seconds * sampleRate)[0];

  it('arrives at its note as the note ends', () => {
    const wave = run({ ...bare, rise: 24, bend: 0.3 }, 880, 3);
    expect(frequencyAt(wave, 0.001) / 220).toBeCloseTo(1, 1);
    expect(frequencyAt(wave, 2.99) / 880).toBeCloseTo(1, 1);
    const half = 24 * (bentShare(0.5, 0.3) - 1);
    expect(12 * Math.log2(frequencyAt(wave, 1.497) / 880)).toBeCloseTo(half, 0);
    // One that falls comes from above.
    expect(frequencyAt(run({ ...bare, rise: -12 }, 440, 1), 0.001) / 880).toBeCloseTo(1, 1);
  });

  it('waits where it begins when it takes less time than its note', () => {
    const wave = run({ ...bare, rise: 12, bend: 0, lasts: 'the end of it', time: 0.5 }, 880, 2);
    expect(frequencyAt(wave, 1.2) / 440).toBeCloseTo(1, 2);
    expect(12 * Math.log2(frequencyAt(wave, 1.748) / 440)).toBeCloseTo(6, 0);
    expect(frequencyAt(wave, 1.99) / 880).toBeCloseTo(1, 1);
  });

  it('swells by as much as it says', () => {
    const wave = run({ ...bare, rise: 0, swell: 40, bend: 0 }, 440, 2);
    // At the ends of a quarter, a straight way is at 30 and at 10 dB.
    expect(level(wave, 0.49, 0.51) - level(wave, 1.49, 1.51)).toBeCloseTo(-20, 0);
    expect(level(wave, 1.98, 2)).toBeCloseTo(-3, 0);
  });

  it('gathers grains: as many as their density says', () => {
    const [left, right] = runSource(
      sweep,
      { ...bare, tone: -96, grains: 0, sparse: 5, dense: 40, bend: 0 },
      440,
      8 * sampleRate,
      3,
      {},
      8 * sampleRate,
    );
    let grains = 0;
    let quietSince = -1_000;
    let early = 0;
    for (let i = 0; i < left.length; i++)
      if (left[i]! ** 2 + right[i]! ** 2 > 1e-3) {
        if (i - quietSince > 240) {
          grains++;
          if (i < 4 * sampleRate) early++;
        }
        quietSince = i;
      }
    // An exponential way from 5 to 40 a second: 8 (40 − 5) / ln 8.
    expect(Math.abs(grains / ((8 * 35) / Math.log(8)) - 1)).toBeLessThan(0.1);
    expect(Math.abs(early / ((8 * (Math.sqrt(200) - 5)) / Math.log(8)) - 1)).toBeLessThan(0.15);
  });

  it('is at the same place for who jumps into it', () => {
    const patch = patchWith([partWith('a', 'sweep', { ...bare, rise: 24, sustain: 1, strengthLevel: 0 })]);
    const notes = [playerNote(0, 2, 69)];
    const [whole] = playPatch(patch, notes, 2 * sampleRate);
    const [late] = playPatch(patch, notes, sampleRate, 1_024, sampleRate);
    for (const seconds of [0.2, 0.6, 0.9]) {
      const there = frequencyAt(whole, 1 + seconds);
      expect(frequencyAt(late, seconds) / there).toBeCloseTo(1, 2);
    }
  });
});
