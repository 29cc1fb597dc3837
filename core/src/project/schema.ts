import * as z from 'zod';
import { fadeShapes } from '../audio/fade';
import { layoutIds } from '../audio/layout';
import { scaleKinds } from '../tuning';
import { asides, chain, states } from './chain/chain-schema';
import { deliverySchema } from './deliveries/delivery-schema';
import { conductSchema } from './game/conduct-schema';
import { family } from './family-schema';
import { notes, patchSchema } from './patch/patch-schema';
import { gain, hash, id, name, pan, time } from './schema-parts';

export * from './deliveries/delivery-schema';
export * from './game/conduct-schema';
export * from './family-schema';

/**
 * The document. JSON of this shape is validated wherever it enters; every change to sound is a number or a word in it, audio
 * itself is referred to by hash and never changes. Times are seconds, gains decibels, speeds semitones.
 */
export const documentFormat = 'tangled-choir';
export const documentVersion = 19;

export const roles = ['Strike', 'Body', 'Weight', 'Grit', 'Air', 'Motion', 'Tail', 'Bed'] as const;

const role = z.enum(roles);

/** A named part of a source, in its own time. */
const region = z.strictObject({ id, name, from: time, to: time });

/** How the point inside a clip that must land was found. */
export const syncKinds = ['transient', 'peak', 'end of rise', 'end', 'by hand'] as const;

/** How a clip is made longer or shorter; “auto” is what suits its content by measurement. */
export const methodChoices = ['auto', 'hits', 'tones', 'texture', 'vast'] as const;

/** What can bend along the content of a clip. */
export const clipCurves = ['speed', 'stretch', 'pitch', 'formant'] as const;

/** What is added along the content: at places in the source's own time, in straight lines between them. */
const clipCurve = (most: number) =>
  z
    .array(z.strictObject({ at: z.number().min(-172_800).max(172_800), value: z.number().min(-most).max(most) }))
    .min(1, 'has no points')
    .max(1_000, 'has more than 1000 points')
    .refine((points) => points.every((point, i) => i === 0 || points[i - 1]!.at < point.at), 'is not in the order of time');

const fade = z.strictObject({ length: time, shape: z.enum(fadeShapes) });

const clip = z.strictObject({
  id,
  /** The recording that it shows; clips of a made layer have notes in its place. */
  source: id.optional(),
  /** What the patch of its layer plays; in the clip's own time, which everything that is said of a source's time then means. */
  notes: notes.optional(),
  /** Where the clip begins on the sound's time axis. */
  start: time,
  /** Where the content begins in the source, and how much of it is used, both in the source's own time. */
  offset: time,
  length: z.number().positive().max(86_400),
  gain,
  /** Speed with pitch following it, in semitones; +12 is twice as fast. */
  speed: z.number().min(-36).max(36),
  /** How many times longer than its speed makes it, without a change of pitch; above 4 the method is “vast”. */
  stretch: z.number().min(0.25).max(200),
  /** Pitch without a change of length, in semitones. */
  pitch: z.number().min(-36).max(36),
  /** By how much formants are moved, in semitones: from where `pitch` takes them or, kept, from where they were. */
  formant: z.number().min(-24).max(24),
  keepFormants: z.boolean(),
  method: z.enum(methodChoices),
  /** How much of the damage of a bad stretch is wanted. */
  wear: z.number().min(0).max(1),
  /** Length of the pieces that “texture” and “vast” work with, in seconds. */
  grain: z.number().min(0.02).max(2),
  /** How much of its attacks is heard through a vast stretch. */
  attack: z.number().min(0).max(1),
  /** What is added along the content: to speed, pitch and formant in semitones, to the stretch in octaves (1 is twice as long). */
  curves: z
    .strictObject({
      speed: clipCurve(36).optional(),
      stretch: clipCurve(4).optional(),
      pitch: clipCurve(36).optional(),
      formant: clipCurve(24).optional(),
    })
    .optional(),
  /** Moments of the content, in the source's own time, that are heard at moments after the clip's start; what lies between two of them stretches. */
  pins: z
    .array(z.strictObject({ at: z.number().min(-172_800).max(172_800), time: z.number().min(-172_800).max(172_800) }))
    .min(1, 'has no pins')
    .max(200, 'has more than 200 pins')
    .optional(),
  /** Plays the content backwards. */
  reversed: z.boolean(),
  /** Repeats a part of the source (in its own time) to fill `length`, which may then be longer than the source. */
  loop: z.strictObject({ from: time, to: time, crossfade: time }).optional(),
  fadeIn: fade,
  fadeOut: fade,
  /** The point that must land, in the source's own time, so that trimming does not move it. */
  sync: z.strictObject({ at: time, kind: z.enum(syncKinds) }).optional(),
  /** A locked clip cannot be moved, cut or deleted. */
  locked: z.boolean(),
  /** Clips with the same group are chosen and moved together. */
  group: id.optional(),
});

