import type { RecordingFacts, Source } from '@tangled-choir/core';

/** What a facet judges by. */
export interface FacetSubject {
  readonly source: Source;
  readonly seconds: number;
  readonly facts: RecordingFacts | undefined;
  readonly used: boolean;
}

export interface Facet {
  readonly id: string;
  readonly label: string;
  /** Only one of a pair can be on. */
  readonly opposite?: string;
  matches(subject: FacetSubject): boolean;
}

const sharpAttack = 0.012;
const slowAttack = 0.08;
const darkBelow = 900;
const brightAbove = 3_000;
const pitchedAbove = 0.55;

/** Kinds of sources that can be told apart by their measured character. What is not measured yet matches no kind of character. */
export const facets: readonly Facet[] = [
  { id: 'short', label: 'under 2 s', opposite: 'long', matches: ({ seconds }) => seconds < 2 },
  { id: 'long', label: 'over 5 s', opposite: 'short', matches: ({ seconds }) => seconds > 5 },
  { id: 'sharp', label: 'sharp', opposite: 'slow', matches: ({ facts }) => (facts?.character.attackTime ?? Infinity) <= sharpAttack },
  { id: 'slow', label: 'slow', opposite: 'sharp', matches: ({ facts }) => (facts?.character.attackTime ?? 0) >= slowAttack },
  { id: 'dark', label: 'dark', opposite: 'bright', matches: ({ facts }) => (facts?.character.brightness ?? Infinity) < darkBelow },
  { id: 'bright', label: 'bright', opposite: 'dark', matches: ({ facts }) => (facts?.character.brightness ?? 0) > brightAbove },
  { id: 'pitched', label: 'pitched', opposite: 'noisy', matches: ({ facts }) => (facts?.character.pitchConfidence ?? 0) >= pitchedAbove },
  { id: 'noisy', label: 'noisy', opposite: 'pitched', matches: ({ facts }) => (facts?.character.pitchConfidence ?? 1) < pitchedAbove / 2 },
  { id: 'steady', label: 'steady', matches: ({ facts }) => (facts?.character.stationarity ?? 0) > 0.75 },
  { id: 'mono', label: 'mono', opposite: 'stereo', matches: ({ source }) => source.channels === 1 },
  { id: 'stereo', label: 'stereo', opposite: 'mono', matches: ({ source }) => source.channels === 2 },
  { id: 'defects', label: 'defects', matches: ({ facts }) => (facts?.character.defects.length ?? 0) > 0 },
  { id: 'regions', label: 'regions', matches: ({ source }) => source.regions.length > 0 },
  { id: 'unused', label: 'unused', matches: ({ used }) => !used },
];

/** Switches a facet on or off, and its opposite off. */
export function toggleFacet(chosen: ReadonlySet<string>, id: string): ReadonlySet<string> {
  const next = new Set(chosen);
  if (next.delete(id)) return next;
  const opposite = facets.find((facet) => facet.id === id)?.opposite;
  if (opposite) next.delete(opposite);
  return next.add(id);
}
