import { createRandom, seedOf } from '../dsp/random';
import { offsetReach, offsetUnit, offsetValue } from '../project/offset';
import type { NumberParameter, ParameterValue } from '../project/parameters';
import { fitValue, isNeeded, resolveValues } from '../project/parameters';
import { copyPatch } from '../project/patch/copy-patch';
import { modulationParameter } from '../project/patch/patch-parameters';
import type { Patch, PlayedNote } from '../project/patch/patch-schema';
import type { Ratio, Seconds, Semitones, Unit } from '../units';
import { partsById } from './index';
import type { PatchPreset } from './presets/preset';

/** Three controls over any patch. */
export interface PatchShape {
  /** How much higher. */
  readonly height: Semitones;
  /** How much longer its notes and their envelopes last. */
  readonly length: Ratio;
  /** How much brighter, -1 to 1: cut-offs, hardness, damping and the slope of noise. */
  readonly light: number;
}

/** What is played: a patch, its notes, and how long they take. */
export interface MadeTake {
  readonly patch: Patch;
  readonly notes: readonly Omit<PlayedNote, 'id'>[];
  readonly length: Seconds;
}

export const timeKeys = ['delay', 'attack', 'hold', 'decay', 'release', 'ring'];
/** By how much light moves what makes a sound bright, at its end; in the unit of the parameter's offsets. */
export const lightReach: Readonly<Record<string, number>> = {
  cutoff: 36,
  hardness: 0.4,
  damping: -0.6,
  slope: 5,
  resonance: 0.1,
  sync: 80,
};

/** By how much of itself light moves how far parts move each other's phases: sidebands are what such sounds shine by. */
export const modulationReach = 0.8;

/** A preset with its three controls turned. At 0, 1 and 0 it is as it was. */
export function shapePatch({ patch, notes, length }: PatchPreset, shape: PatchShape): MadeTake {
  const shaped = copyPatch(patch);
  for (const part of shaped.parts) {
    const parameters = partsById.get(part.kind)?.parameters ?? {};
    const values = resolveValues(parameters, part.parameters);
    const move = (key: string, change: (parameter: NumberParameter, value: number) => number): void => {
      const parameter = parameters[key];
      const value = values[key];
      if (parameter?.kind === 'number' && typeof value === 'number') part.parameters[key] = fitValue(parameter, change(parameter, value));
    };
    if (shape.length !== 1) for (const key of timeKeys) move(key, (_, value) => value * shape.length);
    if (shape.light !== 0) {
      for (const [key, reach] of Object.entries(lightReach))
        move(key, (parameter, value) => offsetValue(parameter, value, reach * shape.light));
      for (const from of part.from) from.amount = Math.min(modulationParameter.max, from.amount * (1 + modulationReach * shape.light));
    }
    // What does not follow the notes goes along by itself.
    if (shape.height !== 0 && values['follows'] === false) move('tuning', (_, value) => value + shape.height);
  }
  for (const curve of shaped.curves)
    if (curve.unit !== 'note') curve.length = Math.max(0.001, Math.min(3_600, curve.length * shape.length));
  const moved = notes.map((note) => ({
    ...note,
    start: note.start * shape.length,
    length: note.length * shape.length,
    pitch: Math.max(-24, Math.min(144, note.pitch + shape.height)),
  }));
  return { patch: shaped, notes: moved, length: length * shape.length };
}

/** What chance leaves alone: how loud parts are against each other, where they stand, and what would only silence them. */
const keptKeys = new Set([
  'level',
  'pan',
  'delay',
  'hold',
  'strengthLevel',
  'keyTimes',
  'strengthTimes',
  'sustain',
  'modes',
  'follows',
  'frequency',
]);

/**
 * The same patch with its numbers moved by chance, with restraint: at full strength by up to an eighth of what is useful, tunings of parts by cents. The
 * same seed moves it in the same way.
 */
export function rollPatch(patch: Patch, seed: number, strength: Unit): Patch {
  const rolled = copyPatch(patch);
  for (const part of rolled.parts) {
    const parameters = partsById.get(part.kind)?.parameters ?? {};
    const values = resolveValues(parameters, part.parameters);
    const random = createRandom(seedOf(seed, part.id));
    for (const [key, parameter] of Object.entries(parameters)) {
      // Drawn whether it is used or not, so that one value does not decide about another.
      const chance = 2 * random.next() - 1;
      const value: ParameterValue | undefined = values[key];
      if (parameter.kind !== 'number' || parameter.builds || keptKeys.has(key) || !isNeeded(parameter, parameters, values)) continue;
      if (typeof value !== 'number') continue;
      const reach = key === 'tuning' ? 0.3 : key === 'ratio' ? 0 : offsetUnit(parameter) === 's' ? value / 2 : offsetReach(parameter) / 4;
      part.parameters[key] = offsetValue(parameter, value, chance * strength * reach);
    }
    for (const from of part.from) from.amount = Math.min(32, from.amount * Math.pow(2, (2 * random.next() - 1) * strength * 0.7));
  }
  for (const curve of rolled.curves) {
    const random = createRandom(seedOf(seed, curve.id));
    for (const pull of curve.pulls) pull.depth *= 1 + (2 * random.next() - 1) * strength * 0.3;
  }
  return rolled;
}
