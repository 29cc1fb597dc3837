import * as z from 'zod';
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

/**
 * How far one property may vary between siblings: a range of offsets from its base, the chance that a layer is there at all, or what a clip plays, one of several
 * stretches of sources.
 */
const sway = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('range'), ...swayTarget, low: z.number(), high: z.number() }),
  z.strictObject({ kind: z.literal('presence'), ...swayTarget, chance: z.number().min(0).max(1) }),
  z.strictObject({
    kind: z.literal('alternatives'),
    ...swayTarget,
    of: z.array(alternative).min(1, 'has no alternatives').max(200, 'has more than 200 alternatives'),
  }),
]);

const sibling = z.strictObject({
  /** Rises by one each time the sibling is rolled again. */
  roll: z.int().min(0),
  state: z.enum(['open', 'kept', 'dropped']),
  /** The draws of a kept sibling by address, so that it stays as it was heard when sways change later. */
  draws: z.record(z.string().max(300), z.union([z.number(), alternative])).optional(),
});

/** As many sways as a family can have. */
export const mostSways = 2_000;

export const family = z.strictObject({
  seed: z.int().min(0).max(0xffffffff),
  sways: z.array(sway).max(mostSways, `has more than ${mostSways} sways`),
  siblings: z.array(sibling).max(1_000, 'has more than 1000 siblings'),
});

export type Sway = z.infer<typeof sway>;
export type Alternative = z.infer<typeof alternative>;
export type Sibling = z.infer<typeof sibling>;
export type Family = z.infer<typeof family>;
