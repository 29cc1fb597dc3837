import { strFromU8, strToU8 } from 'fflate';
import * as z from 'zod';
import { defectKinds } from '../analysis/defects';
import type { RecordingFacts } from '../analysis/describe-recording';

/** Raise it when the meaning of what is measured of recordings changes: what was kept before is measured anew then. */
export const measuringVersion = 3;

const mostBands = 1_000;
/** Of silence; JSON has no other word for it. */
const level = z
  .number()
  .or(z.literal(-Infinity))
  .or(z.null().transform(() => -Infinity));

/** What was measured of a recording, as it is kept in a browser's storage or in JSON. */
export const recordingFactsSchema = z.object({
  measured: z.object({
    sampleRate: z.number(),
    channels: z.number(),
    frames: z.number(),
    seconds: z.number(),
    integratedLufs: level,
    maxMomentaryLufs: level,
    maxShortTermLufs: level,
    loudnessRangeLu: z.number(),
    truePeakDbtp: level,
    samplePeakDbfs: level,
    rmsDbfs: level,
    dcOffset: z.number(),
  }),
  character: z.object({
    noiseFloorDbfs: level,
    brightness: z.number(),
    attackAt: z.number(),
    attackTime: z.number(),
    // JSON leaves out what is undefined; it comes back as such.
    pitch: z
      .number()
      .optional()
      .transform((pitch) => pitch),
    pitchConfidence: z.number(),
    stationarity: z.number(),
    correlation: z.number(),
    leansLeft: z.number(),
    defects: z.array(z.object({ kind: z.enum(defectKinds), from: z.number(), to: z.number(), detail: z.string().max(200) })),
    fingerprint: z.array(z.number()).max(mostBands),
  }),
});

const entrySchema = z.object({ version: z.literal(measuringVersion), recordings: z.record(z.string(), z.unknown()) });

/** What was measured of recordings, by the hash of their audio, as the content of an archive's entry. */
export function encodeFacts(facts: ReadonlyMap<string, RecordingFacts>): Uint8Array<ArrayBuffer> {
  const byHash = [...facts].sort(([a], [b]) => (a < b ? -1 : 1));
  return strToU8(JSON.stringify({ version: measuringVersion, recordings: Object.fromEntries(byHash) }));
}

/**
 * Reads what `encodeFacts` wrote. What is damaged, of another version, or not of a recording of that many frames and channels is left out: all
 * of it can be measured anew.
 * @param sizes the recordings that facts are wanted of, by hash
 */
export function decodeFacts(
  bytes: Uint8Array,
  sizes: ReadonlyMap<string, { readonly frames: number; readonly channels: number }>,
): Map<string, RecordingFacts> {
  const facts = new Map<string, RecordingFacts>();
  let data: unknown;
  try {
    data = JSON.parse(strFromU8(bytes));
  } catch {
    return facts;
  }
  const entry = entrySchema.safeParse(data);
  if (!entry.success) return facts;
  for (const [hash, { frames, channels }] of sizes) {
    const found = recordingFactsSchema.safeParse(entry.data.recordings[hash]);
    if (found.success && found.data.measured.frames === frames && found.data.measured.channels === channels) facts.set(hash, found.data);
  }
  return facts;
}
