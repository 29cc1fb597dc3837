import * as z from 'zod';
import { startingDelivery } from './deliveries/create-delivery';
import { startingConduct } from './game/create-behaviour';
import { plainStretch, startingClock, startingTempo } from './create';
import { documentVersion } from './schema';

const object = z.looseObject({});
const listOf = <T extends z.ZodType>(item: T) => z.array(item);

/** What a step from one version to the next must find to do its work; everything else is judged by the schema afterwards. */
const versionOne = z.looseObject({
  sources: listOf(object),
  sounds: listOf(z.looseObject({ layers: listOf(z.looseObject({ clips: listOf(object) })) })),
});

const sourceWithRecipe = <T extends z.ZodType>(recipe: T) =>
  z.looseObject({ origin: z.looseObject({ print: z.looseObject({ recipe }).optional() }) });

const versionTwoSound = z.looseObject({ layers: listOf(object) });
const versionTwo = z.looseObject({ sources: listOf(sourceWithRecipe(versionTwoSound)), sounds: listOf(versionTwoSound) });

const versionThreeSound = z.looseObject({ layers: listOf(z.looseObject({ clips: listOf(object) })) });
const versionThree = z.looseObject({ sources: listOf(sourceWithRecipe(versionThreeSound)), sounds: listOf(versionThreeSound) });

const versionFive = z.looseObject({ sources: listOf(sourceWithRecipe(object)), sounds: listOf(object) });
const versionSix = z.looseObject({ handOff: object });
const versionThirteen = z.looseObject({ handOff: object });
const versionFifteen = z.looseObject({ deliveries: listOf(object) });
const versionSixteen = z.looseObject({
  conduct: z.looseObject({ buses: listOf(object), behaviours: listOf(z.looseObject({ distance: object.optional() })) }),
});
const versionSevenSound = z.looseObject({ reference: z.unknown().optional() });
const versionSeven = z.looseObject({ sounds: listOf(versionSevenSound) });

const versionEightClip = z.looseObject({ speedCurve: listOf(z.looseObject({ semitones: z.unknown() })).optional() });
const versionEightSound = z.looseObject({ layers: listOf(z.looseObject({ clips: listOf(versionEightClip) })) });
const versionEight = z.looseObject({ sources: listOf(sourceWithRecipe(versionEightSound)), sounds: listOf(versionEightSound) });

/** Version 3: layers can go through groups and send to shared buses, properties move along automation lanes. */
function withBusesAndLanes(sound: z.infer<typeof versionTwoSound>): z.infer<typeof object> {
  return { ...sound, buses: [], soloing: true, automation: [], layers: sound.layers.map((layer) => ({ ...layer, sends: [] })) };
}

/** Version 4: clips have places for stretch and pitch, and can have a speed curve; tides, reins and walks pull properties; projects keep presets. */
function asVersionFour(sound: z.infer<typeof versionThreeSound>): z.infer<typeof object> {
  const layers = sound.layers.map((layer) => ({ ...layer, clips: layer.clips.map((clip) => ({ ...clip, stretch: 1, pitch: 0 })) }));
  return { ...sound, layers, movers: [], pulls: [] };
}

/** Version 8: a guide is heard, too, where it lies; the reference before it was seated all along the sound. */
function withGuide({ reference, ...sound }: z.infer<typeof versionSevenSound>): z.infer<typeof object> {
  return reference === undefined ? sound : { ...sound, guide: { source: reference, start: 0, gain: 0, on: true, repeats: true } };
}

interface WithRecipe<T> {
  origin: { print?: { recipe: T } | undefined };
}

/** Version 9: stretch, pitch and formants of clips are heard; a curve is one of several. */
function withStretch(sound: z.infer<typeof versionEightSound>): z.infer<typeof object> {
  const layers = sound.layers.map((layer) => ({
    ...layer,
    clips: layer.clips.map(({ speedCurve, ...clip }) => ({
      ...clip,
      ...plainStretch,
      ...(speedCurve && { curves: { speed: speedCurve.map(({ semitones, ...point }) => ({ ...point, value: semitones })) } }),
    })),
  }));
  return { ...sound, layers };
}

