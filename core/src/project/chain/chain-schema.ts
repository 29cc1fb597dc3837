import * as z from 'zod';
import { gain, id, pan } from '../schema-parts';

/** Chains in the document (see `schema.ts`): steps, the branches of hosts, and the states that a chain can be kept in. */
export interface EffectStep {
  id: string;
  effect: string;
  enabled: boolean;
  /** Share of the processed sound in the output. */
  mix: number;
  parameters: Record<string, number | string | boolean>;
  /** What runs side by side within a host, such as its bands from low to high; other effects have none. */
  branches?: Branch[] | undefined;
}

/** One of the ways through a host, with a chain and a fader of its own. */
export interface Branch {
  id: string;
  name: string;
  gain: number;
  pan: number;
  /** How much later than the others it is heard, on purpose. */
  delay: number;
  muted: boolean;
  soloed: boolean;
  chain: EffectStep[];
}

// Written out above, because a type that holds itself cannot be told from its schema in declarations.
const effectStep: z.ZodType<EffectStep> = z.strictObject({
  id,
  effect: z.string().max(60),
  enabled: z.boolean(),
  mix: z.number().min(0).max(1),
  parameters: z.record(
    z.string().regex(/^[a-z][A-Za-z0-9]{0,59}$/, 'is not a parameter name'),
    z.union([z.number(), z.string().max(2_000), z.boolean()]),
  ),
  get branches() {
    return z.array(branch).min(1, 'has no branches').max(mostBranches, `has more than ${mostBranches} branches`).optional();
  },
});

/** How many branches any host can have; each host may allow fewer. */
export const mostBranches = 8;

export const chain = z.array(effectStep).max(64, 'has more than 64 steps');

/** Letters of the states that a chain can be kept in. */
export const chainStates = ['A', 'B', 'C', 'D'] as const;

/**
 * How a chain stood at some time: what can be turned in it, by the end of its address (`chain/<step>/gain`), and which steps were on. Steps
 * that it does not mention were not there.
 */
export const states = z.partialRecord(
  z.enum(chainStates),
  z.record(z.string().max(300), z.union([z.number(), z.string().max(200), z.boolean()])),
);

export const mostAside = 200;

/** Steps that were removed from a chain while a state had them on: that state brings them back, to where they were. */
export const asides = z
  .array(z.strictObject({ step: effectStep, index: z.number().int().min(0).max(64), branch: id.optional() }))
  .max(mostAside, `has more than ${mostAside} removed steps`);

const branch: z.ZodType<Branch> = z.strictObject({
  id,
  name: z.string().max(60),
  gain,
  pan,
  delay: z.number().min(0).max(1),
  muted: z.boolean(),
  soloed: z.boolean(),
  get chain() {
    return chain;
  },
});

export type ChainState = (typeof chainStates)[number];
export type Snapshot = NonNullable<z.infer<typeof states>[ChainState]>;
export type Aside = z.infer<typeof asides>[number];
