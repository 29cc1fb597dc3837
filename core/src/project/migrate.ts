import * as z from 'zod';
import { startingClock, startingTempo } from './create';
import { documentVersion } from './schema';

const object = z.looseObject({});
const listOf = <T extends z.ZodType>(item: T) => z.array(item);

/** What a step from one version to the next must find to do its work; everything else is judged by the schema afterwards. */
const versionOne = z.looseObject({
  sources: listOf(object),
  sounds: listOf(z.looseObject({ layers: listOf(z.looseObject({ clips: listOf(object) })) })),
});

const versionTwoSound = z.looseObject({ layers: listOf(object) });
const versionTwo = z.looseObject({
  sources: listOf(z.looseObject({ origin: z.looseObject({ print: z.looseObject({ recipe: versionTwoSound }).optional() }) })),
  sounds: listOf(versionTwoSound),
});

/** Version 3: layers can go through groups and send to shared buses, properties move along automation lanes. */
function withBusesAndLanes(sound: z.infer<typeof versionTwoSound>): z.infer<typeof object> {
  return { ...sound, buses: [], soloing: true, automation: [], layers: sound.layers.map((layer) => ({ ...layer, sends: [] })) };
}

/** A migrated document, or what kept it from being migrated. */
export type Migrated = { readonly data: unknown } | { readonly error: z.ZodError };
type Step = (data: unknown) => Migrated;

/** Steps by the version they start from. */
const steps: readonly Step[] = [
  (data) => ({ data }),
  // Version 2: clips can be reversed and locked, overlaps of a layer can crossfade, sounds have a tempo grid and count frames, sources have regions and cues.
  (data) => {
    const parsed = versionOne.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
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
    const sources = parsed.data.sources.map((source) => ({ ...source, regions: [], cues: [] }));
    return { data: { ...parsed.data, version: 2, sources, sounds } };
  },
  (data) => {
    const parsed = versionTwo.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    const sources = parsed.data.sources.map((source) => {
      const { print } = source.origin;
      return print ? { ...source, origin: { ...source.origin, print: { ...print, recipe: withBusesAndLanes(print.recipe) } } } : source;
    });
    return { data: { ...parsed.data, version: 3, templates: [], sources, sounds: parsed.data.sounds.map(withBusesAndLanes) } };
  },
];

/** Brings a document of an older version to the newest one; everything that the steps do not need is left for the schema to judge. */
export function migrate(data: unknown, version: number): Migrated {
  let current: Migrated = { data };
  for (let from = version; from < documentVersion && 'data' in current; from++) current = steps[from]!(current.data);
  return current;
}
