import type { EngineMeters } from '../app/engine/protocol';

/** What the engine reports while a sound plays that nothing special is measured of; some of it may be something else. */
export function metersOf(some: Partial<EngineMeters> = {}): EngineMeters {
  return {
    momentary: -20,
    shortTerm: -21,
    integrated: -22,
    truePeak: -3,
    before: undefined,
    after: undefined,
    gainReductions: new Map(),
    followers: new Map(),
    changes: new Map(),
    seating: undefined,
    output: undefined,
    correlation: 1,
    loads: new Map(),
    matchedGain: undefined,
    ...some,
  };
}
