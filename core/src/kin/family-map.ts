import type { TimbrePrint } from '../analysis/timbre';
import { timbreDistance } from '../analysis/timbre';
import type { Progress } from '../cancelled';
import { report } from '../cancelled';
import type { Decibels } from '../units';

/** Distances between all siblings of a family, `count` × `count`. */
export interface FamilyDistances {
  readonly count: number;
  readonly between: Float64Array;
}

/** Two siblings that are nearer to each other than this are heard as the same (transparency of spectral distortion: Paliwal & Atal 1993). */
export const twinDistance: Decibels = 1;

/** Distances of every sibling to every other one. Throws Cancelled when `progress` says so. */
export function familyDistances(prints: readonly TimbrePrint[], progress?: Progress): FamilyDistances {
  const count = prints.length;
  const between = new Float64Array(count * count);
  for (let a = 0; a < count; a++) {
    for (let b = a + 1; b < count; b++) between[a * count + b] = between[b * count + a] = timbreDistance(prints[a]!, prints[b]!);
    report(progress, (a + 1) / count);
  }
  return { count, between };
}

export interface SiblingPair {
  readonly a: number;
  readonly b: number;
  readonly distance: Decibels;
}

/** What a family's distances tell. */
export interface FamilyFindings {
  /** Pairs that are heard as the same, the nearest first. */
  readonly twins: readonly SiblingPair[];
  /** Siblings that do not belong: farther from the others than most are. */
  readonly outliers: readonly number[];
  /** The nearest other one of every sibling; nothing in a family of one. */
  readonly nearest: readonly (SiblingPair | undefined)[];
}

/** A sibling stands out when its distance from the others lies so many deviations above the middle, and is so much larger. */
const outlierDeviations = 4;
const outlierRatio = 1.5;

/** Finds near-twins and outliers (median and its absolute deviation, Iglewicz & Hoaglin 1993). */
export function familyFindings({ count, between }: FamilyDistances): FamilyFindings {
  const twins: SiblingPair[] = [];
  const nearest: (SiblingPair | undefined)[] = [];
  const typical: number[] = [];
  for (let a = 0; a < count; a++) {
    const row: number[] = [];
    let near: SiblingPair | undefined;
    for (let b = 0; b < count; b++) {
      if (a === b) continue;
      const distance = between[a * count + b]!;
      row.push(distance);
      if (!near || distance < near.distance) near = { a, b, distance };
      if (a < b && distance < twinDistance) twins.push({ a, b, distance });
    }
    nearest.push(near);
    typical.push(median(row));
  }
  const middle = median(typical);
  const deviation = 1.4826 * median(typical.map((each) => Math.abs(each - middle)));
  const limit = Math.max(middle + outlierDeviations * deviation, outlierRatio * middle);
  // Of three or fewer nobody can say who does not belong.
  const outliers = count < 4 ? [] : typical.flatMap((each, index) => (each > limit ? [index] : []));
  return { twins: twins.sort((a, b) => a.distance - b.distance), outliers, nearest };
}