/** What happens where clips of one layer overlap. */
export const overlapModes = ['crossfade', 'sum'] as const;

/** How loud a layer or a group is heard through a shared bus, beside where it goes anyway; taken behind its fader. */
const send = z.strictObject({ bus: id, gain });
const sends = z.array(send).max(64, 'has more than 64 sends');

const layer = z.strictObject({
  id,
  name,
  role,
  gain,
  pan,
  muted: z.boolean(),
  soloed: z.boolean(),
  /** The group that it goes through; without one it goes straight to the sound. */
  group: id.optional(),
  sends,
  overlaps: z.enum(overlapModes),
  clips: z.array(clip).max(5_000, 'has more than 5000 clips'),
  chain,
  states: states.optional(),
  aside: asides.optional(),
  /** Makes it a made layer: what its sound comes from. Its clips hold notes, those of all others show recordings. */
  patch: patchSchema.optional(),
});

/** A group has its layers to itself; what is sent to a shared bus goes its own way besides. */
export const busKinds = ['group', 'shared'] as const;

/** One fader and one chain for several layers. */
const bus = z.strictObject({
  id,
  name,
  kind: z.enum(busKinds),
  gain,
  pan,
  muted: z.boolean(),
  soloed: z.boolean(),
  /** Only shared buses can be sent to, and only groups and layers send. */
  sends,
  chain,
  states: states.optional(),
  aside: asides.optional(),
});

/** A value at a moment, and how the way to the next one bends: straight at 0, late above, early below. */
const automationPoint = z.strictObject({ time, value: z.number(), bend: z.number().min(-1).max(1) });

/** How one property moves over time; see `project/address.ts` for addresses. */
const automationLane = z.strictObject({
  id,
  address: z.string().max(300),
  enabled: z.boolean(),
  /** Holds every value until the next point, in place of moving to it. */
  stepped: z.boolean(),
  /** Moves the whole lane up or down, in the property's offset unit (see `project/offset.ts`). */
  trim: z.number().min(-1_000).max(1_000),
  points: z.array(automationPoint).min(1, 'has no points').max(20_000, 'has more than 20000 points'),
});

const moverBase = { id, name };
/** What moves properties without end: a drawn curve that goes round, one control for many properties, the level of a layer, or chance. */
const mover = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('tide'),
    ...moverBase,
    /** Length of one round, in seconds or in beats of the sound's tempo. */
    length: z.number().min(0.02).max(3_600),
    unit: z.enum(['seconds', 'beats']),
    /** Part of a round that is already over at time 0. */
    phase: z.number().min(0).max(1),
    /** How far corners are rounded. */
    smoothing: z.number().min(0).max(1),
    /** Stands still where it is at its phase. */
    frozen: z.boolean(),
    points: z
      .array(z.strictObject({ at: z.number().min(0).max(1), value: z.number().min(-1).max(1), bend: z.number().min(-1).max(1) }))
      .min(1, 'has no points')
      .max(1_000, 'has more than 1000 points'),
  }),
  z.strictObject({
    kind: z.literal('rein'),
    ...moverBase,
    value: z.number().min(0).max(1),
    /** In its middle it does nothing, and pulls to one side below it and to the other above it. */
    bothWays: z.boolean().optional(),
  }),
  z.strictObject({
    kind: z.literal('follower'),
    ...moverBase,
    /** Whose sound it follows: `layer/<id>` or `bus/<id>` (a group), taken before the faders; nothing while it is empty. */
    listens: z.string().max(100),
    attack: z.number().min(0).max(5),
    release: z.number().min(0).max(20),
    /** The levels at which it is at 0 and at 1. */
    low: z.number().min(-120).max(0),
    high: z.number().min(-120).max(0),
  }),
  z.strictObject({ kind: z.literal('walk'), ...moverBase, rate: z.number().min(0.01).max(50), seed: z.int().min(0).max(0xffffffff) }),
]);

