import fc from 'fast-check';
import { evenOut } from './even-out';
import { fireAudio, fireOrder, repeatTime } from './fire';

describe('firing a family', () => {
  it('plays all of it before anyone comes again, and nobody twice in a row', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 12 }), fc.integer({ min: 0, max: 9_999 }), (size, seed) => {
        const members = Array.from({ length: size }, (_, i) => 3 * i);
        const order = fireOrder(members, 5 * size, seed);
        expect(order).toHaveLength(5 * size);
        for (let round = 0; round < 5; round++) {
          const played = order.slice(round * size, (round + 1) * size).sort((a, b) => a - b);
          expect(played).toEqual(members);
        }
        for (let play = 1; play < order.length; play++) expect(order[play]).not.toBe(order[play - 1]);
        expect(fireOrder(members, 5 * size, seed)).toEqual(order);
      }),
    );
  });

  it('lays them on their frames, each ringing over the next', () => {
    const click = (level: number) => ({ sampleRate: 1_000, channels: [Float32Array.of(level, 0, level)] });
    const { channels } = fireAudio(
      new Map([
        [0, click(1)],
        [4, click(0.5)],
      ]),
      [4, 0, 4],
      500,
    );
    expect([...channels[0]!]).toEqual([0.5, 0, 1.5, 0, 1.5, 0, 0.5]);
  });

  it('is heard again the sooner the smaller the family, the faster it is fired and the more of it are twins', () => {
    const apart = (count: number, twins = 0) => ({
      count,
      between: Float64Array.from({ length: count * count }, (_, i) => {
        const [a, b] = [Math.floor(i / count), i % count];
        return a === b ? 0 : a < twins && b < twins ? 0.5 : 6;
      }),
    });
    const all = (count: number): number[] => Array.from({ length: count }, (_, i) => i);
    const time = (count: number, rate: number, twins = 0): number => repeatTime(all(count), apart(count, twins), rate);
    // Of one, every play is a repeat.
    expect(time(1, 8)).toBeCloseTo(1 / 8, 3);
    expect(time(4, 8)).toBeGreaterThan(time(3, 8));
    expect(time(12, 8)).toBeGreaterThan(time(6, 8));
    expect(time(12, 8)).toBeCloseTo(time(12, 4) / 2, 9);
    expect(time(12, 8, 3)).toBeLessThan(time(12, 8) / 1.2);
    expect(time(0, 8)).toBe(Infinity);
  });
});

describe('evening out a family', () => {
  const sibling = (index: number, integratedLufs: number, truePeakDbtp = -12) => ({ index, integratedLufs, truePeakDbtp });

  it('brings loudness within the span around the middle, and leaves alone what lies there', () => {
    const family = [sibling(0, -20), sibling(1, -23), sibling(2, -23.2), sibling(5, -30)];
    const changes = evenOut(family, 1);
    const levels = family.map(({ index, integratedLufs }) => integratedLufs + (changes.get(index) ?? 0));
    expect(Math.max(...levels) - Math.min(...levels)).toBeLessThanOrEqual(1 + 1e-9);
    expect(changes.has(1)).toBe(false);
    expect(changes.get(0)).toBeCloseTo(-2.6, 9);
  });

  it('brings no peak above -1 dBTP: the others come down to whoever cannot be raised', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: -60, max: -5, noNaN: true }), fc.double({ min: -30, max: 3, noNaN: true })), {
          minLength: 1,
          maxLength: 12,
        }),
        fc.double({ min: 0, max: 6, noNaN: true }),
        (given, span) => {
          const family = given.map(([loudness, peak], index) => sibling(index, loudness, peak));
          const changes = evenOut(family, span);
          const levels = family.map(({ index, integratedLufs }) => integratedLufs + (changes.get(index) ?? 0));
          expect(Math.max(...levels) - Math.min(...levels)).toBeLessThanOrEqual(span + 0.021);
          for (const { index, truePeakDbtp } of family) {
            const change = changes.get(index) ?? 0;
            if (change > 0) expect(truePeakDbtp + change).toBeLessThanOrEqual(-1 + 1e-9);
          }
        },
      ),
    );
  });

  it('leaves silence alone', () => {
    expect(evenOut([sibling(0, -Infinity, -Infinity), sibling(1, -20)], 1).size).toBe(0);
    expect(evenOut([], 1).size).toBe(0);
  });
});
