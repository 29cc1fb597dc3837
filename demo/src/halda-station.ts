import type { EditArguments, EditName, History, Project, RecordingFacts, Seconds } from '@tangled-choir/core';
import {
  applyEdit,
  createProject,
  describeRecording,
  editNamed,
  effectCatalogue,
  hashBytes,
  memorySource,
  openWav,
  packArchive,
  patchPresets,
  pcmRecording,
  projectSampleRate,
  alternativesAddress,
  readySways,
  shapePatch,
  startHistory,
  stepAddress,
  writeWav,
} from '@tangled-choir/core';
import type { ParameterValue } from '@tangled-choir/core';
import { conductHalda, gameSounds } from './conduct';
import { deliverHalda } from './deliveries';
import { moments, pictureSize } from './picture/scene';
import type { MadePart, Part } from './part';
import { lowCut } from './part';
import { demoSources } from './sources';

/** The demo project with its audio and its picture by hash. */
export interface Demo {
  readonly project: Project;
  readonly audio: ReadonlyMap<string, Uint8Array>;
  readonly pictures: ReadonlyMap<string, Uint8Array>;
}

/** Slab break: build-up, hit and aftermath over six seconds. */
const slabBreak: readonly (Part | MadePart)[] = [
  {
    source: 'iceShimmer',
    name: 'Ice shimmer',
    gain: -9,
    pan: 0.2,
    clips: [
      { at: 0.42, to: 1.7, fadeOut: 0.5, gain: -7 },
      { at: 2.08, fadeOut: 0.8 },
    ],
    eq: lowCut(1_800),
  },
  {
    source: 'icePebbles',
    name: 'Pebbles scatter',
    gain: -6,
    pan: -0.25,
    clips: [{ at: 2.32 }, { at: 3.3, speed: -3, gain: -5 }],
    eq: { ...lowCut(700), band7On: true, band7Frequency: 9_000, band7Gain: 3 },
  },
  {
    source: 'longCrack',
    name: 'Sharp crack',
    gain: -5,
    clips: [
      { at: 0.4, gain: -4 },
      { at: 2, speed: 1 },
    ],
  },
  {
    source: 'mediumCrack',
    name: 'Answering cracks',
    gain: -10,
    pan: 0.45,
    clips: [
      { at: 0.95, speed: 3 },
      { at: 1.42, gain: -2 },
      { at: 2.86, speed: -4, gain: -4 },
    ],
  },
  {
    source: 'crustTearing',
    name: 'Crust tearing',
    gain: -8,
    pan: -0.15,
    clips: [{ at: 0.47, to: 1.56, fadeIn: 0.3, fadeOut: 0.01 }],
    compressor: { threshold: -30, ratio: 4, attack: 0.004, release: 0.09, makeUp: 4 },
  },
  {
    source: 'slabImpact',
    name: 'Slab body',
    gain: -4,
    clips: [
      { at: 2.01, speed: -3 },
      { at: 2.93, speed: -7, gain: -9 },
    ],
    eq: {
      ...lowCut(38),
      band3On: true,
      band3Frequency: 310,
      band3Gain: -3.5,
      band3Q: 1.4,
      band5On: true,
      band5Frequency: 2_350,
      band5Gain: -4.5,
      band5Q: 6,
    },
    compressor: { threshold: -18, ratio: 2.5, attack: 0.02, release: 0.18, makeUp: 1.5 },
  },
  { source: 'fallSweep', name: 'Fall sweep', gain: -11, pan: 0.1, clips: [{ at: 2.5, speed: -5 }] },
  {
    preset: 'Boom',
    at: 2.02,
    gain: 3.5,
    shape: { length: 2 },
    // Once where the slab lets go, and deeper and softer where it meets the water.
    notes: [
      { start: 0, length: 2, pitch: 28, strength: 1 },
      { start: 2.16, length: 2.4, pitch: 25, strength: 0.65 },
    ],
    length: 4.6,
    eq: { band8On: true, band8Frequency: 160, band8Slope: '24' },
  },
  { source: 'waterRise', name: 'Water rises', gain: -8, clips: [{ at: 3.4, to: 2.6, fadeOut: 0.9 }] },
  { source: 'ridgeWind', name: 'Ridge wind', gain: -17, clips: [{ at: 0, to: 6, fadeIn: 0.6, fadeOut: 1.2 }], eq: lowCut(120) },
];

