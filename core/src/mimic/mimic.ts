import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { findModes, strikeAt } from '../analysis/modes';
import { loudestChannel } from '../analysis/onsets';
import { mainPitch, trackPitch } from '../analysis/pitch';
import type { Progress } from '../cancelled';
import { report } from '../cancelled';
import type { ParameterValues } from '../project/parameters';
import type { Patch, PatchPart, PlayedNote } from '../project/patch/patch-schema';
import { PatchPlayer } from '../synthesis/patch-player';
import { takenBody } from '../synthesis/parts/body-modes';
import type { Decibels, Frames, Hertz, Seconds, Semitones } from '../units';
import { OriginalSound } from './distance';
import { bodyOf } from './take-modes';
import { envelopeOf, harmonicsAt, power, slopeOf, sustainOf } from './traits';

/** A patch that comes near to a recording. */
export interface Mimicry {
  readonly patch: Patch;
  readonly notes: readonly Omit<PlayedNote, 'id'>[];
  /** How long its clip is. */
  readonly length: Seconds;
  /** How far it is from the recording, see `OriginalSound`, and how far white noise of the same length would be. */
  readonly distance: Decibels;
  readonly ofNoise: Decibels;
  /** What it is made of, in a few words. */
  readonly how: string;
}

/** A recording is mimicked up to here. */
export const longestMimicked: Seconds = 4;
const shortestMimicked: Seconds = 0.02;
/** Confidence from which on a recording counts as having a pitch that it holds. */
const leastPitched = 0.55;
/** What is turned until it sounds most alike: where, in which steps, and between what. */
interface Turn {
  readonly part: string;
  readonly key: string;
  readonly steps: readonly number[];
  readonly scale: 'add' | 'multiply';
  readonly min: number;
  readonly max: number;
}

/**
 * Proposes a patch for a recording: where it rings, a body with its measured modes; where it holds a pitch, a table with its harmonics at the beginning and
 * the end; and noise with the slope and the envelope of the rest. Levels and times are then turned one after the other as long as the distance falls
 * (coordinate descent). Throws RangeError for recordings that are silent or too short.
 */
export function mimic(audio: Audio, progress?: Progress): Mimicry {
  const original = beginning(audio);
  const { sampleRate } = original;
  const frames = frameCount(original);
  const samples = original.channels[0]!;
  if (frames < shortestMimicked * sampleRate) throw new RangeError('It is too short to be mimicked.');
  if (samples.every((sample) => Math.abs(sample) < 1e-5)) throw new RangeError('It is silent.');
  const sound = new OriginalSound(original);
  const candidates = [ringingPatch(original), pitchedPatch(original), noisePatch(original)].filter((each) => each !== undefined);
  const distanceOf = (sketch: Sketch): Decibels => sound.distanceTo(play(sketch, frames, sampleRate));
  // Only the best of them is worth a finer look.
  const works = candidates.reduce((sum, { turns }) => sum + turns.length, 0) + Math.max(...candidates.map(({ turns }) => turns.length));
  let done = 0;
  const turnAll = (from: Tried, fine: boolean): Tried =>
    from.sketch.turns.reduce((now, turn) => {
      report(progress, Math.min(1, ++done / works));
      return turned(now, turn, fine, distanceOf);
    }, from);
  const tried = candidates.map((sketch) => turnAll({ sketch, distance: distanceOf(sketch) }, false));
  const { sketch, distance } = turnAll(
    tried.reduce((best, each) => (each.distance < best.distance ? each : best)),
    true,
  );
  const ofNoise = distanceOf(plainNoise(original));
  return { patch: levelled(sketch, original), notes: [sketch.note], length: frames / sampleRate, distance, ofNoise, how: sketch.how };
}

/** The part of a recording from its strike on that is mimicked, in one channel. */
function beginning(audio: Audio): Audio {
  const samples = loudestChannel(audio);
  const from = strikeAt(samples);
  const most = Math.round(longestMimicked * audio.sampleRate);
  return { sampleRate: audio.sampleRate, channels: [samples.slice(from, from + most)] };
}

interface Sketch {
  readonly parts: Readonly<Record<string, ParameterValues & { readonly kind: string }>>;
  readonly position?: boolean;
  readonly note: Omit<PlayedNote, 'id'>;
  readonly turns: readonly Turn[];
  readonly how: string;
}

interface Tried {
  readonly sketch: Sketch;
  readonly distance: Decibels;
}

const pitchOf = (frequency: Hertz): Semitones => 69 + 12 * Math.log2(frequency / 440);
const level = (part: string): Turn => ({ part, key: 'level', steps: [-12, -6, -3, 3, 6, 12], scale: 'add', min: -60, max: 12 });
const times = (part: string, key: string): Turn => ({
  part,
  key,
  steps: [0.25, 0.5, 0.7, 1.4, 2, 4],
  scale: 'multiply',
  min: 0.001,
  max: 20,
});
const noiseTurns: readonly Turn[] = [
  level('air'),
  { part: 'air', key: 'slope', steps: [-3, -1.5, 1.5, 3], scale: 'add', min: -12, max: 6 },
  { part: 'air', key: 'cutoff', steps: [0.35, 0.6, 1.6, 2.8], scale: 'multiply', min: 60, max: 20_000 },
  times('air', 'decay'),
  times('air', 'attack'),
];

/** Noise with the slope and the envelope of a recording. */
function air(original: Audio, levelAt: Decibels): ParameterValues & { readonly kind: string } {
  const { attack, decay } = envelopeOf(original);
  return {
    kind: 'noise',
    slope: slopeOf(original),
    apart: 0,
    level: levelAt,
    attack,
    decay,
    sustain: 0,
    decayBend: -0.6,
    release: 0.02,
    filter: 'low-pass',
    cutoff: 12_000,
    strengthLevel: 0,
  };
}

