import type { Source } from './schema';

/**
 * What tells the sound of a source apart from all others: two sources with the same identity sound the same, and what was made from one may
 * be used for the other. Everything that is kept by what it was made from (recordings, treated clips, renders, recipes) asks here.
 */
export function sourceIdentity(source: Source): string {
  switch (source.kind) {
    case 'recording':
      return source.audio;
  }
}

/** The identities of sources by their ids. */
export function sourceIdentities(sources: readonly Source[]): ReadonlyMap<string, string> {
  return new Map(sources.map((source) => [source.id, sourceIdentity(source)]));
}
