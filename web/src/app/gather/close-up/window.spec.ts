import * as fc from 'fast-check';
import { moved, shortestWindow, ticksOf, waveformStretch, zoomed } from './window';

/** Windows onto recordings. */
const windows = fc
  .record({
    total: fc.double({ min: 0.05, max: 3_600, noNaN: true }),
    a: fc.double({ min: 0, max: 1, noNaN: true }),
    b: fc.double({ min: 0, max: 1, noNaN: true }),
  })
  .map(({ total, a, b }) => ({
    total,
    from: Math.min(a, b) * total * 0.9,
    to: Math.min(total, Math.max(a, b) * total * 0.9 + 0.1 * total),
  }));

describe('a window onto a recording', () => {
  it('keeps what lies under the pointer in its place while it is zoomed, as long as it fits', () => {
    expect(zoomed({ from: 2, to: 4 }, 2, 3.5, 10)).toEqual({ from: 2.75, to: 3.75 });
    expect(zoomed({ from: 2, to: 4 }, 0.5, 3, 10)).toEqual({ from: 1, to: 5 });
    expect(zoomed({ from: 0, to: 4 }, 0.1, 1, 10)).toEqual({ from: 0, to: 10 });
    const closest = zoomed({ from: 2, to: 2.01 }, 100, 2.005, 10);
    expect(closest.to - closest.from).toBeCloseTo(shortestWindow, 9);
  });

  it('stays within the recording and never shrinks to nothing', () => {
    fc.assert(
      fc.property(
        windows,
        fc.double({ min: 0.01, max: 100, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (window, factor, share) => {
          const { total, from, to } = window;
          for (const result of [zoomed(window, factor, from + share * (to - from), total), moved(window, (share - 0.5) * total, total)]) {
            expect(result.from).toBeGreaterThanOrEqual(0);
            expect(result.to).toBeLessThanOrEqual(total + 1e-9);
            expect(result.to - result.from).toBeGreaterThanOrEqual(Math.min(shortestWindow, total) - 1e-9);
          }
        },
      ),
    );
  });

  it('lies within the stretch whose waveform is measured, which is not much longer', () => {
    fc.assert(
      fc.property(windows, ({ total, from, to }) => {
        const stretch = waveformStretch({ from, to }, total);
        expect(stretch.from).toBeLessThanOrEqual(from);
        expect(stretch.to).toBeGreaterThanOrEqual(to - 1e-9);
        expect(stretch.to - stretch.from).toBeLessThanOrEqual(3 * (to - from) + 2 * shortestWindow);
      }),
    );
  });

  it('has labels that differ from tick to tick', () => {
    const texts = (from: number, to: number): string[] => ticksOf({ from, to }, 4).map(({ text }) => text);
    expect(texts(0, 2)).toEqual(['0.0', '0.5', '1.0', '1.5', '2.0']);
    expect(texts(1.3759, 1.3779)).toEqual(['1.3760', '1.3765', '1.3770', '1.3775']);
    expect(texts(0, 600)).toEqual(['0', '5:00', '10:00']);
    expect(texts(100, 200)).toEqual(['2:00', '2:30', '3:00']);
    expect(texts(3_725.22, 3_725.42)).toEqual(['1:02:05.25', '1:02:05.30', '1:02:05.35', '1:02:05.40']);
    expect(texts(0, 3_600)).toEqual(['0', '15:00', '30:00', '45:00', '1:00:00']);
  });

  it('has few ticks, evenly spaced and within it', () => {
    fc.assert(
      fc.property(windows, (window) => {
        const ticks = ticksOf(window, 6);
        expect(ticks.length).toBeLessThanOrEqual(7);
        expect(new Set(ticks.map(({ text }) => text)).size).toBe(ticks.length);
        for (const { time } of ticks) {
          expect(time).toBeGreaterThanOrEqual(window.from - 1e-6);
          expect(time).toBeLessThanOrEqual(window.to + 1e-6);
        }
      }),
    );
  });
});