const snowStep: readonly Part[] = [
  {
    source: 'snowStepA',
    name: 'Heel crunch',
    gain: -5,
    clips: [{ at: 0 }],
    eq: { ...lowCut(90), band5On: true, band5Frequency: 3_100, band5Gain: 2, band5Q: 1.2 },
  },
  { source: 'snowPress', name: 'Toe press', gain: -9, clips: [{ at: 0.17 }] },
  { source: 'snowGrain', name: 'Grain', gain: -6, pan: 0.1, clips: [{ at: 0.06 }], eq: lowCut(2_200) },
  { source: 'smallCrack', name: 'Crust snap', gain: -26, clips: [{ at: 0.012, speed: 4 }], eq: lowCut(1_500) },
];

const drill: readonly (Part | MadePart)[] = [
  { source: 'drillStart', name: 'Spin up', gain: -5, clips: [{ at: 0, fadeOut: 0.12 }] },
  {
    preset: 'Ice drill',
    name: 'Run',
    at: 2.28,
    gain: -3,
    notes: [{ start: 0, length: 6.9, pitch: 38, strength: 0.9 }],
    length: 7,
    compressor: { threshold: -20, ratio: 2 },
  },
  { source: 'drillStop', name: 'Stop', gain: -5, clips: [{ at: 9.14, fadeIn: 0.12 }] },
  { source: 'ropeCreak', name: 'Rope takes the load', gain: -12, pan: -0.3, clips: [{ at: 1.1 }, { at: 9.3, speed: -4, gain: -3 }] },
  { source: 'ridgeWind', name: 'Ridge wind', gain: -18, clips: [{ at: 0, fadeIn: 0.8, fadeOut: 0.4 }] },
];

/** A bed of what lasted a moment: a shimmer that stands for half a minute, a crack that has become a groan, pebbles that keep time with it. */
const auroraBed: readonly (Part | MadePart)[] = [
  {
    source: 'iceShimmer',
    role: 'Bed',
    name: 'Aurora',
    gain: -8,
    clips: [{ at: 0, stretch: { stretch: 6, grain: 0.5, attack: 0 }, fadeIn: 2, fadeOut: 4 }],
    eq: lowCut(400),
  },
  {
    preset: 'Aurora shimmer',
    at: 4,
    gain: -14,
    pan: 0.3,
    notes: [
      { start: 0, length: 5, pitch: 74, strength: 0.7 },
      { start: 6, length: 5, pitch: 79, strength: 0.6 },
      { start: 11, length: 5, pitch: 74, strength: 0.7 },
    ],
    length: 17,
  },
  {
    source: 'longCrack',
    role: 'Body',
    name: 'Slab groan',
    gain: -6,
    clips: [
      { at: 1.5, stretch: { stretch: 2.6, pitch: -14, method: 'tones' }, fadeOut: 1 },
      { at: 9, stretch: { stretch: 3.5, pitch: -19 }, gain: -4, fadeOut: 2 },
    ],
    eq: lowCut(35),
  },
  {
    source: 'icePebbles',
    name: 'Pebbles in time',
    gain: -10,
    pan: -0.2,
    clips: [
      {
        at: 2,
        pins: [
          { at: 0.35, time: 1 },
          { at: 0.8, time: 2 },
          { at: 1.3, time: 4 },
        ],
      },
    ],
  },
  {
    source: 'ridgeWind',
    name: 'Ridge wind',
    gain: -15,
    clips: [{ at: 0, stretch: { stretch: 2, method: 'texture' }, fadeIn: 2, fadeOut: 3 }],
  },
];

