import { curveHeight } from '../automation/drawn-curve';
import { bentShare } from '../automation/lane-value';
import { createRandom, seedOf } from '../dsp/random';
import { offsetValue } from '../project/offset';
import type { NumberParameter } from '../project/parameters';
import type { Mover, Pull, Rein, Tide } from '../project/schema';
import type { Seconds, Unit } from '../units';

/** Points of a tide's table; read with straight lines between them. */
const tableSize = 1_024;

/** How far a rein pulls where its value is: from 0 to 1, or both ways from its middle. */
export function reinHeight({ bothWays }: Pick<Rein, 'bothWays'>, value: Unit): number {
  return bothWays ? 2 * value - 1 : value;
}

/** True for what pulls to both sides. */
export function pullsBothWays(mover: Mover): boolean {
  return mover.kind === 'tide' || mover.kind === 'walk' || (mover.kind === 'rein' && mover.bothWays === true);
}

/** Where a mover is at a moment: -1 to 1 for what pulls both ways, 0 to 1 for other reins and followers. */
export interface MoverCourse {
  at(time: Seconds): number;
  /** How many rounds a tide has gone by then. */
  rounds?(time: Seconds): number;
}

/** How long one round of a tide is. */
export function tideSeconds({ length, unit }: Pick<Tide, 'length' | 'unit'>, bpm: number): Seconds {
  return unit === 'beats' ? (length * 60) / bpm : length;
}

/** Height of a tide's drawn curve at a place of its round, 0 to 1. */
export function tideHeight({ points }: Pick<Tide, 'points'>, place: number): number {
  return curveHeight({ points, rounds: true }, place);
}

/** A tide as a table of one round, averaged over its smoothing. */
function tideTable(tide: Tide): Float64Array {
  const plain = Float64Array.from({ length: tableSize }, (_, i) => tideHeight(tide, i / tableSize));
  const reach = Math.round((tide.smoothing * tableSize) / 4);
  if (reach === 0) return plain;
  // Twice a moving average is a triangle: no corner is left.
  const averaged = (table: Float64Array): Float64Array => {
    let sum = 0;
    for (let i = -reach; i <= reach; i++) sum += table[(i + tableSize) % tableSize]!;
    return table.map((_, i) => {
      const mean = sum / (2 * reach + 1);
      sum += table[(i + reach + 1) % tableSize]! - table[(i - reach + tableSize) % tableSize]!;
      return mean;
    });
  };
  return averaged(averaged(plain));
}

/** How often what a pace adds up to is summed up, and read in straight lines between. */
const paceStep: Seconds = 1 / 64;

/** How far something has come by a moment whose pace changes: the integral of it from 0 on, by the midpoint rule. */
function distance(paceAt: (time: Seconds) => number): (time: Seconds) => number {
  const sums = [0];
  return (time) => {
    const step = Math.max(0, Math.floor(time / paceStep));
    for (let k = sums.length - 1; k <= step; k++) sums.push(sums[k]! + paceStep * paceAt((k + 0.5) * paceStep));
    return sums[step]! + (sums[step + 1]! - sums[step]!) * (time / paceStep - step);
  };
}

/**
 * Follows a mover along the time axis. Every moment can be asked for in any order: nothing but the document decides its value.
 * @param moved where its own property is at a moment, if something moves that: how far a rein is drawn, the length of a round, the rate of a walk
 */
export function moverCourse(mover: Mover, bpm: number, moved?: (time: Seconds) => number): MoverCourse {
  switch (mover.kind) {
    case 'rein':
      return { at: (time) => reinHeight(mover, moved ? moved(time) : mover.value) };
    case 'follower':
      // Only a render hears what it follows (see `FollowerTracks`).
      return { at: () => 0 };
    case 'tide': {
      const table = tideTable(mover);
      const seconds = tideSeconds(mover, bpm);
      const rounds = moved && distance((time) => 1 / tideSeconds({ length: moved(time), unit: mover.unit }, bpm));
      const roundsAt = (time: Seconds): number => (mover.frozen ? 0 : rounds ? rounds(time) : time / seconds) + mover.phase;
      return {
        rounds: roundsAt,
        at: (time) => {
          const round = roundsAt(time);
          const place = (round - Math.floor(round)) * tableSize;
          const index = Math.floor(place) % tableSize;
          const here = table[index]!;
          return here + (table[(index + 1) % tableSize]! - here) * (place - Math.floor(place));
        },
      };
    }
    case 'walk': {
      const height = (step: number): number => 2 * createRandom(seedOf(mover.seed, step)).next() - 1;
      let known = NaN;
      let from = 0;
      let to = 0;
      const steps = moved && distance(moved);
      return {
        at: (time) => {
          const place = steps ? steps(time) : time * mover.rate;
          const step = Math.floor(place);
          if (step !== known) {
            known = step;
            from = height(step);
            to = height(step + 1);
          }
          // Along half a cosine from one drawn height to the next.
          return from + (to - from) * (0.5 - 0.5 * Math.cos(Math.PI * (place - step)));
        },
      };
    }
  }
}

/** Along which part of its mover's way something is pulled, and how. */
export type PullShape = Pick<Pull, 'from' | 'to' | 'bend'>;

/** How far a pull has gone, -1 to 1, where its mover is at `value`; to both sides alike. */
export function shapedPull({ from = 0, to = 1, bend = 0 }: PullShape, value: number): number {
  const way = Math.abs(value);
  const share = to > from ? Math.max(0, Math.min(1, (way - from) / (to - from))) : way >= from ? 1 : 0;
  return Math.sign(value) * bentShare(share, bend);
}

/** What a property becomes by everything that pulls at it. Depths are offsets, in the property's offset unit, where the mover is at 1. */
export function pulledValue(
  parameter: NumberParameter,
  base: number,
  pulls: readonly (PullShape & { readonly depth: number; readonly course: MoverCourse })[],
  time: Seconds,
): number {
  let offset = 0;
  for (const pull of pulls) offset += pull.depth * shapedPull(pull, pull.course.at(time));
  return offset === 0 ? base : offsetValue(parameter, base, offset);
}

/**
 * The lowest and the highest value that a property can reach while its lane or its dial is at one of `bases` and everybody pulls as far
 * as they can, to one side or to both.
 */
export function reachOf(
  parameter: NumberParameter,
  bases: readonly number[],
  pulls: readonly { readonly depth: number; readonly bothWays: boolean }[],
): { readonly low: number; readonly high: number } {
  let [down, up] = [0, 0];
  for (const { depth, bothWays } of pulls) {
    down += bothWays ? -Math.abs(depth) : Math.min(0, depth);
    up += bothWays ? Math.abs(depth) : Math.max(0, depth);
  }
  const reached = bases.flatMap((base) => [
    down === 0 ? base : offsetValue(parameter, base, down),
    up === 0 ? base : offsetValue(parameter, base, up),
  ]);
  return { low: Math.min(...reached), high: Math.max(...reached) };
}

/** Values of a property while its pulls swing fully to both sides: what must be reckoned with. */
export function pulledExtremes(parameter: NumberParameter, base: number, pulls: readonly { readonly depth: number }[]): number[] {
  const reach = pulls.reduce((sum, { depth }) => sum + Math.abs(depth), 0);
  return reach === 0 ? [base] : [offsetValue(parameter, base, -reach), base, offsetValue(parameter, base, reach)];
}