function ringingPatch(original: Audio): Sketch | undefined {
  const body = bodyOf(findModes(original));
  if (!body) return undefined;
  const seconds = frameCount(original) / original.sampleRate;
  return {
    parts: {
      body: {
        kind: 'body',
        body: takenBody,
        taken: body.taken,
        hardness: 1,
        ring: body.ring,
        scatter: 0,
        level: -8,
        attack: 0.0001,
        release: 0.3,
        strengthLevel: 0,
      },
      air: air(original, -20),
    },
    note: { start: 0, length: seconds, pitch: pitchOf(body.frequency), strength: 1 },
    turns: [
      { ...times('body', 'ring'), max: 60 },
      { part: 'body', key: 'hardness', steps: [-0.3, -0.15, 0.15], scale: 'add', min: 0, max: 1 },
      level('body'),
      ...noiseTurns,
    ],
    how: body.count === 1 ? 'one mode and noise' : `${body.count} modes and noise`,
  };
}

function pitchedPatch(original: Audio): Sketch | undefined {
  const { frequency, confidence } = mainPitch(trackPitch(original));
  if (frequency === undefined || confidence < leastPitched) return undefined;
  const { attack, decay } = envelopeOf(original);
  const seconds = frameCount(original) / original.sampleRate;
  return {
    parts: {
      tone: {
        kind: 'table',
        firstHarmonics: harmonicsAt(original, frequency, 0.2),
        lastHarmonics: harmonicsAt(original, frequency, 0.75),
        position: 0,
        attack,
        decay,
        sustain: sustainOf(original),
        decayBend: -0.5,
        release: 0.02,
        level: -8,
        strengthLevel: 0,
      },
      air: air(original, -26),
    },
    position: true,
    note: { start: 0, length: seconds, pitch: pitchOf(frequency), strength: 1 },
    turns: [
      level('tone'),
      times('tone', 'decay'),
      times('tone', 'attack'),
      { part: 'tone', key: 'sustain', steps: [-0.3, -0.1, 0.1, 0.3], scale: 'add', min: 0, max: 1 },
      ...noiseTurns,
    ],
    how: `a tone of harmonics and noise`,
  };
}

function noisePatch(original: Audio): Sketch {
  const seconds = frameCount(original) / original.sampleRate;
  return {
    parts: { air: air(original, -8) },
    note: { start: 0, length: seconds, pitch: 60, strength: 1 },
    turns: noiseTurns,
    how: 'noise',
  };
}

/** What a patch must be better than: steady white noise. */
function plainNoise(original: Audio): Sketch {
  return { ...noisePatch(original), parts: { air: { kind: 'noise', slope: 0, apart: 0, strengthLevel: 0 } } };
}

function patchOf({ parts, position }: Sketch): Patch {
  return {
    parameters: {},
    parts: Object.entries(parts).map(([id, { kind, ...parameters }]): PatchPart => ({
      id,
      kind,
      name: `${id.charAt(0).toUpperCase()}${id.slice(1)}`,
      enabled: true,
      parameters,
      from: [],
    })),
    curves: position
      ? [
          {
            id: 'curve-1',
            name: 'Turns',
            length: 1,
            unit: 'note',
            rounds: false,
            points: [
              { at: 0, value: 0, bend: 0 },
              { at: 1, value: 1, bend: 0 },
            ],
            pulls: [{ id: 'pull-1', part: 'tone', parameter: 'position', depth: 1 }],
          },
        ]
      : [],
  };
}

function play(sketch: Sketch, frames: Frames, sampleRate: Hertz): Audio {
  const note = { ...sketch.note, id: 'note', start: 0, end: Math.round(sketch.note.length * sampleRate) };
  const player = new PatchPlayer(patchOf(sketch), [note], sampleRate, 0);
  const [left, right] = [new Float32Array(frames), new Float32Array(frames)];
  player.process(0, frames, left, right);
  return { sampleRate, channels: [left] };
}

/** The best of what one turn can do; a fine one in smaller steps. */
function turned(now: Tried, { part, key, steps, scale, min, max }: Turn, fine: boolean, distanceOf: (sketch: Sketch) => Decibels): Tried {
  let best = now;
  const value = Number(now.sketch.parts[part]?.[key]);
  for (const step of steps) {
    const size = !fine ? step : scale === 'add' ? step / 3 : Math.pow(step, 1 / 3);
    const next = Math.max(min, Math.min(max, scale === 'add' ? value + size : value * size));
    if (next === value) continue;
    const parts = { ...now.sketch.parts, [part]: { ...now.sketch.parts[part]!, [key]: next } };
    const sketch = { ...now.sketch, parts };
    const distance = distanceOf(sketch);
    if (distance < best.distance) best = { sketch, distance };
  }
  return best;
}

/** The patch at the level of the recording. */
function levelled(sketch: Sketch, original: Audio): Patch {
  const made = play(sketch, frameCount(original), original.sampleRate);
  const by = 10 * Math.log10(power(original.channels[0]!) / Math.max(1e-12, power(made.channels[0]!)));
  const louder = (level: unknown): Decibels => Math.max(-96, Math.min(12, Number(level) + by));
  const parts = Object.entries(sketch.parts).map(([id, values]) => [id, { ...values, level: louder(values['level']) }] as const);
  return patchOf({ ...sketch, parts: Object.fromEntries(parts) });
}
