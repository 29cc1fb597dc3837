import type { TimbrePrint } from '../analysis/timbre';
import { timbreDistance } from '../analysis/timbre';
import type { Sound } from '../project/schema';
import type { Decibels } from '../units';
import type { Draws } from './draw';

/** Addresses whose draws are one to the ear, and how far the sibling is from itself without them. */
export interface Difference {
  readonly addresses: readonly string[];
  /** By timbre and loudness together, in dB. */
  readonly by: Decibels;
}

/** How a sound is heard, and how loud. */
export interface Heard {
  readonly print: TimbrePrint;
  readonly integratedLufs: number;
}

/** What a sibling drew, in groups that are undone together: pieces of one clip draw alike. Draws that change nothing are left out. */
export function drawGroups(sound: Sound, draws: Draws): string[][] {
  const groups = new Map<string, string[]>();
  for (const [address, draw] of Object.entries(draws)) {
    if (draw === 0 && !address.endsWith('/presence')) continue;
    if (draw === 1 && address.endsWith('/presence')) continue;
    const like = sound.family.sways.find((sway) => sway.address === address)?.like ?? address;
    groups.set(like, [...(groups.get(like) ?? []), address]);
  }
  return [...groups.values()];
}

/**
 * What makes a sibling what it is, most first: for each group of draws the distance of the sibling to itself with these undone, the root of the squares of the timbre
 * distance (see `timbreDistance`) and of the difference in loudness. Of two silences the loudness is the same.
 */
export function rankDifferences(whole: Heard, without: readonly (Heard & { readonly addresses: readonly string[] })[]): Difference[] {
  return without
    .map(({ addresses, ...other }) => ({ addresses, by: Math.hypot(timbreDistance(whole.print, other.print), louder(whole, other)) }))
    .sort((a, b) => b.by - a.by);
}

/** The lowest loudness that is told apart, in LUFS. */
const silent = -70;

function louder(one: Heard, other: Heard): Decibels {
  return Math.max(silent, one.integratedLufs) - Math.max(silent, other.integratedLufs);
}
