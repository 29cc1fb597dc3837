import { plainStretch } from '../project/create';
import { createRandom } from '../dsp/random';
import { amplitudeAt, mono, sine } from '../testing/signals';
import { makeStretchedPiece, pieceSpan } from './stretched';
import { TreatmentCache, treatmentKey } from './treat-clip';
import type { Treatment } from './treatment';

const rate = 48_000;
const treatment = (changes: Partial<Treatment> = {}): Treatment => ({
  offset: 0,
  length: 100,
  speed: 0,
  reversed: false,
  ...plainStretch,
  method: 'hits',
  ...changes,
});

/** A hundred seconds with a hit at each whole second: 5 ms of noise that falls. */
const hits = new Float32Array(100 * rate);
const random = createRandom(1);
for (let second = 1; second < 100; second++)
  for (let i = 0; i < 0.05 * rate; i++) hits[second * rate + i] = (2 * random.next() - 1) * Math.exp((-8 * i) / (0.05 * rate));

/** What is played of a clip where only the piece between two moments of it is there, and where that piece lies. */
function pieceOf(samples: Float32Array, changes: Partial<Treatment>, from: number, to: number): { samples: Float32Array; at: number } {
  const clip = treatment(changes);
  const audio = mono(samples);
  const piece = makeStretchedPiece(audio, clip, pieceSpan(clip, rate, { from, to }));
  const played = new TreatmentCache(undefined, 0).play('a', audio, clip, undefined, new Map([[treatmentKey('a', clip), piece]]))!;
  return { samples: played.audio.channels[0]!, at: played.pieceFrom! / rate };
}

/** Moments at which a hit begins, in seconds of the clip: the level rises above a tenth after it was below for a while. */
function hitsIn({ samples, at }: { samples: Float32Array; at: number }, threshold = 0.2): number[] {
  const found: number[] = [];
  let quiet = Infinity;
  for (let i = 0; i < samples.length; i++) {
    if (Math.abs(samples[i]!) > threshold) {
      if (quiet > 0.2 * rate) found.push(at + i / rate);
      quiet = 0;
    } else quiet++;
  }
  return found;
}

describe('a piece of a stretched clip', () => {
  it.each<[string, Partial<Treatment>, number, (second: number) => number]>([
    ['twice as long', { stretch: 2 }, 101, (second) => 2 * second],
    ['half as long', { stretch: 0.5 }, 31, (second) => second / 2],
    ['as long, an octave lower', { pitch: -12 }, 51, (second) => second],
    ['an octave faster and then three times as long', { speed: 12, stretch: 3 }, 91, (second) => 1.5 * second],
    ['from another place of its recording', { offset: 20.25, length: 79, stretch: 2 }, 61, (second) => 2 * (second - 20.25)],
    ['backwards', { stretch: 2, reversed: true, length: 99.5 }, 81, (second) => 2 * (99.5 - second)],
    [
      'between pins',
      {
        pins: [
          { at: 10, time: 30 },
          { at: 50, time: 70 },
        ],
      },
      41,
      (second) => second + 20,
    ],
    [
      'backwards between pins',
      {
        reversed: true,
        pins: [
          { at: 50, time: 30 },
          { at: 10, time: 70 },
        ],
      },
      41,
      (second) => 80 - second,
    ],
    // Rounds of nine seconds, of which the first begins with the recording.
    ['of a loop', { stretch: 2, length: 90, loop: { from: 0.5, to: 9.5, crossfade: 0 } }, 121, (second) => 2 * second],
    [
      'of a loop an octave faster',
      { speed: 12, stretch: 2, length: 90, loop: { from: 0.5, to: 9.5, crossfade: 0 } },
      71,
      (second) => second,
    ],
  ])('has its hits where the clip has them: %s', (_name, changes, from, timeOf) => {
    const piece = pieceOf(hits, changes, from, from + 9);
    expect(piece.at).toBeCloseTo(from, 4);
    expect(piece.samples).toHaveLength(9 * rate);
    const expected = Array.from({ length: 99 }, (_, i) => timeOf(i + 1))
      .filter((time) => time > from + 0.2 && time < from + 8.8)
      .sort((a, b) => a - b);
    expect(expected.length).toBeGreaterThan(2);
    const found = hitsIn(piece).filter((time) => time > from + 0.2 && time < from + 8.8);
    expect(found).toHaveLength(expected.length);
    // What plays backwards ends on its attack.
    const lead = changes.reversed ? 0.1 : 0.002;
    for (const [i, time] of found.entries()) {
      expect(time - expected[i]!).toBeGreaterThan(-lead);
      expect(time - expected[i]!).toBeLessThan(0.002);
    }
  });

  it('follows a curve of pitch from where it is', () => {
    const curves = {
      pitch: [
        { at: 0, value: 0 },
        { at: 40, value: -24 },
      ],
    };
    const tone = sine(1_760, 40, rate, -6);
    const { samples } = pieceOf(tone, { length: 40, curves, method: 'tones' }, 19, 23);
    // Half-way it is an octave lower.
    expect(amplitudeAt(samples, 880, rate, 0.98 * rate, 1.02 * rate)).toBeGreaterThan(0.45);
  });

  it.each(['tones', 'texture', 'vast'] as const)('is as loud as the clip: %s', (method) => {
    const tone = sine(440, 60, rate, -6);
    const { samples } = pieceOf(tone, { length: 60, stretch: 4, method }, 100, 103);
    const power = samples.reduce((sum, sample) => sum + sample * sample, 0) / samples.length;
    expect(10 * Math.log10(power)).toBeGreaterThan(-9.03 - 0.5);
    expect(10 * Math.log10(power)).toBeLessThan(-9.03 + 0.5);
  });

  it('begins and ends without a click', () => {
    const { samples } = pieceOf(sine(440, 60, rate, -6), { length: 60, pitch: 12, method: 'tones' }, 20, 22);
    expect(Math.abs(samples[0]!)).toBeLessThan(0.01);
    expect(Math.abs(samples.at(-1)!)).toBeLessThan(0.01);
    expect(amplitudeAt(samples, 880, rate, rate, rate + 4_800)).toBeCloseTo(0.5, 1);
  });

  it('ends with the clip, and is none behind its end', () => {
    expect(pieceOf(hits, { stretch: 2 }, 195, 300).samples).toHaveLength(5 * rate);
    expect(pieceSpan(treatment({ stretch: 2 }), rate, { from: 300, to: 310 })).toEqual({ from: 200 * rate, to: 200 * rate });
    expect(pieceSpan(treatment({ stretch: 2, reversed: true }), rate, { from: -1, to: 1 })).toEqual({ from: 199 * rate, to: 200 * rate });
  });

  it('is not taken where the whole is there', () => {
    const clip = treatment({ stretch: 2, length: 1 });
    const key = treatmentKey('a', clip);
    const whole = mono(new Float32Array(20 * rate).fill(0.5));
    const piece = { audio: mono(new Float32Array(rate)), from: 0 };
    const cache = new TreatmentCache(undefined, 0);
    const played = cache.play('a', mono(hits), clip, new Map([[key, whole]]), new Map([[key, piece]]))!;
    expect(played.pieceFrom).toBeUndefined();
    expect(played.audio.channels[0]![0]).toBe(0.5);
  });
});