function median(values: readonly number[]): number {
  if (values.length === 0) return 0;
  const sorted = [...values].sort((a, b) => a - b);
  const half = Math.floor(sorted.length / 2);
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** Where a sibling lies on the map; distances there are as near as they can be to those by ear, in the same dB. */
export interface MapPlace {
  readonly x: number;
  readonly y: number;
}

const scalingRounds = 60;

/**
 * Lays a family out in a plane: classical scaling (Torgerson 1952) for a start, then majorization of the stress (SMACOF, de Leeuw 1977), which never makes
 * it worse. The same distances give the same map.
 */
export function mapFamily({ count, between }: FamilyDistances): MapPlace[] {
  if (count === 0) return [];
  let places = classicalPlaces(count, between);
  for (let round = 0; round < scalingRounds; round++) places = majorized(count, between, places);
  return Array.from({ length: count }, (_, i) => ({ x: places[2 * i]!, y: places[2 * i + 1]! }));
}

/** The two strongest axes of the distances, doubly centred, by power iteration. */
function classicalPlaces(count: number, between: Float64Array): Float64Array {
  const centred = new Float64Array(count * count);
  const means = new Float64Array(count);
  let mean = 0;
  for (let a = 0; a < count; a++) {
    for (let b = 0; b < count; b++) means[a]! += between[a * count + b]! ** 2 / count;
    mean += means[a]! / count;
  }
  for (let a = 0; a < count; a++)
    for (let b = 0; b < count; b++) centred[a * count + b] = -0.5 * (between[a * count + b]! ** 2 - means[a]! - means[b]! + mean);
  const places = new Float64Array(2 * count);
  for (let axis = 0; axis < 2; axis++) {
    // Any beginning that is not at right angles to the axis will do.
    let vector = Float64Array.from({ length: count }, (_, i) => Math.cos(1 + i * (1 + axis)));
    let strength = 0;
    for (let round = 0; round < 80; round++) {
      const next = new Float64Array(count);
      for (let a = 0; a < count; a++) for (let b = 0; b < count; b++) next[a]! += centred[a * count + b]! * vector[b]!;
      strength = Math.hypot(...next);
      if (strength < 1e-12) break;
      vector = next.map((value) => value / strength);
    }
    for (let i = 0; i < count; i++) places[2 * i + axis] = vector[i]! * Math.sqrt(strength);
    for (let a = 0; a < count; a++) for (let b = 0; b < count; b++) centred[a * count + b]! -= strength * vector[a]! * vector[b]!;
  }
  return places;
}

/** One step of majorization: every place becomes the mean of where each other one would have it. */
function majorized(count: number, between: Float64Array, places: Float64Array): Float64Array {
  const next = new Float64Array(2 * count);
  for (let a = 0; a < count; a++) {
    for (let b = 0; b < count; b++) {
      if (a === b) continue;
      const dx = places[2 * a]! - places[2 * b]!;
      const dy = places[2 * a + 1]! - places[2 * b + 1]!;
      const drawn = Math.hypot(dx, dy);
      const ratio = drawn > 1e-12 ? between[a * count + b]! / drawn : 0;
      next[2 * a]! += ratio * dx;
      next[2 * a + 1]! += ratio * dy;
    }
    next[2 * a]! /= count;
    next[2 * a + 1]! /= count;
  }
  return next;
}

/** Siblings picked out of a family, and why these. */
export interface BestSiblings {
  readonly chosen: readonly number[];
  /** The two of them that are nearest to each other; nothing where fewer than two are chosen. */
  readonly nearest: SiblingPair | undefined;
}

/**
 * The `wanted` siblings that differ most evenly: the farthest from those chosen already, one after the other (Gonzalez 1985), then swapped as long as the
 * nearest two come further apart. Those that are `left out` are not chosen; with too few candidates, all of them are.
 */
export function bestSiblings(distances: FamilyDistances, wanted: number, leftOut: ReadonlySet<number>): BestSiblings {
  const { count, between } = distances;
  const candidates = Array.from({ length: count }, (_, i) => i).filter((i) => !leftOut.has(i));
  const d = (a: number, b: number): Decibels => between[a * count + b]!;
  const chosen: number[] = [];
  const apart = (one: number, without?: number): Decibels =>
    chosen.reduce((least, other) => (other === one || other === without ? least : Math.min(least, d(one, other))), Infinity);
  // The one in the middle of all comes first: a family needs its plain face.
  const sumOf = (one: number): number => candidates.reduce((sum, other) => sum + d(one, other), 0);
  while (chosen.length < Math.min(wanted, candidates.length)) {
    const free = candidates.filter((each) => !chosen.includes(each));
    const value = chosen.length === 0 ? (one: number) => -sumOf(one) : (one: number) => apart(one);
    chosen.push(free.reduce((best, each) => (value(each) > value(best) ? each : best)));
  }
  for (let pair = nearestPair(distances, chosen), improved = true; pair && improved;) {
    improved = false;
    const { distance } = pair;
    for (const worst of [pair.a, pair.b]) {
      const better = candidates.find((each) => !chosen.includes(each) && apart(each, worst) > distance);
      if (better === undefined) continue;
      chosen[chosen.indexOf(worst)] = better;
      const now = nearestPair(distances, chosen);
      // Only what is better by a real step goes on: the loop ends.
      if (now && now.distance > distance + 1e-9) {
        pair = now;
        improved = true;
      } else chosen[chosen.indexOf(better)] = worst;
      break;
    }
  }
  return { chosen: chosen.sort((a, b) => a - b), nearest: nearestPair(distances, chosen) };
}

/** The two of some siblings that are nearest to each other; nothing of fewer than two. */
export function nearestPair({ count, between }: FamilyDistances, members: readonly number[]): SiblingPair | undefined {
  let nearest: SiblingPair | undefined;
  for (const [i, a] of members.entries())
    for (const b of members.slice(i + 1)) {
      const distance = between[a * count + b]!;
      if (!nearest || distance < nearest.distance) nearest = { a, b, distance };
    }
  return nearest;
}
