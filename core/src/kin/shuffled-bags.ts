import { createRandom, seedOf, shuffle } from '../dsp/random';

/**
 * Numbers from 0 to `count` − 1 in the order of shuffled bags: all of them once before any comes again, and never the same one twice in a row. The same seed
 * gives the same order, however many are asked for.
 */
export function shuffledBags(count: number, plays: number, seed: number): number[] {
  const order: number[] = [];
  for (let round = 0; count > 0 && order.length < plays; round++) {
    const bag = Array.from({ length: count }, (_, i) => i);
    shuffle(bag, createRandom(seedOf(seed, round)));
    // The last of one bag is not the first of the next.
    if (count > 1 && bag[0] === order.at(-1)) bag.push(bag.shift()!);
    order.push(...bag);
  }
  return order.slice(0, plays);
}
