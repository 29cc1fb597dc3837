import * as z from 'zod';
import { startingClock, startingTempo } from './create';
import { documentVersion } from './schema';

const object = z.looseObject({});
const listOf = <T extends z.ZodType>(item: T) => z.array(item);

/** What a step from one version to the next must find to do its work; everything else is judged by the schema afterwards. */
const versionOne = z.looseObject({
  sounds: listOf(z.looseObject({ layers: listOf(z.looseObject({ clips: listOf(object) })) })),
});

type Step = (data: unknown) => unknown;

/** Steps by the version they start from. */
const steps: readonly Step[] = [
  (data) => data,
  // Version 2: clips can be reversed and locked, overlaps of a layer can crossfade, sounds have a tempo grid and count frames.
  (data) => {
    const parsed = versionOne.safeParse(data);
    if (!parsed.success) return data;
    const sounds = parsed.data.sounds.map((sound) => ({
      ...sound,
      tempo: { ...startingTempo },
      clock: { ...startingClock },
      layers: sound.layers.map((layer) => ({
        ...layer,
        // Version 1 summed overlapping clips; the sound must stay what it was.
        overlaps: 'sum',
        clips: layer.clips.map((clip) => ({ ...clip, reversed: false, locked: false })),
      })),
    }));
    return { ...parsed.data, version: 2, sounds };
  },
];

/** Brings a document of an older version to the newest one. What does not look like its version is left for the schema to refuse. */
export function migrate(data: unknown, version: number): unknown {
  let current = data;
  for (let from = version; from < documentVersion; from++) current = steps[from]!(current);
  return current;
}
