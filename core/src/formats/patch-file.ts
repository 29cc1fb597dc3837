import * as z from 'zod';
import type { EffectCatalogue } from '../project/parameters';
import { DataError, describeIssues, parseJson } from '../project/parse';
import type { NewNote } from '../project/edits';
import { findPatchFault } from '../project/patch/patch-faults';
import type { Patch } from '../project/patch/patch-schema';
import { mostNotes, patchSchema } from '../project/patch/patch-schema';
import { readNote } from '../tuning';

export const patchFormat = 'tangled-choir-patch';
export const patchVersion = 1;

const patchFile = z.strictObject({
  format: z.literal(patchFormat),
  version: z.literal(patchVersion),
  name: z.string().min(1).max(300),
  patch: patchSchema,
});

/** Reads a patch from the JSON of a file. Throws DataError. */
export function readPatchFile(text: string, what: string, catalogue: EffectCatalogue): { readonly name: string; readonly patch: Patch } {
  const parsed = patchFile.safeParse(parseJson(text, what));
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  const fault = findPatchFault(parsed.data.patch, 'patch', catalogue);
  if (fault) throw new DataError(`${what} does not fit: ${fault}`);
  return parsed.data;
}

export function writePatchFile(name: string, patch: Patch): string {
  return `${JSON.stringify({ format: patchFormat, version: patchVersion, name, patch }, undefined, 2)}\n`;
}

/** A pitch as a number of semitones (60 is the C in the middle) or as a name such as “A4”. */
const pitch = z.union([
  z.number().min(-24).max(144),
  z.string().transform((text, context) => readNote(text) ?? (context.addIssue(`“${text}” is no note`), z.NEVER)),
]);

const notesFile = z
  .array(
    z.strictObject({
      start: z.number().min(0).max(86_400),
      length: z.number().min(0).max(86_400),
      pitch,
      strength: z.number().min(0).max(1).default(0.8),
    }),
  )
  .min(1, 'has no notes')
  .max(mostNotes, `has more than ${mostNotes} notes`);

/** Reads notes from the JSON of a file: a list of `{ start, length, pitch, strength }`. Throws DataError. */
export function readNotesFile(text: string, what: string): NewNote[] {
  const parsed = notesFile.safeParse(parseJson(text, what));
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  return parsed.data;
}
