import type { Decibels } from '../units';

/** What is measured of a sibling, for bringing its level near to that of the others. */
export interface SiblingLevels {
  readonly index: number;
  readonly integratedLufs: Decibels;
  readonly truePeakDbtp: Decibels;
}

/** No sibling is raised above it. */
const peakCeiling: Decibels = -1;
/** Smaller changes are not worth a step. */
const leastChange: Decibels = 0.01;

/**
 * By how much siblings must be raised or lowered so that their loudness lies within `span` around the middle of them all; no peak is brought above −1 dBTP, and what
 * lies above already is not raised. Silent ones are left alone.
 */
export function evenOut(family: readonly SiblingLevels[], span: Decibels): ReadonlyMap<number, Decibels> {
  const heard = family.filter(({ integratedLufs }) => Number.isFinite(integratedLufs));
  const sorted = heard.map(({ integratedLufs }) => integratedLufs).sort((a, b) => a - b);
  const half = Math.floor(sorted.length / 2);
  const middle = sorted.length % 2 === 1 ? sorted[half]! : ((sorted[half - 1] ?? 0) + (sorted[half] ?? 0)) / 2;
  // Whoever cannot be raised far enough brings the others down to them.
  const highest = heard.reduce(
    (most, { integratedLufs, truePeakDbtp }) => Math.min(most, integratedLufs + Math.max(0, peakCeiling - truePeakDbtp) + span / 2),
    middle,
  );
  const changes = new Map<number, Decibels>();
  for (const { index, integratedLufs } of heard) {
    const wanted = Math.max(highest - span / 2, Math.min(highest + span / 2, integratedLufs));
    if (Math.abs(wanted - integratedLufs) > leastChange) changes.set(index, wanted - integratedLufs);
  }
  return changes;
}
