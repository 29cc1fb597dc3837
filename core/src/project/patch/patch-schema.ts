import * as z from 'zod';
import { id, name, time } from '../schema-parts';

/** Patches and notes in the document (see `schema.ts`): what a made layer sounds with, and what its clips hold. */

export const mostParts = 16;
export const mostCurves = 8;
export const mostNotes = 10_000;
/** How far a part can move the phase of another one, in radians. */
export const mostModulation = 32;

const values = z.record(
  z.string().regex(/^[a-z][A-Za-z0-9]{0,59}$/, 'is not a parameter name'),
  z.union([z.number(), z.string().max(2_000), z.boolean()]),
);

const part = z.strictObject({
  id,
  /** One of the kinds in `synthesis/index.ts`. */
  kind: z.string().max(60),
  name: z.string().max(60),
  enabled: z.boolean(),
  parameters: values,
  /** Which parts move its phase, and by how many radians where they are at full scale. */
  from: z.array(z.strictObject({ part: id, amount: z.number().min(0).max(mostModulation) })).max(mostParts),
});

/** What a curve does to a parameter of a part where it is at 1, in the parameter's offset unit. */
const curvePull = z.strictObject({ id, part: id, parameter: z.string().max(60), depth: z.number().min(-1_000).max(1_000) });

/** A drawn curve that every note runs along: once, or round and round. */
const patchCurve = z.strictObject({
  id,
  name,
  length: z.number().min(0.001).max(3_600),
  /** What the length is counted in; along the note, it is as long as the note. */
  unit: z.enum(['seconds', 'beats', 'note']),
  rounds: z.boolean(),
  points: z
    .array(z.strictObject({ at: z.number().min(0).max(1), value: z.number().min(-1).max(1), bend: z.number().min(-1).max(1) }))
    .min(1, 'has no points')
    .max(1_000, 'has more than 1000 points')
    .refine((points) => points.every((point, i) => i === 0 || points[i - 1]!.at <= point.at), 'is not in the order of time'),
  pulls: z.array(curvePull).max(100),
});

export const patchSchema = z.strictObject({
  parameters: values,
  parts: z.array(part).max(mostParts, `has more than ${mostParts} parts`),
  curves: z.array(patchCurve).max(mostCurves, `has more than ${mostCurves} curves`),
});

export const note = z.strictObject({
  id,
  /** In the clip's own time. */
  start: time,
  length: time,
  /** In semitones, 60 is the C in the middle, 69 is A4. */
  pitch: z.number().min(-24).max(144),
  strength: z.number().min(0).max(1),
});

export const notes = z.array(note).max(mostNotes, `has more than ${mostNotes} notes`);

export type Patch = z.infer<typeof patchSchema>;
export type PatchPart = Patch['parts'][number];
export type PatchCurve = Patch['curves'][number];
export type CurvePull = PatchCurve['pulls'][number];
export type PlayedNote = z.infer<typeof note>;