/** The stages of the film. */
const slabMarks = [
  ['Crack', moments.crack, 'build-up'],
  ['Slab lets go', moments.slabLetsGo, 'hit'],
  ['Water rises', moments.waterRises, 'aftermath'],
] as const;

/** How long the rope tightens in its patch, and how much of that is used here: it gives where the slab lets go. */
const ropeNote: Seconds = 2.2;
const ropeLength = 0.6;

/** The stages of the film once more, out of made sounds alone: no recording is in it. */
const madeStages: readonly MadePart[] = [
  { preset: 'Katabatic wind', name: 'Wind', at: 0, gain: -14, shape: { length: 0.9 } },
  { preset: 'Beacon', at: 0.3, gain: -16, pan: -0.4, shape: { length: 2 } },
  { preset: 'Slab', name: 'First crack', at: moments.crack, gain: -8, shape: { height: 17, light: 0.5 } },
  { preset: 'Tightening rope', name: 'It gives', at: moments.slabLetsGo - ropeNote * ropeLength, gain: -14, shape: { length: ropeLength } },
  { preset: 'Boom', at: moments.slabLetsGo, gain: 2 },
  { preset: 'Slab', name: 'Slab breaks', at: moments.slabLetsGo, gain: -4, shape: { length: 1.6 } },
  { preset: 'Gravel slide', name: 'Ice slides', at: moments.slabLetsGo + 0.15, gain: -10 },
  { preset: 'Crevasse', name: 'Water rises', at: moments.waterRises - 0.4, gain: -8, pan: 0.2 },
  { preset: 'Aurora shimmer', at: moments.waterRises, gain: -12 },
];

/**
 * Makes the Halda Station project out of edits alone, as a person would, and its audio. Always the same.
 * @param video the demo picture, demo/picture/halda-station.webm
 */
