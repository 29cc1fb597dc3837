import * as z from 'zod';
import { scaleKinds } from '../tuning/scale';
import { id } from './schema-parts';

const swayTarget = {
  id,
  address: z.string().max(300),
  locked: z.boolean(),
  /** The address whose chance it shares: pieces of one clip draw alike, so that a cut stays unheard in every sibling. */
  like: z.string().max(300).optional(),
};
const sourceTime = z.number().min(-86_400).max(172_800);
/** A stretch of a source that a clip may play, in the source's own time. */
const alternative = z.strictObject({
  source: id,
  from: z.number().min(0).max(86_400),
  to: z.number().min(0).max(86_400),
  /** The stretch of its own source that the clip played when this was chosen: what has been cut from it since is cut from this one, too. */
  over: z.strictObject({ from: sourceTime, to: sourceTime }),
});

const shapes = ['even', 'middle', 'ends'] as const;

const chanceTarget = {
  ...swayTarget,
  /**
   * The address of another range or presence whose draw this one goes along with: at 1 wholly, at −1 the other way round, at 0 not at all.
   */
  follows: z.strictObject({ address: z.string().max(300), amount: z.number().min(-1).max(1) }).optional(),
};

/**
 * How one property may vary between siblings: a range of offsets from its base (where in it draws gather, and whether in steps, of a size in the unit of the offsets
 * or of a scale on the base), which of some values a choice or a switch has, the chance that a layer is there at all, how many of some layers are there, in which
 * order the clips of a layer come, or what a clip plays, one of several stretches of sources.
 */
const sway = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('range'),
    ...chanceTarget,
    low: z.number(),
    high: z.number(),
    shape: z.enum(shapes).optional(),
    steps: z.union([z.number().positive(), z.enum(scaleKinds)]).optional(),
  }),
  z.strictObject({ kind: z.literal('presence'), ...chanceTarget, chance: z.number().min(0).max(1) }),
  z.strictObject({
    kind: z.literal('choice'),
    ...swayTarget,
    of: z
      .array(z.union([z.string().max(300), z.boolean()]))
      .min(1, 'has no values')
      .max(200, 'has more than 200 values'),
  }),
  z.strictObject({
    kind: z.literal('some'),
    ...swayTarget,
    layers: z.array(id).min(1, 'has no layers').max(200, 'has more than 200 layers'),
    least: z.int().min(0).max(200),
    most: z.int().min(0).max(200),
  }),
  z.strictObject({ kind: z.literal('order'), ...swayTarget }),
  z.strictObject({
    kind: z.literal('alternatives'),
    ...swayTarget,
    of: z.array(alternative).min(1, 'has no alternatives').max(200, 'has more than 200 alternatives'),
  }),
]);

/** Of ids of clips or layers, one after the other. */
const longestDraw = 20_000;

const sibling = z.strictObject({
  /** Rises by one each time the sibling is rolled again. */
  roll: z.int().min(0),
  state: z.enum(['open', 'kept', 'dropped']),
  /** The draws of a kept sibling by address, so that it stays as it was heard when sways change later. */
  draws: z.record(z.string().max(300), z.union([z.number(), z.boolean(), z.string().max(longestDraw), alternative])).optional(),
});

/** As many sways as a family can have. */
export const mostSways = 2_000;

export const family = z.strictObject({
  seed: z.int().min(0).max(0xffffffff),
  sways: z.array(sway).max(mostSways, `has more than ${mostSways} sways`),
  siblings: z.array(sibling).max(1_000, 'has more than 1000 siblings'),
});

export const swayShapes = shapes;
export type SwayShape = (typeof shapes)[number];
export type Sway = z.infer<typeof sway>;
/** Sways that are drawn by a chance that others can go along with. */
export type ChancedSway = Extract<Sway, { kind: 'range' | 'presence' }>;
export type Alternative = z.infer<typeof alternative>;
export type Sibling = z.infer<typeof sibling>;
export type Family = z.infer<typeof family>;

export function isChanced(sway: Sway): sway is ChancedSway {
  return sway.kind === 'range' || sway.kind === 'presence';
}
