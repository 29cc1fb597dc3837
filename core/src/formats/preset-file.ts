import * as z from 'zod';
import { DataError, describeIssues, findChainFault, parseJson, parseNested } from '../project/parse';
import type { EffectCatalogue } from '../project/parameters';
import type { Preset } from '../project/schema';
import { presetSchema } from '../project/schema';

const format = 'tangled-choir-presets';
const version = 1;

const file = z.strictObject({ format: z.literal(format), version: z.literal(version), presets: z.array(presetSchema).max(2_000) });

/** Presets as JSON text, to be read by `readPresets`. */
export function writePresets(presets: readonly Preset[]): string {
  return `${JSON.stringify({ format, version, presets }, null, 2)}\n`;
}

/** Reads presets out of JSON text. Throws DataError that says what does not fit and where. */
export function readPresets(text: string, what: string, catalogue: EffectCatalogue): Omit<Preset, 'id'>[] {
  const parsed = parseNested(file, parseJson(text, what), what);
  if (!parsed.success) throw new DataError(describeIssues(parsed.error, what));
  for (const [p, preset] of parsed.data.presets.entries()) {
    const fault = findChainFault(preset.chain, `presets[${p}].chain`, catalogue, () => undefined);
    if (fault) throw new DataError(`${what}, ${fault}`);
  }
  return parsed.data.presets.map(({ name, tags, chain }) => ({ name, tags, chain }));
}

/** The presets of a project as it was stored, as far as they can be understood: for using them in another. */
export function presetsWithin(document: unknown, catalogue: EffectCatalogue): Preset[] {
  const list = z.object({ presets: z.array(z.unknown()) }).safeParse(document);
  if (!list.success) return [];
  return list.data.presets.flatMap((each) => {
    const preset = presetSchema.safeParse(each);
    return preset.success && !findChainFault(preset.data.chain, 'chain', catalogue, () => undefined) ? [preset.data] : [];
  });
}
