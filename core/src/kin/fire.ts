import type { Audio } from '../audio/audio';
import { frameCount, silence } from '../audio/audio';
import type { Hertz, Seconds } from '../units';
import type { FamilyDistances } from './family-map';
import { twinDistance } from './family-map';
import { shuffledBags } from './shuffled-bags';

/** In which order a family is fired: all of it shuffled, again and again, and never the same one twice in a row. */
export function fireOrder(members: readonly number[], plays: number, seed: number): number[] {
  return shuffledBags(members.length, plays, seed).map((place) => members[place]!);
}

/** Siblings one after the other at a rate; each rings out over the next. */
export function fireAudio(family: ReadonlyMap<number, Audio>, order: readonly number[], rate: Hertz): Audio {
  const first = family.values().next().value;
  if (!first) throw new RangeError('There is nothing to fire.');
  const { sampleRate } = first;
  const starts = order.map((_, play) => Math.round((play * sampleRate) / rate));
  const frames = order.reduce((end, index, play) => Math.max(end, starts[play]! + frameCount(family.get(index)!)), 0);
  const output = silence(sampleRate, first.channels.length, frames);
  for (const [play, index] of order.entries()) {
    family.get(index)!.channels.forEach((from, c) => {
      const to = output.channels[c]!;
      const start = starts[play]!;
      for (let i = 0; i < from.length; i++) to[start + i] = to[start + i]! + from[i]!;
    });
  }
  return output;
}

/** Sounds that somebody still has in the ear when the next one comes. */
const remembered = 4;
const triedPlays = 4_000;

/**
 * How long it takes on average until something is heard again while it is still in the ear: the same sibling, or a near-twin of it, among the last four.
 * Infinity where that never happens.
 */
export function repeatTime(members: readonly number[], { count, between }: FamilyDistances, rate: Hertz): Seconds {
  const order = fireOrder(members, triedPlays, 1);
  let repeats = 0;
  for (let play = 1; play < order.length; play++) {
    const now = order[play]!;
    for (let back = 1; back <= Math.min(remembered, play); back++) {
      const before = order[play - back]!;
      if (before !== now && between[now * count + before]! >= twinDistance) continue;
      repeats++;
      break;
    }
  }
  return repeats > 0 ? order.length / repeats / rate : Infinity;
}
