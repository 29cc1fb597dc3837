import fc from 'fast-check';
import { treatClip } from '../../treatments/treat-clip';
import { mono, noise, residual, sine } from '../../testing/signals';
import { contentAtTime, ContentWalk, speedAt, timeOfContent } from './clip-pace';
import type { Paced } from './clip-pace';
import type { Treatment } from '../../treatments/treatment';
import { plainStretch } from '../create';

const rate = 48_000;
const clip = (changes: Partial<Treatment> = {}): Treatment => ({
  offset: 0.5,
  length: 2,
  speed: 0,
  reversed: false,
  ...plainStretch,
  ...changes,
});

const paced = fc
  .record({
    offset: fc.double({ min: 0, max: 3, noNaN: true }),
    length: fc.double({ min: 0.01, max: 5, noNaN: true }),
    speed: fc.double({ min: -24, max: 24, noNaN: true }),
    reversed: fc.boolean(),
    points: fc.uniqueArray(fc.tuple(fc.integer({ min: -1_000, max: 9_000 }), fc.integer({ min: -36, max: 36 })), {
      selector: ([at]) => at,
      minLength: 1,
      maxLength: 6,
    }),
  })
  .map(({ points, ...rest }): Paced => {
    const speed = points.map(([at, value]) => ({ at: at / 1_000, value })).sort((a, b) => a.at - b.at);
    return { ...rest, stretch: 1, curves: { speed } };
  });

describe('the speed curve of a clip', () => {
  it('without bends is the speed itself', () => {
    const curve = { curves: { speed: [{ at: 1, value: 12 }] } };
    expect(timeOfContent(clip(curve), 2)).toBeCloseTo(1, 12);
    expect(timeOfContent(clip({ speed: 12 }), 2)).toBeCloseTo(1, 12);
    expect(timeOfContent(clip({ ...curve, speed: -12 }), 2)).toBeCloseTo(2, 12);
  });

  it('takes the time that its integral says', () => {
    fc.assert(
      fc.property(paced, (any) => {
        // Simpson's rule over 4000 pieces; straight lines of semitones are smooth but for the few bends.
        const pieces = 4_000;
        const h = any.length / pieces;
        const slowness = (into: number): number => 2 ** (-speedAt(any, into) / 12);
        let sum = slowness(0) + slowness(any.length);
        for (let i = 1; i < pieces; i++) sum += slowness(i * h) * (i % 2 ? 4 : 2);
        const expected = (sum * h) / 3;
        expect(Math.abs(timeOfContent(any, any.length) / expected - 1)).toBeLessThan(2e-3);
      }),
      { numRuns: 60 },
    );
  });

  it('can be read in both directions, before the beginning of the clip and behind its end too', () => {
    fc.assert(
      fc.property(paced, fc.double({ min: -2, max: 8, noNaN: true }), (any, into) => {
        expect(contentAtTime(any, timeOfContent(any, into))).toBeCloseTo(into, 7);
      }),
    );
  });

  it('is walked as it is read', () => {
    fc.assert(
      fc.property(paced, (any) => {
        const walk = new ContentWalk(any);
        for (let time = 0; time < 3; time += 0.17) expect(walk.at(time)).toBeCloseTo(contentAtTime(any, time), 9);
      }),
    );
  });

  it('stands still in the source when a clip is turned round', () => {
    const speed = [
      { at: 0.5, value: 0 },
      { at: 2.5, value: 12 },
    ];
    expect(speedAt(clip({ curves: { speed }, reversed: true }), 0)).toBeCloseTo(12);
    expect(timeOfContent(clip({ curves: { speed }, reversed: true }), 2)).toBeCloseTo(timeOfContent(clip({ curves: { speed } }), 2), 12);
  });
});

describe('a clip with a speed curve', () => {
  /** A tone through a curve is a sweep whose phase is that of the content at every moment. */
  it.each([false, true])('plays a tone as the sweep that the curve describes (reversed: %s)', (reversed) => {
    const audio = mono(sine(1_000, 4, rate, -6));
    const speed = [
      { at: 1, value: -12 },
      { at: 2, value: 7 },
      { at: 2.6, value: 2 },
    ];
    const treatment = clip({ offset: 0.75, length: 2.5, curves: { speed }, reversed });
    const [played] = treatClip(audio, treatment).channels;
    const expected = Float32Array.from(played!, (_, i) => {
      const into = contentAtTime(treatment, i / rate);
      // Played backwards, the first sample is the last one of the part.
      const at = reversed ? 0.75 + 2.5 - into - 1 / rate : 0.75 + into;
      return 10 ** (-6 / 20) * Math.sin(2 * Math.PI * 1_000 * at);
    });
    expect(played!.length).toBe(Math.round(timeOfContent(treatment, 2.5) * rate));
    expect(residual(expected, played!, 100, played!.length - 100)).toBeLessThan(-100);
  });

  it('plays as the constant speed does where the curve is flat', () => {
    const audio = mono(noise(rate, 3, -6));
    const steady = treatClip(audio, clip({ offset: 0.1, length: 0.8, speed: 5 })).channels[0]!;
    const curved = treatClip(audio, clip({ offset: 0.1, length: 0.8, speed: 3, curves: { speed: [{ at: 0, value: 2 }] } }));
    expect(residual(steady, curved.channels[0]!)).toBeLessThan(-100);
  });

  it('removes what would alias where it runs fast', () => {
    const audio = mono(sine(15_000, 2, rate, -6));
    const fast = treatClip(audio, clip({ offset: 0.2, length: 1.5, curves: { speed: [{ at: 0, value: 12 }] } }));
    expect(Math.max(...fast.channels[0]!.map(Math.abs))).toBeLessThan(1e-5);
  });
});
