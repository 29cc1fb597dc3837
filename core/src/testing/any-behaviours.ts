import type { Behaviour, ConductData, GameBus, GameMove, GamePull, Play } from '../conduct/conduct-data';
import type { TimedMove } from '../conduct/perform';
import type { Random } from '../dsp/random';
import {
  behaviourDials,
  busDials,
  compressorDials,
  distanceDials,
  lowestDrawn,
  playDials,
  pulledDials,
  roomDials,
  slotDials,
  walkSpeed,
} from '../project/game/behaviour-dials';
import type { NumberParameter } from '../project/parameters';
import { testBehaviour, testConduct } from './conduct';

type Dials = Readonly<Record<string, NumberParameter>>;

const kinds = ['one', 'pick', 'line', 'burst', 'sprinkle', 'stack', 'blend', 'hold'] as const;
const stages = ['start', 'hold', 'end'] as const;
const deepest = 3;

/** Draws trees of behaviours, buses and moves of all kinds, with many dials at their ends. */
export class AnyBehaviours {
  private readonly behaviours: Behaviour[] = [];

  constructor(private readonly random: Random) {}

  /** Two trees over the sounds of `testConduct`, a chain of three buses, and a mood. */
  data(): ConductData {
    this.tree(undefined, 0);
    this.tree(undefined, 0);
    return {
      ...testConduct(this.behaviours),
      voices: this.one([1, 2, 16, 256]),
      parameters: [{ id: 'wind', name: 'Wind', low: 0, high: 40, start: 0, smoothing: this.one([0, 0.2, 60]) }],
      buses: [this.bus('x'), this.bus('y', 'x'), this.bus('z', 'y')],
      moods: [{ id: 'm', name: 'Mood', fade: this.one([0, 1, 120]), levels: { x: -96, y: 24 } }],
    };
  }

  /** Moves within some seconds, in order. */
  moves(count: number, seconds: number): readonly TimedMove[] {
    const moves = Array.from({ length: count }, () => ({ at: this.random.next() * seconds, move: this.move() }));
    return moves.sort((a, b) => a.at - b.at);
  }

  /** The behaviours that a game calls. */
  get roots(): readonly string[] {
    return this.behaviours.filter(({ parent }) => parent === undefined).map(({ id }) => id);
  }

  private tree(parent: string | undefined, depth: number): void {
    const id = `b${this.behaviours.length}`;
    const play = this.play(depth < deepest ? this.one(kinds) : 'one');
    this.behaviours.push(
      testBehaviour(id, play, {
        ...this.dials(behaviourDials),
        // Otherwise hardly anything would be heard.
        ...(this.chance(0.7) && { chance: 1, coolDown: 0, delay: 0.2 * this.random.next() }),
        parent,
        givesWay: this.one(['oldest', 'quietest', 'newest']),
        slot: { ...this.dials(slotDials), stage: this.one(stages), curve: this.curve(0, 1, 1) },
        pulls: this.some(2, () => this.pull()),
        bus: this.one([undefined, 'x', 'y', 'z']),
        mood: this.one([undefined, undefined, undefined, 'm']),
        distance: this.chance(0.3)
          ? { ...this.dials(distanceDials), law: this.one(['inverse', 'even', 'slow', 'drawn']), curve: this.curve(lowestDrawn, 0, 1) }
          : undefined,
        place: this.chance(0.3) ? { x: this.between(-50, 50), y: this.between(-50, 50) } : undefined,
      }),
    );
    if (play.kind !== 'one') this.some(3, () => this.tree(id, depth + 1));
  }

