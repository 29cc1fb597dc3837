import type { Random } from '../dsp/random';

/** What is remembered of the choices among a number of things. */
export interface ChoiceMemory {
  /** Those that have not had their turn in this round. */
  bag: number[];
  /** The latest choices, the last one at the end. */
  recent: number[];
}

export const noChoices = (): ChoiceMemory => ({ bag: [], recent: [] });

/**
 * Chooses by chance among `weights`, never one of the last `avoid` as long as another is there; what has no weight is not chosen. Undefined where nothing can
 * be.
 */
export function chooseByChance(weights: readonly number[], avoid: number, memory: ChoiceMemory, random: Random): number | undefined {
  const chance = random.next();
  const possible = weights.flatMap((weight, index) => (weight > 0 ? [index] : []));
  const free = withoutRecent(possible, avoid, memory);
  let rest = chance * free.reduce((sum, index) => sum + weights[index]!, 0);
  for (const index of free) {
    rest -= weights[index]!;
    if (rest < 0) return remember(index, weights.length, memory);
  }
  return free.length > 0 ? remember(free.at(-1)!, weights.length, memory) : undefined;
}

/** Chooses among `count` so that each has its turn before any comes again, never one of the last `avoid` as long as another is there. */
export function chooseShuffled(count: number, avoid: number, memory: ChoiceMemory, random: Random): number | undefined {
  const chance = random.next();
  if (count < 1) return undefined;
  // Things that went meanwhile have no turn any more.
  memory.bag = memory.bag.filter((index) => index < count);
  if (memory.bag.length === 0) memory.bag = Array.from({ length: count }, (_, index) => index);
  const free = withoutRecent(memory.bag, avoid, memory);
  const chosen = free[Math.min(free.length - 1, Math.floor(chance * free.length))]!;
  memory.bag = memory.bag.filter((index) => index !== chosen);
  return remember(chosen, count, memory);
}

/** Those that were not among the last `avoid`; where that leaves none, as few of the latest as possible are left out. */
function withoutRecent(possible: readonly number[], avoid: number, { recent }: ChoiceMemory): readonly number[] {
  for (let back = Math.min(avoid, recent.length); back > 0; back--) {
    const late = recent.slice(-back);
    const free = possible.filter((index) => !late.includes(index));
    if (free.length > 0) return free;
  }
  return possible;
}

function remember(index: number, count: number, memory: ChoiceMemory): number {
  memory.recent.push(index);
  if (memory.recent.length > count) memory.recent.shift();
  return index;
}

/** Which of several lies at a place, 0 to 1, of a range that they share by their weights. Undefined where none has weight. */
export function chooseByPlace(weights: readonly number[], place: number): number | undefined {
  const whole = weights.reduce((sum, weight) => sum + Math.max(0, weight), 0);
  let rest = Math.min(1, Math.max(0, place)) * whole;
  let last: number | undefined;
  for (const [index, weight] of weights.entries()) {
    if (!(weight > 0)) continue;
    last = index;
    rest -= weight;
    if (rest < 0) return index;
  }
  return last;
}