/** Sounds are also kept as the recipes of printed sources. */
function changeRecipes<T>(sources: readonly WithRecipe<T>[], change: (recipe: T) => unknown): unknown[] {
  return sources.map((source) => {
    const { print } = source.origin;
    return print ? { ...source, origin: { ...source.origin, print: { ...print, recipe: change(print.recipe) } } } : source;
  });
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
    const sources = changeRecipes(parsed.data.sources, withBusesAndLanes);
    return { data: { ...parsed.data, version: 3, templates: [], sources, sounds: parsed.data.sounds.map(withBusesAndLanes) } };
  },
  (data) => {
    const parsed = versionThree.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    return {
      data: {
        ...parsed.data,
        version: 4,
        presets: [],
        sources: changeRecipes(parsed.data.sources, asVersionFour),
        sounds: parsed.data.sounds.map(asVersionFour),
      },
    };
  },
  // Version 5: steps can be hosts with branches, and refer to sources and layers. Nothing of version 4 reads otherwise.
  (data) => ({ data: { ...object.parse(data), version: 5 } }),
  // Version 6: sounds say how many channels they have, sources say what they are. All sounds had two channels, all sources were recordings.
  (data) => {
    const parsed = versionFive.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    const inStereo = (sound: z.infer<typeof object>) => ({ ...sound, layout: 'stereo' });
    const sources = changeRecipes(parsed.data.sources, inStereo).map((source) => ({ ...object.parse(source), kind: 'recording' }));
    return { data: { ...parsed.data, version: 6, sources, sounds: parsed.data.sounds.map(inStereo) } };
  },
  // Version 7: deliveries can leave out silent ends, and can be loops. They never did and never were.
  (data) => {
    const parsed = versionSix.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    return { data: { ...parsed.data, version: 7, handOff: { ...parsed.data.handOff, trim: false } } };
  },
  (data) => {
    const parsed = versionSeven.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    return { data: { ...parsed.data, version: 8, sounds: parsed.data.sounds.map(withGuide) } };
  },
  (data) => {
    const parsed = versionEight.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    const sources = changeRecipes(parsed.data.sources, withStretch);
    return { data: { ...parsed.data, version: 9, sources, sounds: parsed.data.sounds.map(withStretch) } };
  },
  // Version 10: a sound can have a key. None had one.
  (data) => ({ data: { ...object.parse(data), version: 10 } }),
  // Version 11: layers can be made from notes. None were.
  (data) => ({ data: { ...object.parse(data), version: 11 } }),
  // Version 12: a rein can pull both ways. None did.
  (data) => ({ data: { ...object.parse(data), version: 12 } }),
  // Version 13: sounds have behaviours. None had.
  (data) => ({ data: { ...object.parse(data), version: 13, conduct: startingConduct } }),
  // Version 14: many deliveries in place of one, which was of the sound that was looked at.
  (data) => {
    const parsed = versionThirteen.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    const { handOff, ...rest } = parsed.data;
    return { data: { ...rest, version: 14, deliveries: [{ ...startingDelivery, ...handOff }] } };
  },
  // Version 15: sways have shapes, steps and links, and can be choices, orders and numbers of layers. None were.
  (data) => ({ data: { ...object.parse(data), version: 15 } }),
  // Version 16: numbers in file names begin anywhere and have any digits. They began at 1 and had two.
  (data) => {
    const parsed = versionFifteen.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    const deliveries = parsed.data.deliveries.map((delivery) => ({ firstNumber: 1, digits: 2, ...delivery }));
    return { data: { ...parsed.data, version: 16, deliveries } };
  },
  // Version 17: buses of a game have cuts and rooms, and what is far away goes into them. All were open, and there were none.
  (data) => {
    const parsed = versionSixteen.safeParse(data);
    if (!parsed.success) return { error: parsed.error };
    const { conduct } = parsed.data;
    const buses = conduct.buses.map((bus) => ({ lowCut: 20, highCut: 20_000, ...bus }));
    const behaviours = conduct.behaviours.map(({ distance, ...behaviour }) => ({
      ...behaviour,
      ...(distance && { distance: { curve: [], roomNear: 0, roomFar: 0, ...distance } }),
    }));
    return { data: { ...parsed.data, version: 17, conduct: { ...conduct, buses, behaviours } } };
  },
  // Version 18: buses of a game can have a compressor. None had.
  (data) => ({ data: { ...object.parse(data), version: 18 } }),
  // Version 19: clips are pulled. None were.
  (data) => ({ data: { ...object.parse(data), version: 19 } }),
];

/** Brings a document of an older version to the newest one; everything that the steps do not need is left for the schema to judge. */
export function migrate(data: unknown, version: number): Migrated {
  let current: Migrated = { data };
  for (let from = version; from < documentVersion && 'data' in current; from++) current = steps[from]!(current.data);
  return current;
}
