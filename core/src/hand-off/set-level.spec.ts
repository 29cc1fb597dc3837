import fc from 'fast-check';
import { measure } from '../analysis/loudness/measure';
import type { Audio } from '../audio/audio';
import { startingDelivery } from '../project/deliveries/create-delivery';
import { mono, noise, sine } from '../testing/signals';
import { setLevel, wantedGain } from './set-level';

const rate = 48_000;

/** A quiet bed with knocks far above it, as most effects are. */
function knocks(level: number): Audio {
  const samples = noise(rate, 5, -40);
  for (let at = 4_000; at < rate; at += 12_000)
    for (let i = 0; i < 200; i++) samples[at + i]! += 0.9 * Math.exp(-i / 40) * Math.cos(i * 0.9);
  return mono(samples.map((sample) => sample * 10 ** (level / 20)));
}

const to = (settings: Partial<typeof startingDelivery>) => ({ ...startingDelivery, ...settings });

describe('the level of a delivery', () => {
  it('comes to a loudness by gain alone where the peaks have room', () => {
    const audio = mono(sine(1_000, 1, rate, -30));
    const made = setLevel(audio, measure(audio), to({ level: 'loudness', loudness: -20, ceiling: -1 }), false);
    expect(measure(made).integratedLufs).toBeCloseTo(-20, 2);
    const factor = made.channels[0]![100]! / audio.channels[0]![100]!;
    made.channels[0]!.forEach((sample, i) => expect(sample).toBeCloseTo(audio.channels[0]![i]! * factor, 6));
  });

  it('comes to a loudness with its peaks held, and never passes the ceiling, at both ends of both dials', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -50, max: -6, noNaN: true }),
        fc.double({ min: -30, max: 0, noNaN: true }),
        fc.constantFrom(-60, -20, 0, 12),
        (loudness, ceiling, level) => {
          const audio = knocks(level);
          const made = measure(setLevel(audio, measure(audio), to({ level: 'loudness', loudness, ceiling }), false));
          expect(made.truePeakDbtp).toBeLessThanOrEqual(ceiling + 0.05);
          expect(made.integratedLufs).toBeLessThanOrEqual(loudness + 0.1);
        },
      ),
      {
        numRuns: 20,
        examples: [
          [-50, -30, 12],
          [-6, 0, -60],
          [-6, -30, 0],
          [-50, 0, 0],
        ],
      },
    );
  });

  it('gives back what the limiter takes, where not much has to go', () => {
    fc.assert(
      fc.property(fc.double({ min: -40, max: -12, noNaN: true }), fc.double({ min: 0.1, max: 1.8, noNaN: true }), (loudness, over) => {
        const audio = mono(noise(rate, 7, -20));
        const before = measure(audio);
        const ceiling = Math.max(-30, Math.min(0, before.truePeakDbtp + loudness - before.integratedLufs - over));
        const made = measure(setLevel(audio, before, to({ level: 'loudness', loudness, ceiling }), false));
        expect(Math.abs(made.integratedLufs - loudness)).toBeLessThanOrEqual(0.1);
        expect(made.truePeakDbtp).toBeLessThanOrEqual(ceiling + 0.05);
      }),
      {
        numRuns: 12,
        examples: [
          [-40, 1.8],
          [-12, 0.1],
          [-12, 1.8],
        ],
      },
    );
  });

  it('of a loop stays below the ceiling without a limiter: every sample keeps its place beside the others', () => {
    const audio = knocks(0);
    const made = setLevel(audio, measure(audio), to({ level: 'loudness', loudness: -6, ceiling: -3 }), true);
    expect(measure(made).truePeakDbtp).toBeCloseTo(-3, 1);
    const factor = made.channels[0]![4_000]! / audio.channels[0]![4_000]!;
    made.channels[0]!.forEach((sample, i) => expect(sample).toBeCloseTo(audio.channels[0]![i]! * factor, 5));
  });

  it('comes to a true peak, or moves by a gain, or stays', () => {
    const audio = knocks(-12);
    const measured = measure(audio);
    const peakOf = (settings: Partial<typeof startingDelivery>) =>
      measure(setLevel(knocks(-12), measured, to(settings), false)).truePeakDbtp;
    expect(peakOf({ level: 'true peak', ceiling: -6 })).toBeCloseTo(-6, 2);
    expect(peakOf({ level: 'gain', gain: 24 })).toBeCloseTo(measured.truePeakDbtp + 24, 2);
    expect(peakOf({ level: 'gain', gain: -60 })).toBeCloseTo(measured.truePeakDbtp - 60, 2);
    expect(setLevel(audio, measured, to({ level: 'as it is' }), false)).toBe(audio);
  });

  it('of silence stays silence', () => {
    const silent = mono(new Float32Array(rate));
    for (const level of ['loudness', 'true peak'] as const) expect(wantedGain(measure(silent), to({ level }))).toBe(0);
  });
});
