import { createRandom } from '../dsp/random';
import { resolveValues } from '../project/parameters';
import type { ParameterValues } from '../project/parameters';
import { projectSampleRate } from '../project/create';
import type { Decibels, Hertz, Seconds, Unit } from '../units';
import { isCommon } from './common-parameters';
import { Envelope } from './envelope';
import type { PartKind } from './part';
import { voiceStep } from './part';

/** What a part makes of one note, as it can be drawn. */
export interface PartPicture {
  /** The beginning of its sound in front of its envelope, -1 to 1. */
  readonly wave: Float64Array;
  /** How long that is. */
  readonly seconds: Seconds;
}

const pictureFrequency: Hertz = 220;
const longest = 4_800;

/** The first moments of what makes a part's sound, at one pitch and with one chance; brought to full height where it goes beyond. */
export function pictureOfPart(kind: PartKind, stored: ParameterValues, seconds: Seconds): PartPicture {
  const values = resolveValues(kind.parameters, stored);
  const source = kind.createSource({ sampleRate: projectSampleRate, values, recordings: {} });
  const frames = Math.min(longest, Math.max(voiceStep, Math.round(seconds * projectSampleRate)));
  source.start({ strength: 1, length: frames, age: 0, copy: 0, random: createRandom(1) }, values, pictureFrequency);
  const buffers = { left: new Float64Array(voiceStep), right: new Float64Array(voiceStep), phase: undefined };
  const wave = new Float64Array(frames);
  for (let at = 0; at < frames; at += voiceStep) {
    const count = Math.min(voiceStep, frames - at);
    source.aim(values, pictureFrequency, voiceStep);
    source.render(buffers, 0, count);
    wave.set(buffers.left.subarray(0, count), at);
  }
  const peak = wave.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  return { wave: peak > 0 ? wave.map((sample) => sample / peak) : wave, seconds: frames / projectSampleRate };
}

/** A mode on a logarithmic axis of frequencies. */
export interface DrawnMode {
  /** From 20 Hz to 20 kHz. */
  readonly place: Unit;
  /** From so far below the strongest one that it is not heard, up to that. */
  readonly height: Unit;
  readonly frequency: Hertz;
  readonly decay: Seconds;
}

const [lowestDrawn, highestDrawn]: readonly [Hertz, Hertz] = [20, 20_000];
const drawnRange: Decibels = 60;

/** The modes of a part at one pitch, those that are in reach of the ear; nothing for parts that have none. */
export function pictureOfModes(kind: PartKind, stored: ParameterValues): readonly DrawnMode[] | undefined {
  const modes = kind.modes?.(resolveValues(kind.parameters, stored), pictureFrequency);
  if (!modes) return undefined;
  const strongest = modes.reduce((most, { gain }) => Math.max(most, gain), 1e-9);
  return modes.flatMap(({ frequency, gain, decay }) => {
    const height = 1 + (20 * Math.log10(Math.max(1e-9, gain / strongest))) / drawnRange;
    const place = Math.log(frequency / lowestDrawn) / Math.log(highestDrawn / lowestDrawn);
    return place >= 0 && place <= 1 && height > 0 ? [{ place, height, frequency, decay }] : [];
  });
}

/** An envelope as it can be drawn: while the note is held, then let go. */
export interface EnvelopePicture {
  /** Levels at even distances. */
  readonly levels: readonly Unit[];
  readonly seconds: Seconds;
  /** Where the stages end: attack, decay, the note itself, and the release. */
  readonly attackEnd: Seconds;
  readonly decayEnd: Seconds;
  readonly noteEnd: Seconds;
}

/** Points of a drawn envelope. */
const points = 240;
/** Frames a second that a drawn envelope is computed with: its stages end on them. */
const drawnRate = 4_800;

/** The envelope of a part for a note that is held a while beyond its decay. */
export function pictureOfEnvelope(kind: PartKind, stored: ParameterValues): EnvelopePicture {
  const values = resolveValues(kind.parameters, stored);
  if (!isCommon(values)) throw new Error(`“${kind.id}” has no envelope.`);
  const { delay, attack, hold, decay, sustain, release, attackBend, decayBend, releaseBend } = values;
  const attackEnd = delay + attack;
  const decayEnd = attackEnd + hold + decay;
  const noteEnd = decayEnd + Math.max(0.02, (decayEnd + release) / 4);
  const seconds = noteEnd + release;
  // However long it is, it is computed in as many frames.
  const rate = Math.min(drawnRate, 48_000 / seconds);
  const frames = (time: Seconds): number => Math.max(1, Math.round(time * rate));
  const envelope = new Envelope({
    delay: Math.round(delay * rate),
    attack: frames(attack),
    hold: Math.round(hold * rate),
    decay: frames(decay),
    sustain,
    release: frames(release),
    attackBend,
    decayBend,
    releaseBend,
  });
  const levels = new Float64Array(frames(seconds) + 1);
  const end = Math.min(levels.length, frames(noteEnd));
  envelope.start();
  envelope.fill(levels, 0, end);
  envelope.release();
  envelope.fill(levels, end, levels.length);
  const drawn = Array.from({ length: points }, (_, i) => levels[Math.round((i / (points - 1)) * (levels.length - 1))]!);
  return { levels: drawn, seconds, attackEnd, decayEnd, noteEnd };
}
