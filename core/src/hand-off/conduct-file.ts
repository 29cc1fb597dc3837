import * as z from 'zod';
import type { ConductData } from '../conduct/conduct-data';
import { conductSchema } from '../project/game/conduct-schema';

export const conductFormat = 'tangled-choir-conduct';
export const conductVersion = 3;

const frames = z.int().min(0);
const take = z.strictObject({
  asset: z.string(),
  frames,
  /** The first frame that is played again and again, and the one behind the last. */
  loop: z.strictObject({ from: frames, to: frames }).optional(),
});

/** `conduct.json`: how sounds behave in a game; described in docs/conduct.schema.json. Times are seconds, levels decibels, distances metres. */
export const conductFileSchema = conductSchema.omit({ scripts: true }).extend({
  format: z.literal(conductFormat),
  version: z.literal(conductVersion),
  /** Frames are counted at this rate; the files have it, too. */
  sampleRate: z.int(),
  /** What can be played of each sound, by the id of the sound. */
  takes: z.record(z.string(), z.strictObject({ original: take.optional(), family: z.array(take) })),
  /** The file of each asset. */
  files: z.record(z.string(), z.strictObject({ file: z.string(), bytes: z.int(), channels: z.int(), sha256: z.string() })),
});

export type ConductFile = z.infer<typeof conductFileSchema>;
export type ConductAssetFile = ConductFile['files'][string];

/** The contents of `conduct.json`. */
export function conductFile(data: ConductData, files: Readonly<Record<string, ConductAssetFile>>): ConductFile {
  return conductFileSchema.parse({ format: conductFormat, version: conductVersion, ...data, files });
}

/** JSON Schema of `conduct.json`, as written to docs/conduct.schema.json. */
export function conductJsonSchema(): unknown {
  return z.toJSONSchema(conductFileSchema);
}