  private play(kind: Play['kind']): Play {
    const { avoid, gap, rate, uneven, shots, shortest, longest, release } = this.dials(playDials);
    const parameter = this.one(['wind', '']);
    switch (kind) {
      case 'one':
        return {
          kind,
          sound: this.one(['thud', 'steps', 'hum', '', 'gone']),
          from: this.one(['original', 'family']),
          avoid,
          loops: this.chance(0.5),
        };
      case 'pick':
        return { kind, by: this.one(['shuffle', 'chance', 'parameter']), avoid, parameter };
      case 'line':
        return { kind, step: this.one(['call', 'through']), gap, again: this.chance(0.5) };
      case 'burst':
        // At its own rate none lasts for longer than two minutes, or it goes on for ever.
        return { kind, rate, uneven, shots: Math.min(shots, Math.ceil(100 * rate)) };
      case 'sprinkle':
        return { kind, shortest, longest };
      case 'stack':
        return { kind };
      case 'blend':
        return { kind, parameter };
      case 'hold':
        return { kind, stopInStart: this.one(['finish', 'cut']), leave: this.one(['at once', 'end of round']), release };
    }
  }

  private pull(): GamePull {
    const property = this.one(['gain', 'pitch', 'highCut', 'chance', 'rate'] as const);
    const { min, max } = pulledDials[property];
    return { parameter: 'wind', property, points: this.curve(min, max, 40) };
  }

  private bus(id: string, into?: string): GameBus {
    const duck = {
      under: this.one(['x', 'y', 'z']),
      depth: this.between(-96, 0),
      attack: this.one([0, 10]),
      release: this.one([0, 0.3, 30]),
    };
    return {
      id,
      name: id,
      into,
      gain: this.one([-96, 0, 24]),
      muted: this.chance(0.1),
      ...this.dials(busDials),
      room: this.chance(0.4) ? this.dials(roomDials) : undefined,
      compressor: this.chance(0.5) ? this.dials(compressorDials) : undefined,
      duck: this.chance(0.3) ? duck : undefined,
    };
  }

  private move(): GameMove {
    const emitter = this.one([undefined, undefined, 'e1', 'e2']);
    const behaviour = this.one(this.roots);
    const place = { x: this.between(-50, 50), y: this.between(-50, 50) };
    const moves: readonly GameMove[] = [
      { do: 'trigger', behaviour, emitter },
      { do: 'trigger', behaviour },
      { do: 'stop', behaviour, emitter },
      { do: 'set', parameter: 'wind', value: this.one([-1e9, 0, 20, 40, 1e9]) },
      { do: 'mood', mood: 'm' },
      { do: 'listener', ...this.one([{ x: 0, y: 0 }, { x: 1e4, y: -1e4 }, place]), facing: this.between(-3_600, 3_600) },
      { do: 'emitter', emitter: 'e1', ...place },
      { do: 'walk', emitter, points: [place, { x: 0, y: 0 }], speed: this.dial(walkSpeed), way: this.one(['once', 'round', 'to and fro']) },
    ];
    return this.one(moves);
  }

  private dials<T extends Dials>(dials: T): { readonly [K in keyof T]: number } {
    // Every key of the dials becomes a number; the compiler sees only a list of entries.
    return Object.fromEntries(Object.entries(dials).map(([key, dial]) => [key, this.dial(dial)])) as { readonly [K in keyof T]: number };
  }

  private dial({ min, max, step, default: preset }: NumberParameter): number {
    const value = this.one([min, max, preset, this.between(min, max), this.between(min, max)]);
    return step === 1 ? Math.round(value) : value;
  }

  private curve(least: number, most: number, width: number): { readonly at: number; readonly value: number }[] {
    const points = this.some(3, () => ({ at: this.between(0, width), value: this.one([least, most, this.between(least, most)]) }));
    return points.sort((a, b) => a.at - b.at);
  }

  private some<T>(most: number, make: () => T): T[] {
    return Array.from({ length: Math.floor(this.random.next() * (most + 1)) }, make);
  }

  private between(least: number, most: number): number {
    return least + this.random.next() * (most - least);
  }

  private chance(share: number): boolean {
    return this.random.next() < share;
  }

  private one<T>(list: readonly T[]): T {
    return list[Math.floor(this.random.next() * list.length)]!;
  }
}
