import fc from 'fast-check';
import type { FamilyDistances, MapPlace } from './family-map';
import { bestSiblings, familyDistances, familyFindings, mapFamily } from './family-map';
import { timbrePrint } from '../analysis/timbre';
import { mono, noise } from '../testing/signals';

/** Distances between points of a plane or a line. */
function distancesOf(points: readonly (readonly [number, number])[]): FamilyDistances {
  const count = points.length;
  const between = new Float64Array(count * count);
  points.forEach(([ax, ay], a) => points.forEach(([bx, by], b) => (between[a * count + b] = Math.hypot(ax - bx, ay - by))));
  return { count, between };
}
const onLine = (...places: number[]): FamilyDistances => distancesOf(places.map((place) => [place, 0]));
const points = fc.array(fc.tuple(fc.double({ min: -9, max: 9, noNaN: true }), fc.double({ min: -9, max: 9, noNaN: true })), {
  minLength: 1,
  maxLength: 24,
});

/** How far a map is from its distances: 0 to 1 (Kruskal's stress, 1964). */
function mapStress({ count, between }: FamilyDistances, places: readonly MapPlace[]): number {
  let off = 0;
  let whole = 0;
  for (let a = 0; a < count; a++) {
    for (let b = a + 1; b < count; b++) {
      const wanted = between[a * count + b]!;
      const drawn = Math.hypot(places[a]!.x - places[b]!.x, places[a]!.y - places[b]!.y);
      off += (wanted - drawn) ** 2;
      whole += wanted ** 2;
    }
  }
  return whole > 0 ? Math.sqrt(off / whole) : 0;
}

describe('the map of a family', () => {
  it('has every sibling where its distances are those by ear, if a plane can hold them', () => {
    fc.assert(
      fc.property(points, (known) => {
        const distances = distancesOf(known);
        const places = mapFamily(distances);
        expect(places).toHaveLength(known.length);
        const off = places.flatMap((a, i) =>
          places.map((b, j) => Math.hypot(a.x - b.x, a.y - b.y) - distances.between[i * known.length + j]!),
        );
        expect(Math.max(...off.map(Math.abs))).toBeLessThan(0.1);
      }),
      { numRuns: 60 },
    );
  });

  it('does what can be done where no plane can hold them', () => {
    // Four that are all equally far from each other: a tetrahedron. The best plane is a square, with a stress of 0.17.
    const between = Float64Array.from({ length: 16 }, (_, i) => (i % 5 === 0 ? 0 : 3));
    const stress = mapStress({ count: 4, between }, mapFamily({ count: 4, between }));
    expect(stress).toBeGreaterThan(0.1);
    expect(stress).toBeLessThan(0.25);
  });

  it('of equal siblings is one point, and of none nothing', () => {
    for (const { x, y } of mapFamily(onLine(2, 2, 2))) expect(Math.hypot(x, y)).toBeLessThan(1e-6);
    expect(mapFamily({ count: 0, between: new Float64Array(0) })).toEqual([]);
  });

  it('measures every pair once, both ways alike', () => {
    const prints = [1, 2, 1].map((seed) => timbrePrint(mono(noise(9_600, seed))));
    const { count, between } = familyDistances(prints);
    expect(between[0 * count + 2]).toBe(0);
    expect(between[0 * count + 1]).toBeGreaterThan(0);
    expect(between[1 * count + 0]).toBe(between[0 * count + 1]);
  });
});

describe('what distances tell', () => {
  it('near-twins are those nearer than a decibel, the nearest first', () => {
    expect(familyFindings(onLine(0, 5, 5.8, 10, 10.3)).twins.map(({ a, b }) => [a, b])).toEqual([
      [3, 4],
      [1, 2],
    ]);
  });

  it('an outlier is far from most others; in an even family nobody is one', () => {
    expect(familyFindings(onLine(0, 1, 2, 3, 4, 5, 30)).outliers).toEqual([6]);
    expect(familyFindings(onLine(0, 1, 2, 3, 4, 5, 6)).outliers).toEqual([]);
    expect(familyFindings(onLine(0, 0, 20)).outliers).toEqual([]);
  });

  it('the nearest of each is known', () => {
    expect(familyFindings(onLine(0, 3, 4)).nearest.map((pair) => pair?.b)).toEqual([1, 2, 1]);
    expect(familyFindings(onLine(0)).nearest).toEqual([undefined]);
  });
});

describe('the best of a family', () => {
  it('lie as evenly as can be', () => {
    const { chosen, nearest } = bestSiblings(onLine(0, 1, 2, 3, 4, 5, 6, 7, 8), 3, new Set());
    expect(chosen).toEqual([0, 4, 8]);
    expect(nearest?.distance).toBe(4);
  });

  it('are at least half as far apart as the best choice of all (farthest-first), and never include those left out', () => {
    fc.assert(
      fc.property(points, fc.integer({ min: 2, max: 5 }), (known, wanted) => {
        const distances = distancesOf(known);
        const { chosen, nearest } = bestSiblings(distances, wanted, new Set([0]));
        expect(chosen).toHaveLength(Math.min(wanted, known.length - 1));
        expect(chosen).not.toContain(0);
        expect(new Set(chosen).size).toBe(chosen.length);
        if (!nearest || known.length > 12) return;
        const best = subsets(
          known.map((_, i) => i).filter((i) => i > 0),
          chosen.length,
        ).reduce((most, subset) => Math.max(most, closest(distances, subset)), 0);
        expect(nearest.distance).toBeGreaterThanOrEqual(best / 2 - 1e-9);
      }),
      { numRuns: 60 },
    );
  });

  it('are all where fewer are there than wanted, and none of none', () => {
    expect(bestSiblings(onLine(0, 1), 8, new Set()).chosen).toEqual([0, 1]);
    expect(bestSiblings(onLine(0, 1), 8, new Set([0, 1]))).toEqual({ chosen: [], nearest: undefined });
  });
});

function closest({ count, between }: FamilyDistances, chosen: readonly number[]): number {
  return chosen.reduce((least, a) => chosen.reduce((so, b) => (a === b ? so : Math.min(so, between[a * count + b]!)), least), Infinity);
}

function subsets(of: readonly number[], size: number): number[][] {
  if (size === 0) return [[]];
  return of.flatMap((first, i) => subsets(of.slice(i + 1), size - 1).map((rest) => [first, ...rest]));
}