export function makeHaldaStation(video: Uint8Array): Demo {
  const audio = new Map<string, Uint8Array>();
  const sourceHashes = new Map<string, string>();
  let history: History = startHistory(createProject('halda-station', 'Halda Station'));
  const make = <N extends EditName>(name: N, args: EditArguments<N>): void => {
    const edit = editNamed(name);
    history = applyEdit(history, edit, args, effectCatalogue);
  };

  const sources = demoSources.map((source) => {
    const recording = { sampleRate: projectSampleRate, channels: source.make() };
    const wav = writeWav(recording, { encoding: '24' });
    const hash = hashBytes(wav);
    audio.set(hash, wav);
    sourceHashes.set(source.key, hash);
    return {
      kind: 'recording' as const,
      name: source.name,
      audio: hash,
      frames: recording.channels[0]!.length,
      channels: recording.channels.length,
      role: source.role,
      tags: source.tags,
      notes: 'Made up for Halda Station by the project’s own code.',
      regions: [],
      cues: [],
      ...(source.loops && { loop: { from: 0, to: recording.channels[0]!.length / projectSampleRate } }),
      origin: { file: source.file, sampleRate: projectSampleRate, encoding: '24 bit' },
    };
  });
  make('addSources', { sources: sources.map((source) => ({ ...source, tags: [...source.tags] })) });

  const latestSound = (): string => history.project.sounds.at(-1)!.id;
  const addSound = (name: string, parts: readonly (Part | MadePart)[]): string => {
    make('addSound', { name });
    const sound = latestSound();
    for (const part of parts) {
      if ('preset' in part) addMade(sound, part);
      else addPart(sound, part);
    }
    return sound;
  };

  const addMade = (sound: string, part: MadePart): void => {
    const preset = patchPresets.find(({ name }) => name === part.preset)!;
    const take = shapePatch(preset, { height: 0, length: 1, light: 0, ...part.shape });
    const played = { notes: part.notes ?? take.notes, length: part.length ?? take.length };
    make('addMadeLayer', { sound, start: part.at, name: part.name ?? preset.name, role: preset.role, patch: take.patch, ...played });
    finishLayer(sound, history.project.sounds.find(({ id }) => id === sound)!.layers.at(-1)!.id, part);
  };

  /** What recorded and made layers have in common. */
  const finishLayer = (
    sound: string,
    layer: string,
    { gain, pan, eq, compressor }: Pick<Part, 'gain' | 'pan' | 'eq' | 'compressor'>,
  ): void => {
    const values = { [`layer/${layer}/gain`]: gain ?? 0, [`layer/${layer}/pan`]: pan ?? 0 };
    make('setValues', { sound, values, label: 'Set layer' });
    if (eq) addStep(sound, { layer }, 'eq', eq);
    if (compressor) addStep(sound, { layer }, 'compressor', compressor);
  };

  const videoHash = hashBytes(video);
  const layToPicture = (sound: string, offset: Seconds): void =>
    make('setPicture', {
      sound,
      picture: { video: videoHash, file: 'halda-station.webm', type: 'video/webm', seconds: moments.end, ...pictureSize, offset },
      frameRate: '25',
    });

  const addPart = (sound: string, part: Part): void => {
    const source = history.project.sources.find((candidate) => candidate.audio === sourceHashes.get(part.source))!;
    const layerNow = () => history.project.sounds.find((candidate) => candidate.id === sound)!.layers.at(-1)!;
    part.clips.forEach((clip, index) => {
      if (index === 0) make('addLayer', { sound, source: source.id, start: clip.at });
      else make('addClip', { sound, layer: layerNow().id, source: source.id, start: clip.at });
      const id = layerNow().clips.at(-1)!.id;
      const prefix = `layer/${layerNow().id}/clip/${id}`;
      if (clip.from !== undefined) make('trimClips', { sound, side: 'start', to: [{ clip: id, time: clip.at + clip.from }] });
      if (clip.to !== undefined) make('trimClips', { sound, side: 'end', to: [{ clip: id, time: clip.at + clip.to }] });
      make('setValues', { sound, values: { [`${prefix}/speed`]: clip.speed ?? 0, [`${prefix}/gain`]: clip.gain ?? 0 }, label: 'Set clip' });
      if (clip.stretch) make('stretchClips', { sound, clips: [id], settings: clip.stretch });
      if (clip.pins) make('setPins', { sound, clip: id, pins: clip.pins });
      if (clip.fadeIn !== undefined) make('fadeClips', { sound, clips: [id], side: 'in', length: clip.fadeIn });
      if (clip.fadeOut !== undefined) make('fadeClips', { sound, clips: [id], side: 'out', length: clip.fadeOut, shape: 's-curve' });
    });
    const layer = layerNow().id;
    make('renameLayer', { sound, layer, name: part.name ?? source.name });
    make('setOverlaps', { sound, layer, overlaps: 'sum' });
    if (part.role) make('setLayerRole', { sound, layer, role: part.role });
    finishLayer(sound, layer, part);
  };

  const addStep = (
    sound: string,
    owner: 'sound' | { layer: string },
    effect: string,
    values: Readonly<Record<string, ParameterValue>>,
  ): void => {
    make('addEffect', { sound, owner, effect });
    const target = history.project.sounds.find((candidate) => candidate.id === sound)!;
    const chain = owner === 'sound' ? target.chain : target.layers.find((layer) => layer.id === owner.layer)!.chain;
    const step = chain.at(-1)!.id;
    make('setValues', {
      sound,
      values: Object.fromEntries(Object.entries(values).map(([key, value]) => [stepAddress(owner, step, key), value])),
      label: 'Set effect',
    });
  };

  const slab = addSound('Slab break', slabBreak);
  for (const [name, time, stage] of slabMarks) make('addMarks', { sound: slab, marks: [{ name, time, stage }] });
  layToPicture(slab, 0);
  addStep(slab, 'sound', 'compressor', { threshold: -10, ratio: 2, attack: 0.015, release: 0.15, knee: 8, lookahead: 0.003 });
  make('setValues', { sound: slab, values: { 'sound/gain': 0 }, label: 'Gain' });

  const step = addSound('Snow step', snowStep);
  const find = (id: string) => history.project.sounds.find((candidate) => candidate.id === id)!;
  make('setSways', { sound: step, sways: readySways(find(step), 'Clear', effectCatalogue), label: 'Clear' });
  const grain = find(step).layers[2]!;
  const snap = find(step).layers[3]!;
  make('setSway', {
    sound: step,
    sway: { kind: 'presence', address: `layer/${grain.id}/presence`, chance: 0.7, locked: false },
    label: 'Grain',
  });
  make('setSway', {
    sound: step,
    sway: { kind: 'presence', address: `layer/${snap.id}/presence`, chance: 0.35, locked: false },
    label: 'Snap',
  });
  // Two heels were recorded: no step is to be heard twice in a row.
  const heel = find(step).layers[0]!;
  const own = heel.clips[0]!;
  const over = { from: own.offset, to: own.offset + own.length };
  const heels = history.project.sources.filter(({ name }) => name.startsWith('Heel crunch'));
  make('setSway', {
    sound: step,
    sway: {
      kind: 'alternatives',
      address: alternativesAddress(heel.id, own.id),
      of: heels.map(({ id, frames }) => ({ source: id, from: 0, to: frames / projectSampleRate, over })),
      locked: false,
    },
    label: 'Heels',
  });
  // Who steps harder is brighter, too; the toe mostly comes when it should.
  for (const sway of find(step).family.sways) {
    if (sway.kind !== 'range') continue;
    if (sway.address === `layer/${heel.id}/clip/${own.id}/gain`) {
      const bright = find(step).family.sways.find(({ address }) => address.endsWith('/band5Gain'))!;
      make('setSway', { sound: step, sway: { ...sway, follows: { address: bright.address, amount: 0.8 } }, label: 'Harder is brighter' });
    }
    if (sway.address.endsWith('/start')) make('setSway', { sound: step, sway: { ...sway, shape: 'middle' }, label: 'Mostly in time' });
  }
  make('setFamily', { sound: step, seed: 4127, size: 16 });

  const drillSound = addSound('Drill', drill);
  for (const [name, time] of [
    ['Switched on', 0.05],
    ['Runs', 2.3],
    ['Switched off', 9.2],
  ] as const)
    make('addMarks', { sound: drillSound, marks: [{ name, time }] });
  layToPicture(drillSound, -moments.drillScene);

  const aurora = addSound('Aurora bed', auroraBed);
  for (const [name, time] of [
    ['Groan', 1.5],
    ['It answers', 9],
  ] as const)
    make('addMarks', { sound: aurora, marks: [{ name, time }] });

  const stages = addSound('Made stages', madeStages);
  for (const [name, time, stage] of slabMarks) make('addMarks', { sound: stages, marks: [{ name, time, stage }] });
  layToPicture(stages, 0);
  const game = new Map(gameSounds.map(({ name, parts }) => [name, addSound(name, parts)]));
  for (const { name, family } of gameSounds) {
    const sound = game.get(name)!;
    if (family === undefined) continue;
    make('setSways', { sound, sways: readySways(find(sound), 'Clear', effectCatalogue), label: 'Clear' });
    make('setFamily', { sound, seed: 4127, size: family });
  }
  conductHalda(make, () => history.project, game, step);
  deliverHalda(make, () => history.project, slab, [step, ...game.values()]);
  return { project: history.project, audio, pictures: new Map([[videoHash, video]]) };
}

/** The demo project as a `.choir` archive. */
export async function haldaStationArchive(video: Uint8Array): Promise<Uint8Array<ArrayBuffer>> {
  const { project, audio, pictures } = makeHaldaStation(video);
  const facts = new Map<string, RecordingFacts>();
  for (const [hash, wav] of audio) {
    const source = memorySource(wav);
    facts.set(hash, await describeRecording(pcmRecording(source, await openWav(source, hash))));
  }
  return packArchive(project, audio, pictures, facts);
}