/** A mover at a property: by how much it is moved (in the property's offset unit) where the mover is at 1. */
const pull = z.strictObject({
  id,
  mover: id,
  address: z.string().max(300),
  depth: z.number().min(-1_000).max(1_000),
  /** The stretch of the mover's way, 0 to 1, along which it pulls from nothing to its depth; all of it without. */
  from: z.number().min(0).max(1).optional(),
  to: z.number().min(0).max(1).optional(),
  /** How it pulls along that stretch: straight at 0, late above, early below. */
  bend: z.number().min(-1).max(1).optional(),
});

/** The part of an event that a mark belongs to. */
export const stages = ['build-up', 'hit', 'aftermath'] as const;
export const markColours = ['marigold', 'lichen', 'coral', 'sky', 'violet', 'rose'] as const;

const mark = z.strictObject({ id, name, time, stage: z.enum(stages).optional(), colour: z.enum(markColours).optional() });

/** Frame rates of pictures; “drop” counts leave out numbers so that they keep pace with the clock. */
export const frameRates = ['23.976', '24', '25', '29.97', '29.97 drop', '30', '48', '50', '59.94', '59.94 drop', '60'] as const;

/** How frames are counted, and which frame number time 0 has. */
const clock = z.strictObject({
  frameRate: z.enum(frameRates),
  startFrame: z
    .int()
    .min(0)
    .max(24 * 3_600 * 60),
});

/** The tempo grid: beats per minute, beats per bar, and where the first bar begins. */
const tempo = z.strictObject({ bpm: z.number().min(20).max(400), beats: z.int().min(1).max(32), offset: z.number().min(-60).max(86_400) });

/** The scale that the music around a sound is in; its root in semitones above C. */
const key = z.strictObject({ root: z.int().min(0).max(11), kind: z.enum(scaleKinds) });

/** A video that the sound is laid to. */
const picture = z.strictObject({
  /** SHA-256 of the video file. */
  video: hash,
  file: z.string().min(1).max(1_000),
  type: z.string().max(100),
  seconds: z.number().positive().max(86_400),
  width: z.int().min(1).max(16_384),
  height: z.int().min(1).max(16_384),
  /** Where on the time axis the picture begins; before 0, its beginning is not seen. */
  offset: z.number().min(-86_400).max(86_400),
});

/** Sound to work along with: the picture's own, a line of dialogue, music. Heard and seated with the layers while it is on, never rendered. */
const guide = z.strictObject({
  source: id,
  /** Where on the time axis it begins; before 0, its beginning is not heard. */
  start: z.number().min(-86_400).max(86_400),
  gain,
  on: z.boolean(),
  /** Whether it begins again at its end, so that it goes on all along the sound. */
  repeats: z.boolean(),
});

const sound = z.strictObject({
  id,
  name,
  gain,
  /** Its channels: everything in it is mixed and processed in so many. */
  layout: z.enum(layoutIds),
  layers: z.array(layer).max(1_000, 'has more than 1000 layers'),
  buses: z.array(bus).max(200, 'has more than 200 groups and buses'),
  /** False while solos are set aside: they are remembered, but everything is heard. */
  soloing: z.boolean(),
  chain,
  states: states.optional(),
  aside: asides.optional(),
  automation: z.array(automationLane).max(5_000, 'has more than 5000 automation lanes'),
  movers: z.array(mover).max(200, 'has more than 200 tides, reins and walks'),
  pulls: z.array(pull).max(5_000, 'has more than 5000 pulls'),
  marks: z.array(mark).max(10_000),
  tempo,
  key: key.optional(),
  clock,
  picture: picture.optional(),
  guide: guide.optional(),
  family,
});

/** What a printed source was rendered from, so that it can be opened again. */
const print = z.strictObject({
  /** What of the sound: “whole sound”, “Slab body”. */
  part: name,
  /** The sound as it was, with the layers that were rendered. */
  recipe: sound,
  /** The sources that its clips use. */
  sources: z.array(z.strictObject({ id, name, audio: hash })).max(20_000),
});

/** Where a source came from; kept for life. */
const origin = z.strictObject({
  /** The file as it was imported, with its folders. */
  file: z.string().max(1_000),
  /** Its sampling rate and how its samples were stored. */
  sampleRate: z.number().positive(),
  encoding: z.string().max(60),
  /** When it was recorded, as the file says: yyyy-mm-dd, with a time if there is one. */
  date: z.string().max(40).optional(),
  recordist: z.string().max(200).optional(),
  licence: z.string().max(1_000).optional(),
  /** The source and the part of it that this one was cut out of. */
  cutFrom: z.strictObject({ name, audio: hash, from: time, to: time }).optional(),
  print: print.optional(),
});

