import * as z from 'zod';
import type { NumberParameter } from '../parameters';
import { id, name } from '../schema-parts';
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
} from './behaviour-dials';

/** How sounds behave in a game. The same words as in `conduct.json`, with sounds by their ids. */

const number = ({ min, max, step }: NumberParameter) => (step === 1 ? z.int().min(min).max(max) : z.number().min(min).max(max));
const numbers = <T extends Record<string, NumberParameter>>(dials: T) =>
  // Every key of the dials becomes a number; the compiler sees only a list of entries.
  Object.fromEntries(Object.entries(dials).map(([key, dial]) => [key, number(dial)])) as { readonly [K in keyof T]: z.ZodNumber };
const reference = id.or(z.literal(''));
const metres = z.number().min(-10_000).max(10_000);
const decibels = z.number().min(-96).max(24);

const inOrder = (points: readonly { at: number }[]): boolean => points.every((point, i) => i === 0 || points[i - 1]!.at <= point.at);
const curve = (least: number, most: number) =>
  z
    .array(z.strictObject({ at: z.number().min(-1e9).max(1e9), value: z.number().min(least).max(most) }))
    .max(100, 'has more than 100 points')
    .refine(inOrder, 'is not in the order of its places');

export const behaviourKinds = ['one', 'pick', 'line', 'burst', 'sprinkle', 'stack', 'blend', 'hold'] as const;

const play = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('one'),
    sound: reference,
    from: z.enum(['original', 'family']),
    avoid: number(playDials.avoid),
    loops: z.boolean(),
  }),
  z.strictObject({
    kind: z.literal('pick'),
    by: z.enum(['shuffle', 'chance', 'parameter']),
    avoid: number(playDials.avoid),
    parameter: reference,
  }),
  z.strictObject({ kind: z.literal('line'), step: z.enum(['call', 'through']), gap: number(playDials.gap), again: z.boolean() }),
  z.strictObject({
    kind: z.literal('burst'),
    rate: number(playDials.rate),
    uneven: number(playDials.uneven),
    shots: number(playDials.shots),
  }),
  z.strictObject({ kind: z.literal('sprinkle'), shortest: number(playDials.shortest), longest: number(playDials.longest) }),
  z.strictObject({ kind: z.literal('stack') }),
  z.strictObject({ kind: z.literal('blend'), parameter: reference }),
  z.strictObject({
    kind: z.literal('hold'),
    stopInStart: z.enum(['finish', 'cut']),
    leave: z.enum(['at once', 'end of round']),
    release: number(playDials.release),
  }),
]);

const slot = z.strictObject({ ...numbers(slotDials), stage: z.enum(['start', 'hold', 'end']), curve: curve(0, 1) });

const pull = z.discriminatedUnion('property', [
  z.strictObject({ parameter: id, property: z.literal('gain'), points: curve(pulledDials.gain.min, pulledDials.gain.max) }),
  z.strictObject({ parameter: id, property: z.literal('pitch'), points: curve(pulledDials.pitch.min, pulledDials.pitch.max) }),
  z.strictObject({ parameter: id, property: z.literal('highCut'), points: curve(pulledDials.highCut.min, pulledDials.highCut.max) }),
  z.strictObject({ parameter: id, property: z.literal('chance'), points: curve(pulledDials.chance.min, pulledDials.chance.max) }),
  z.strictObject({ parameter: id, property: z.literal('rate'), points: curve(pulledDials.rate.min, pulledDials.rate.max) }),
]);

const behaviour = z.strictObject({
  id,
  name,
  parent: id.optional(),
  play,
  ...numbers(behaviourDials),
  givesWay: z.enum(['oldest', 'quietest', 'newest']),
  bus: id.optional(),
  mood: id.optional(),
  /** With which others it is in memory; only that of a root counts. */
  group: id.optional(),
  slot,
  pulls: z.array(pull).max(100, 'has more than 100 pulls'),
  distance: z
    .strictObject({ ...numbers(distanceDials), law: z.enum(['inverse', 'even', 'slow', 'drawn']), curve: curve(lowestDrawn, 0) })
    .optional(),
  place: z.strictObject({ x: metres, y: metres }).optional(),
});

const gameParameter = z.strictObject({
  id,
  name,
  low: z.number().min(-1e6).max(1e6),
  high: z.number().min(-1e6).max(1e6),
  start: z.number().min(-1e6).max(1e6),
  smoothing: z.number().min(0).max(60),
});

const gameBus = z.strictObject({
  id,
  name,
  gain: decibels,
  muted: z.boolean(),
  /** The bus that it goes into. */
  into: id.optional(),
  ...numbers(busDials),
  room: z.strictObject(numbers(roomDials)).optional(),
  compressor: z.strictObject(numbers(compressorDials)).optional(),
  duck: z
    .strictObject({ under: id, depth: z.number().min(-96).max(0), attack: z.number().min(0).max(10), release: z.number().min(0).max(30) })
    .optional(),
});

const mood = z.strictObject({ id, name, fade: z.number().min(0).max(120), levels: z.record(id, decibels) });

const loadGroup = z.strictObject({
  id,
  name,
  /** Bytes that it may take. */
  budget: z
    .int()
    .min(1)
    .max(2 ** 40),
});

/** What is said of a way besides who goes it. */
export const walkShape = {
  points: z
    .array(z.strictObject({ x: metres, y: metres }))
    .min(1, 'has no places')
    .max(1_000, 'has more than 1000 places'),
  speed: number(walkSpeed),
  way: z.enum(['once', 'round', 'to and fro']),
};

export const moveSchema = z.discriminatedUnion('do', [
  z.strictObject({ do: z.literal('trigger'), behaviour: id, emitter: id.optional() }),
  z.strictObject({ do: z.literal('stop'), behaviour: id, emitter: id.optional() }),
  z.strictObject({ do: z.literal('set'), parameter: id, value: z.number() }),
  z.strictObject({ do: z.literal('mood'), mood: id }),
  z.strictObject({ do: z.literal('listener'), x: metres, y: metres, facing: z.number().min(-3_600).max(3_600) }),
  z.strictObject({ do: z.literal('emitter'), emitter: id, x: metres, y: metres }),
  z.strictObject({ do: z.literal('walk'), emitter: id.optional(), ...walkShape }),
]);

/** What a game does and when, to be played again. */
const script = z.strictObject({
  id,
  name,
  seconds: z.number().positive().max(3_600),
  moves: z.array(z.strictObject({ at: z.number().min(0).max(3_600), move: moveSchema })).max(100_000, 'has more than 100000 moves'),
});

export const conductSchema = z.strictObject({
  seed: z.int().min(0).max(0xffffffff),
  /** How many voices may sound at once. */
  voices: z.int().min(1).max(256),
  parameters: z.array(gameParameter).max(200, 'has more than 200 parameters'),
  buses: z.array(gameBus).max(100, 'has more than 100 buses'),
  moods: z.array(mood).max(200, 'has more than 200 moods'),
  groups: z.array(loadGroup).max(200, 'has more than 200 load groups'),
  behaviours: z.array(behaviour).max(2_000, 'has more than 2000 behaviours'),
  scripts: z.array(script).max(200, 'has more than 200 scripts'),
});

export type Conduct = z.infer<typeof conductSchema>;
export type GameBehaviour = Conduct['behaviours'][number];
export type GameBusSettings = Conduct['buses'][number];
export type BehaviourPlay = GameBehaviour['play'];
export type ConductScript = Conduct['scripts'][number];
