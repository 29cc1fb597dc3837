import * as z from 'zod';
import { audioFormats, encodings } from '../project/schema';

export const manifestFormat = 'tangled-choir-delivery';
export const manifestVersion = 3;

/** `manifest.json` beside delivered files; described in docs/manifest.schema.json. Levels of silence are null. */
export const manifestSchema = z.strictObject({
  format: z.literal(manifestFormat),
  version: z.literal(manifestVersion),
  project: z.string(),
  /** When the files were made, ISO 8601. */
  made: z.string(),
  files: z.array(
    z.strictObject({
      /** Path below the manifest, with slashes. */
      file: z.string(),
      /** Name of the delivery that asked for it. */
      delivery: z.string(),
      sound: z.string(),
      /** What tells it apart within its delivery, also after sounds and files were renamed. */
      key: z.string(),
      /** “original” or the number of the sibling in its family, from 1. */
      variant: z.union([z.literal('original'), z.int().min(1)]),
      /** Name of the layer or group that alone is heard; left out where all are. */
      stem: z.string().optional(),
      /** Short id of everything that decides how the sound comes out. */
      recipe: z.string(),
      /** Short id of everything that decides how the file comes out of the sound. */
      form: z.string(),
      seed: z.int(),
      /** What was drawn for this sibling, by address within the sound: offsets, presences, values, ids of absent layers or of clips in their order, and stretches of sources (by id, in seconds). */
      draws: z.record(
        z.string(),
        z.union([
          z.number(),
          z.boolean(),
          z.string(),
          z.strictObject({
            source: z.string(),
            from: z.number(),
            to: z.number(),
            over: z.strictObject({ from: z.number(), to: z.number() }),
          }),
        ]),
      ),
      format: z.enum(audioFormats),
      /** Of lossless files. */
      encoding: z.enum(encodings).optional(),
      /** Of the others: what was asked for, in kbit/s. */
      kilobits: z.number().optional(),
      sampleRate: z.int(),
      channels: z.int(),
      frames: z.int(),
      /** Of the whole file. */
      bytes: z.int(),
      seconds: z.number(),
      /** Where the file loops: the first frame that is played and the one behind the last; left out where it does not. */
      loop: z.strictObject({ from: z.int(), to: z.int() }).optional(),
      /** In a sheet: where each sound lies, in frames. */
      parts: z.array(z.strictObject({ sound: z.string(), key: z.string(), from: z.int(), to: z.int(), loops: z.boolean() })).optional(),
      /** Of Opus as it decodes, of Vorbis before it is coded. */
      integratedLufs: z.number().nullable(),
      truePeakDbtp: z.number().nullable(),
      /** What was found wrong with it, or worth knowing. */
      findings: z.array(z.strictObject({ severity: z.enum(['fault', 'advice']), text: z.string() })),
      /** SHA-256 of the file. */
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
