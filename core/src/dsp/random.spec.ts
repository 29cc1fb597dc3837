import { createRandom, seedOf } from './random';

describe('seeded random numbers', () => {
  it('repeat with the same seed and differ with another', () => {
    const draw = (seed: number): number[] => {
      const random = createRandom(seed);
      return Array.from({ length: 20 }, () => random.next());
    };
    expect(draw(7)).toEqual(draw(7));
    expect(draw(7)).not.toEqual(draw(8));
  });

  it('are uniform: every tenth gets its share within 3 %', () => {
    const random = createRandom(4127);
    const counts = new Array<number>(10).fill(0);
    for (let i = 0; i < 100_000; i++) counts[Math.floor(random.next() * 10)]!++;
    for (const count of counts) expect(Math.abs(count - 10_000)).toBeLessThan(300);
  });

  it('first draws of neighbouring seeds do not follow each other', () => {
    const first = Array.from({ length: 2_000 }, (_, seed) => createRandom(seedOf(seed, 'layer/1/gain')).next());
    const mean = first.reduce((sum, value) => sum + value, 0) / first.length;
    let correlation = 0;
    for (let i = 1; i < first.length; i++) correlation += ((first[i]! - mean) * (first[i - 1]! - mean)) / (first.length / 12);
    expect(Math.abs(mean - 0.5)).toBeLessThan(0.02);
    expect(Math.abs(correlation)).toBeLessThan(0.07);
  });

  it('parts of a seed are kept apart', () => {
    expect(seedOf('a', 'bc')).not.toBe(seedOf('ab', 'c'));
    expect(seedOf(1, 12)).not.toBe(seedOf(11, 2));
  });
});
