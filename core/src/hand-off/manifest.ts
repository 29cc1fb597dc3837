import * as z from 'zod';

export const manifestFormat = 'tangled-choir-delivery';
export const manifestVersion = 1;

/** `manifest.json` beside delivered files; described in docs/manifest.schema.json. Levels of silence are null. */
export const manifestSchema = z.strictObject({
  format: z.literal(manifestFormat),
  version: z.literal(manifestVersion),
  project: z.string(),
  sound: z.string(),
  /** When the files were made, ISO 8601. */
  made: z.string(),
  files: z.array(
    z.strictObject({
      file: z.string(),
      /** “original” or the number of the sibling in its family, from 1. */
      variant: z.union([z.literal('original'), z.int().min(1)]),
      /** Short id of everything that decides how the file sounds. */
      recipe: z.string(),
      seed: z.int(),
      /** What was drawn for this sibling, by address within the sound: offsets, presences, and stretches of sources (by id, in seconds). */
      draws: z.record(
        z.string(),
        z.union([
          z.number(),
          z.strictObject({
            source: z.string(),
            from: z.number(),
            to: z.number(),
            over: z.strictObject({ from: z.number(), to: z.number() }),
          }),
        ]),
      ),
      sampleRate: z.int(),
      channels: z.int(),
      encoding: z.enum(['16', '24', '32f']),
      frames: z.int(),
      seconds: z.number(),
      /** Where the file loops: the first frame that is played and the one behind the last; left out where it does not. */
      loop: z.strictObject({ from: z.int(), to: z.int() }).optional(),
      integratedLufs: z.number().nullable(),
      truePeakDbtp: z.number().nullable(),
      /** SHA-256 of the WAV file. */
      sha256: z.string(),
      sources: z.array(z.strictObject({ name: z.string(), file: z.string(), sha256: z.string() })),
    }),
  ),
});

export type Manifest = z.infer<typeof manifestSchema>;
export type ManifestFile = Manifest['files'][number];

/** JSON Schema of the manifest, as written to docs/manifest.schema.json. */
export function manifestJsonSchema(): unknown {
  return z.toJSONSchema(manifestSchema);
}
