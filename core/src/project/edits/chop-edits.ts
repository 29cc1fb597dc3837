import { createRandom, shuffle } from '../../dsp/random';
import type { Seconds, Semitones, Unit } from '../../units';
import { clipDuration, clipEnd } from '../time/clip-times';
import type { Clip, Project } from '../schema';
import { contentAtTime } from '../time/clip-pace';
import type { Division } from '../time/tempo-grid';
import { gridLines, noteLength } from '../time/tempo-grid';
import { assertRoom, clipsLabel, cloneClip, edgeFade, moveOffset, movePins, unlockedClip } from './clip-edits';
import { replaceClip } from './clip-pieces';
import { defineEdit, EditError, soundOf, takeId } from './edit';

/** A part of a clip, in seconds from the clip's start. */
export interface Slice {
  readonly at: Seconds;
  readonly length: Seconds;
}

export const sliceOrders = ['as recorded', 'backwards', 'shuffled'] as const;

export interface ChopSettings {
  readonly division: Division;
  /** How often the notes get half as long on the way to the end: 0 leaves them equal. */
  readonly denser: number;
  /** Part of every slice that stays silent. */
  readonly gap: Unit;
  readonly order: (typeof sliceOrders)[number];
  /** Every n-th slice is changed; 0 for none. */
  readonly every: number;
  readonly everyPitch: Semitones;
  readonly everyReversed: boolean;
  readonly seed: number;
}

const shortestSlice: Seconds = 0.005;
const mostSlices = 2_000;

/** Cuts at the given times, in seconds from a clip's start; leaves out cuts too near to the one before. */
function slicesBetween(cuts: readonly Seconds[], duration: Seconds): Slice[] {
  const edges = [0];
  for (const cut of cuts) if (cut - edges.at(-1)! >= shortestSlice && duration - cut >= shortestSlice) edges.push(cut);
  return edges.map((at, i) => ({ at, length: (edges[i + 1] ?? duration) - at }));
}

/**
 * Where a chop cuts: on the lines of the tempo grid inside the clip. With `denser`, the clip is divided into equal stretches, and each has
 * notes half as long as the one before, so that every cut stays on the grid.
 */
export function chopSlices(project: Project, sound: string, clip: Clip, { division, denser }: ChopSettings): Slice[] {
  const { tempo } = soundOf(project, sound);
  const duration = clipDuration(clip);
  const stretches = Math.max(0, Math.round(denser)) + 1;
  const note = noteLength(tempo, division);
  if (duration / (note / 2 ** (stretches - 1)) > mostSlices)
    throw new EditError(`These notes would make more than ${mostSlices} slices; choose longer ones.`);
  const cuts: Seconds[] = [];
  for (let k = 0; k < stretches; k++) {
    const from = clip.start + (duration * k) / stretches;
    const to = clip.start + (duration * (k + 1)) / stretches;
    // Half a note is a whole note of a tempo twice as fast.
    const denserTempo = { ...tempo, bpm: tempo.bpm * 2 ** k };
    for (const { time } of gridLines(denserTempo, division, from, to)) if (time > from || k > 0) cuts.push(time - clip.start);
  }
  return slicesBetween(
    [...new Set(cuts)].sort((a, b) => a - b).filter((cut) => cut > 0),
    duration,
  );
}

/** The part of a clip that a slice names, put at `start`. */
function sliceOf(draft: Project, clip: Clip, at: Seconds, start: Seconds, sounding: Seconds): Clip {
  const part = cloneClip(clip, takeId(draft, 'clip'));
  const before = contentAtTime(clip, at);
  const used = contentAtTime(clip, at + sounding) - before;
  moveOffset(part, clip.reversed ? clip.offset + clip.length - before - used : clip.offset + before);
  // Pins are counted from the clip's start.
  movePins(part, -at);
  part.start = start;
  part.length = used;
  const fade = Math.min(edgeFade, sounding / 4);
  // The beginning and the end of the whole clip keep the fades they have.
  part.fadeIn = at === 0 ? { ...clip.fadeIn, length: Math.min(clip.fadeIn.length, sounding / 2) } : { length: fade, shape: 's-curve' };
  const last = Math.abs(at + sounding - clipDuration(clip)) < 1e-9;
  part.fadeOut = last ? { ...clip.fadeOut, length: Math.min(clip.fadeOut.length, sounding / 2) } : { length: fade, shape: 's-curve' };
  // A slice lands by its beginning, not by the whole clip's point.
  delete part.sync;
  return part;
}

