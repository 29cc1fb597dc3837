import { createRandom, seedOf, shuffle } from '../dsp/random';
import type { Alternative, ChancedSway, Sound, Sway } from '../project/schema';
import { isChanced } from '../project/schema';
import { nearestInScale } from '../tuning/scale';
import type { Unit } from '../units';
import { settled } from './settled';
import { shuffledBags } from './shuffled-bags';

/**
 * What a sibling drew: per address its offset, for a presence 1 (there) or 0 (not), for a choice or a switch its value, for some of several layers the ids of those
 * that are absent, for an order the ids of clips, for alternatives the stretch of a source that is played.
 */
export type Draw = number | string | boolean | Alternative;
export type Draws = Readonly<Record<string, Draw>>;

/**
 * The draws of sibling `index`. Each depends on the seed, the sibling, its roll and the address alone, or on the one whose chance it shares or goes along with:
 * another sway, added or taken away, moves no other draw. A kept sibling has its draws in the document. Without sways a sibling equals the original.
 */
export function drawSibling(sound: Sound, index: number): Draws {
  const sibling = sound.family.siblings[index];
  if (sibling?.draws) return sibling.draws;
  const dice = new Dice(sound, index, sibling?.roll ?? 0);
  return Object.fromEntries(sound.family.sways.map((sway) => [sway.address, dice.draw(sway)]));
}

/** What one sibling draws. */
class Dice {
  constructor(
    private readonly sound: Sound,
    private readonly index: number,
    private readonly roll: number,
  ) {}

  draw(sway: Sway): Draw {
    switch (sway.kind) {
      case 'range':
        return placeInRange(sway, this.chance(sway));
      case 'presence':
        return Number(this.chance(sway) < sway.chance);
      case 'some':
        return this.some(sway).join(' ');
      case 'order':
        return this.order(sway).join(' ');
      case 'choice':
        return this.oneOf(sway.of, sway);
      case 'alternatives':
        return this.oneOf(sway.of, sway);
    }
  }

  /** Shuffled over the family: all come before one comes again. Who is rolled again gets the next of all. */
  private oneOf<T>(values: readonly T[], sway: Sway): T {
    const place = shuffledBags(values.length, this.index + 1, seedOf(this.sound.family.seed, sway.like ?? sway.address))[this.index]!;
    return values[(place + this.roll) % values.length]!;
  }

  /** Who of some layers is absent: how many are there is as likely for each number. */
  private some({ layers, least, most, ...sway }: Extract<Sway, { kind: 'some' }>): readonly string[] {
    const random = this.randomOf(sway);
    const [fewest, all] = [Math.min(least, layers.length), Math.min(most, layers.length)];
    const count = fewest + Math.floor(random.next() * (Math.max(fewest, all) - fewest + 1));
    const order = [...layers];
    shuffle(order, random);
    const there = new Set(order.slice(0, count));
    return layers.filter((layer) => !there.has(layer));
  }

  private order(sway: Extract<Sway, { kind: 'order' }>): readonly string[] {
    const layer = this.sound.layers.find(({ id }) => sway.address.split('/')[1] === id);
    const clips = (layer?.clips ?? []).toSorted((a, b) => a.start - b.start).map(({ id }) => id);
    shuffle(clips, this.randomOf(sway));
    return clips;
  }

  private randomOf({ like, address }: Pick<Sway, 'like' | 'address'>) {
    return createRandom(seedOf(this.sound.family.seed, this.index, this.roll, like ?? address));
  }

  /** A chance from 0 to 1, as likely anywhere, whatever it goes along with. */
  private chance(sway: ChancedSway, behind: ReadonlySet<string> = new Set()): Unit {
    const own = this.randomOf(sway).next();
    const { follows } = sway;
    const leader = this.sound.family.sways.find((other): other is ChancedSway => isChanced(other) && isLedBy(follows, other));
    // In a circle nobody leads.
    if (!follows || !leader || leader === sway || behind.has(leader.address)) return own;
    return goAlong(this.chance(leader, new Set([...behind, sway.address])), own, follows.amount);
  }
}

/** True where a sway goes along with another one, or with what was a part of it. */
function isLedBy(follows: ChancedSway['follows'], { address, like }: Sway): boolean {
  return follows !== undefined && (follows.address === address || follows.address === like);
}

/**
 * A chance that goes along with another one by an amount from −1 to 1: the other one, or its opposite, moved by so much of an own one and reflected at 0 and 1. Reflected
 * noise leaves an even distribution even (it is stationary under diffusion with reflecting walls); at 0 nothing of the other one is left.
 */
export function goAlong(leader: Unit, own: Unit, amount: number): Unit {
  const base = amount < 0 ? 1 - leader : leader;
  const moved = Math.abs(base + (1 - Math.abs(amount)) * (2 * own - 1));
  return moved > 1 ? 2 - moved : moved;
}

/** Where in its range a chance leads, in the unit of its offsets. */
function placeInRange({ low, high, shape, steps }: Extract<Sway, { kind: 'range' }>, chance: Unit): number {
  const at = gathered(chance, shape);
  const places = steps === undefined ? [] : stepsWithin(Math.min(low, high), Math.max(low, high), steps);
  if (places.length === 0) return low + (high - low) * at;
  return places[Math.min(places.length - 1, Math.floor(at * places.length))]!;
}

/** An even chance as one that gathers in the middle (a triangle) or at the ends (an arcsine distribution). */
function gathered(chance: Unit, shape: Extract<Sway, { kind: 'range' }>['shape']): Unit {
  if (shape === 'middle') return chance < 0.5 ? Math.sqrt(chance / 2) : 1 - Math.sqrt((1 - chance) / 2);
  return shape === 'ends' ? settled(Math.sin((Math.PI / 2) * chance) ** 2) : chance;
}

/** At most as many steps are told apart: with more, a range is as good as without. */
const mostSteps = 10_000;

/** The steps within a range: multiples of a size, or semitones that belong to a scale on 0. None where no step lies within, or too many do. */
function stepsWithin(low: number, high: number, steps: NonNullable<Extract<Sway, { kind: 'range' }>['steps']>): number[] {
  const size = typeof steps === 'number' ? steps : 1;
  const first = Math.ceil(low / size - 1e-9);
  const last = Math.floor(high / size + 1e-9);
  if (last - first > mostSteps) return [];
  const all = Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * size);
  return typeof steps === 'number' ? all : all.filter((step) => nearestInScale({ root: 0, kind: steps }, step) === step);
}