/** A source that is a recording, whatever it was made from. */
const recording = z.strictObject({
  kind: z.literal('recording'),
  id,
  name,
  /** SHA-256 of the WAV file that holds the samples at the project's rate. */
  audio: hash,
  frames: z
    .int()
    .min(1)
    .max(48_000 * 86_400),
  channels: z.int().min(1).max(64),
  role: role.optional(),
  tags: z.array(z.string().max(60)).max(100),
  notes: z.string().max(10_000),
  regions: z.array(region).max(5_000, 'has more than 5000 regions'),
  /** Moments that the file named, such as its cue points. */
  cues: z.array(z.strictObject({ name, time })).max(10_000),
  /** Where the file loops. */
  loop: z.strictObject({ from: time, to: time }).optional(),
  origin,
});

/** Everything that clips and effects can take sound from, by kind; see `sources.ts` for what tells them apart. */
const source = z.discriminatedUnion('kind', [recording]);

/** The settings of a layer without its clips, for new layers of its role. */
const layerTemplate = z.strictObject({ id, name, role, gain, pan, chain });

/** A chain that was saved under a name: a single effect or a whole situation. */
export const presetSchema = z.strictObject({ id, name, tags: z.array(z.string().max(60)).max(20), chain: chain.min(1, 'is empty') });

export const projectSchema = z.strictObject({
  format: z.literal(documentFormat),
  version: z.literal(documentVersion),
  id,
  name,
  /** Everything is computed, played and kept at this rate; recordings are converted to it when they are imported. */
  sampleRate: z.literal(48_000, 'is not 48000, the rate at which this application computes'),
  /** Number behind the newest id; ids are never used twice. */
  counter: z.int().min(0),
  sources: z.array(source).max(20_000, 'has more than 20000 sources'),
  sounds: z.array(sound).max(2_000, 'has more than 2000 sounds'),
  templates: z.array(layerTemplate).max(500, 'has more than 500 templates'),
  presets: z.array(presetSchema).max(2_000, 'has more than 2000 presets'),
  deliveries: z.array(deliverySchema).max(100, 'has more than 100 deliveries'),
  /** How its sounds behave in a game. */
  conduct: conductSchema,
});

export type Project = z.infer<typeof projectSchema>;
export type Preset = z.infer<typeof presetSchema>;
export type Source = z.infer<typeof source>;
export type Region = z.infer<typeof region>;
export type Origin = z.infer<typeof origin>;
export type Print = z.infer<typeof print>;
export type Sound = z.infer<typeof sound>;
export type Layer = z.infer<typeof layer>;
export type Bus = z.infer<typeof bus>;
export type BusKind = (typeof busKinds)[number];
export type Send = z.infer<typeof send>;
export type AutomationLane = z.infer<typeof automationLane>;
export type AutomationPoint = z.infer<typeof automationPoint>;
export type Clip = z.infer<typeof clip>;
export type ClipCurve = (typeof clipCurves)[number];
export type CurvePoint = z.infer<ReturnType<typeof clipCurve>>[number];
export type Pin = NonNullable<Clip['pins']>[number];
export type Fade = z.infer<typeof fade>;
export type Mover = z.infer<typeof mover>;
export type Tide = Extract<Mover, { kind: 'tide' }>;
export type Rein = Extract<Mover, { kind: 'rein' }>;
export type Follower = Extract<Mover, { kind: 'follower' }>;
export type Walk = Extract<Mover, { kind: 'walk' }>;
export type Pull = z.infer<typeof pull>;
export type SyncPoint = NonNullable<Clip['sync']>;
export type SyncKind = (typeof syncKinds)[number];
export type OverlapMode = (typeof overlapModes)[number];
export type Tempo = z.infer<typeof tempo>;
export type Guide = z.infer<typeof guide>;
export type Picture = z.infer<typeof picture>;
export type FrameRate = (typeof frameRates)[number];
export type Clock = z.infer<typeof clock>;
export type Stage = (typeof stages)[number];
export type MarkColour = (typeof markColours)[number];
export type Mark = z.infer<typeof mark>;
export type Role = (typeof roles)[number];