/**
 * Chops a clip into notes of the sound's tempo grid, leaves gaps, puts the slices into another order, and turns over or transposes every
 * n-th. The same seed gives the same order.
 */
export const chopClip = defineEdit<{ sound: string; clip: string; settings: ChopSettings }>({
  label: ({ sound, clip }, project) => clipsLabel('Chop', project, sound, [clip]),
  apply: (draft, { sound, clip: id, settings }) => {
    const target = soundOf(draft, sound);
    const { clip, layer } = unlockedClip(draft, target, id);
    const slices = chopSlices(draft, sound, clip, settings);
    if (slices.length < 2) throw new EditError('The clip is shorter than one note of the grid; choose shorter notes.');
    assertRoom(layer, slices.length - 1);
    const order = slices.slice();
    if (settings.order === 'backwards') order.reverse();
    if (settings.order === 'shuffled') shuffle(order, createRandom(settings.seed));
    let start = clip.start;
    const parts = order.map((slice, i) => {
      const heard = slice.length * (1 - Math.max(0, Math.min(0.95, settings.gap)));
      const part = sliceOf(draft, clip, slice.at, start, heard);
      if (settings.every > 0 && (i + 1) % settings.every === 0) changeSlice(part, settings);
      start += slice.length;
      return part;
    });
    replaceClip(draft, target, layer, clip, withContent(parts));
  },
});

/** Without slices that nothing of the content is left for: pins can leave a moment without any. */
function withContent(parts: readonly Clip[]): Clip[] {
  const left = parts.filter(({ length }) => length > 0);
  if (left.length === 0) throw new EditError('Nothing of the clip would be left.');
  return left;
}

/** Transposing keeps the slice's time: a higher one uses more of the source, a lower one less. */
function changeSlice(part: Clip, { everyPitch, everyReversed }: ChopSettings): void {
  if (everyReversed) part.reversed = !part.reversed;
  if (everyPitch === 0) return;
  const duration = clipDuration(part);
  part.speed = Math.max(-36, Math.min(36, part.speed + everyPitch));
  const wanted = contentAtTime(part, duration);
  // Upwards there may be no more of the source, and what follows would be another note anyway: the slice gets shorter instead.
  part.length = Math.min(part.length, wanted);
  const fade = Math.min(edgeFade, clipDuration(part) / 4);
  part.fadeIn.length = fade;
  part.fadeOut.length = fade;
}

export const stutterShapes = ['halve', 'double', 'halve, then double'] as const;

export interface StutterSettings {
  readonly division: Division;
  /** How often a note is halved on the way to the shortest repeats. */
  readonly steps: number;
  readonly shape: (typeof stutterShapes)[number];
}

/**
 * Fills the length of a clip with repeats of its beginnings: note by note, each note is filled with 1, 2, 4 … repeats of its own head, or
 * the other way round, over and over.
 */
export const stutterClip = defineEdit<{ sound: string; clip: string; settings: StutterSettings }>({
  label: ({ sound, clip }, project) => clipsLabel('Stutter', project, sound, [clip]),
  apply: (draft, { sound, clip: id, settings }) => {
    const target = soundOf(draft, sound);
    const { clip, layer } = unlockedClip(draft, target, id);
    const steps = Math.max(1, Math.min(8, Math.round(settings.steps)));
    const note = noteLength(target.tempo, settings.division);
    if (note / 2 ** steps < shortestSlice) throw new EditError('The shortest repeats would be shorter than 5 ms; halve less often.');
    const up = Array.from({ length: steps + 1 }, (_, i) => i);
    const pattern =
      settings.shape === 'halve' ? up : settings.shape === 'double' ? up.slice().reverse() : [...up, ...up.slice(1, -1).reverse()];
    const duration = clipDuration(clip);
    const parts: Clip[] = [];
    for (let n = 0; n * note < duration - shortestSlice; n++) {
      const at = n * note;
      const repeats = 2 ** pattern[n % pattern.length]!;
      const length = note / repeats;
      for (let i = 0; i < repeats && at + i * length < duration - shortestSlice; i++) {
        const heard = Math.min(length, duration - at - i * length);
        parts.push(sliceOf(draft, clip, at, clip.start + at + i * length, heard));
      }
      if (parts.length > mostSlices) throw new EditError(`This would make more than ${mostSlices} clips; choose longer notes.`);
    }
    assertRoom(layer, parts.length);
    if (parts.length < 2 || clipEnd(clip) - clip.start < note)
      throw new EditError('The clip is shorter than one note of the grid; choose shorter notes.');
    replaceClip(draft, target, layer, clip, withContent(parts));
  },
});
