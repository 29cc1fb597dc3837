import * as fc from 'fast-check';
import { mono, noise } from '../testing/signals';
import { playAtSpeed, roundsOf } from './at-speed';
import { isWholeRounds, loopContent, loopContentWithin } from './looped';

/** Every frame holds its own number. */
const numbers = mono(Float32Array.from({ length: 100 }, (_, i) => i));
const within = (start: number, frames: number, crossfade = 0): number[] => [
  ...loopContentWithin(numbers, start, frames, { from: 40, to: 50, crossfade }, 3).channels[0]!,
];

describe('the rounds of a loop', () => {
  it('are the samples that the whole content has, whatever its beginning, its loop and its blend', () => {
    const audio = { ...mono(noise(2_000, 3)), sampleRate: 1_000 };
    fc.assert(
      fc.property(
        fc.nat(2_100),
        fc.nat(1_990),
        fc.integer({ min: 1, max: 800 }),
        fc.nat(300),
        fc.nat(6_000),
        (offset, from, length, crossfade, frames) => {
          const loop = { from: from / 1_000, to: (from + length) / 1_000, crossfade: crossfade / 1_000 };
          const treatment = { offset: offset / 1_000, length: frames / 1_000, speed: 0, reversed: false, loop };
          const whole = playAtSpeed(audio, treatment).channels[0]!;
          const rounds = roundsOf(audio, treatment)!;
          const [held] = rounds.audio.channels;
          const place = (i: number): number => (i < held!.length ? i : held!.length - rounds.period + ((i - held!.length) % rounds.period));
          return whole.every((sample, i) => sample === held![place(i)]);
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('a short clip of a long loop', () => {
  it('holds no more than it plays', () => {
    const bed = { ...mono(noise(60_000, 3)), sampleRate: 1_000 };
    const treatment = { offset: 2, length: 5, speed: 0, reversed: false, loop: { from: 1, to: 59, crossfade: 0 } };
    expect(roundsOf(bed, treatment)!.audio.channels[0]).toHaveLength(5_000);
    expect(roundsOf(bed, { ...treatment, length: 20_000 })!.audio.channels[0]).toHaveLength(57_000 + 58_000);
  });
});

describe('what lies around looped content', () => {
  it('is the loop on both sides where the content begins with it', () => {
    expect(within(40, 20)).toEqual([
      47,
      48,
      49,
      ...[40, 41, 42, 43, 44, 45, 46, 47, 48, 49],
      ...[40, 41, 42, 43, 44, 45, 46, 47, 48, 49],
      40,
      41,
      42,
    ]);
  });

  it('is the recording in front of it where the content begins before the loop, and nothing where the recording begins', () => {
    expect(within(36, 4)).toEqual([33, 34, 35, 36, 37, 38, 39, 40, 41, 42]);
    expect(within(1, 2)).toEqual([0, 0, 0, 1, 2, 3, 4, 5]);
  });

  it('is the round before it where the content begins behind the loop', () => {
    expect(within(60, 4)).toEqual([47, 48, 49, 40, 41, 42, 43, 44, 45, 46]);
    const blended = within(60, 10, 4);
    const round = [...loopContent(numbers, 60, 10, { from: 40, to: 50, crossfade: 4 }).channels[0]!];
    expect(blended.slice(0, 3)).toEqual(round.slice(-3));
    expect(blended.slice(3, 13)).toEqual(round);
  });

  it('knows whole rounds', () => {
    const part = { from: 40, to: 50, crossfade: 0 };
    expect([isWholeRounds(40, 20, part), isWholeRounds(40, 21, part), isWholeRounds(41, 20, part)]).toEqual([true, false, false]);
    expect(isWholeRounds(40, 20, { ...part, crossfade: 1 })).toBe(false);
  });
});
