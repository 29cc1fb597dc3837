import type { Decibels, Seconds } from '../../units';
import { clipDuration, clipEnd } from '../time/clip-times';
import type { Clip, Layer, Project, Sound } from '../schema';
import { contentAtTime } from '../time/clip-pace';
import type { ClipsArguments } from './clip-edits';
import { assertRoom, clipsLabel, cloneClip, edgeFade, fitFades, moveOffset, movePins, unlockedClip } from './clip-edits';
import { replaceClip } from './clip-pieces';
import { defineEdit, EditError, layerOf, soundOf, takeId } from './edit';

/** A cut nearer to an edge than this is refused: there would be nothing left to fade. */
const nearestCut: Seconds = 0.004;

/** Keeps of a clip what sounds from `from` to `to` on the axis. */
function keepPart(clip: Clip, from: Seconds, to: Seconds): void {
  const before = contentAtTime(clip, from - clip.start);
  const length = contentAtTime(clip, to - clip.start) - before;
  moveOffset(clip, clip.reversed ? clip.offset + clip.length - before - length : clip.offset + before);
  movePins(clip, clip.start - from);
  clip.start = from;
  clip.length = length;
}

/** Cuts a clip into what sounds before `leftEnd` and what sounds from `rightStart` on; returns the right part. */
function cut(draft: Project, sound: Sound, layer: Layer, clip: Clip, leftEnd: Seconds, rightStart: Seconds, fade: Seconds): Clip {
  assertRoom(layer, 1);
  const right = cloneClip(clip, takeId(draft, 'clip'));
  const end = clipEnd(clip);
  keepPart(right, rightStart, end);
  keepPart(clip, clip.start, leftEnd);
  if (!clip.notes) {
    clip.fadeOut = { length: fade, shape: 's-curve' };
    right.fadeIn = { length: fade, shape: 's-curve' };
  }
  fitFades(clip);
  right.fadeOut.length = Math.min(right.fadeOut.length, clipDuration(right) - right.fadeIn.length);
  fitFades(right);
  replaceClip(draft, sound, layer, clip, [clip, right]);
  return right;
}

/**
 * Splits clips at `time`. The two parts overlap by a few milliseconds with fades that add up to one, so that nothing is heard until one of
 * them is moved, and nothing clicks afterwards. Clips that `time` does not cross are left alone; when it crosses none, EditError.
 */
export const splitClips = defineEdit<ClipsArguments & { time: Seconds }>({
  label: ({ sound, clips }, project) => clipsLabel('Split', project, sound, clips),
  apply: (draft, { sound, clips, time }) => {
    const target = soundOf(draft, sound);
    const rate = draft.sampleRate;
    let done = 0;
    for (const id of clips) {
      const { clip, layer } = unlockedClip(draft, target, id);
      if (time < clip.start + nearestCut || time > clipEnd(clip) - nearestCut) continue;
      // A note must not be on both sides.
      const half = clip.notes ? 0 : Math.min(edgeFade, time - clip.start, clipEnd(clip) - time) / 2;
      // Whole frames from the clip's start on: both parts then read the very same samples where they overlap.
      const leftEnd = clip.start + Math.round((time + half - clip.start) * rate) / rate;
      const rightStart = clip.start + Math.round((time - half - clip.start) * rate) / rate;
      cut(draft, target, layer, clip, leftEnd, rightStart, leftEnd - rightStart);
      done++;
    }
    if (done === 0) throw new EditError('Nothing to split: the playhead is not inside a chosen clip.');
  },
});

/** Where and how wide a hole is. */
export interface Hole {
  /** The moment that must come through. */
  readonly time: Seconds;
  readonly before: Seconds;
  readonly after: Seconds;
  readonly fade: Seconds;
  /** How much is taken away; from -60 on, all of it. */
  readonly depth: Decibels;
}

/** A hole at least so deep is cut out. */
export const deepest: Decibels = -60;

/** Ducks or cuts a short, faded hole into the clips of some layers, so that what another layer does at `time` comes through. */
export const carve = defineEdit<{ sound: string; layers: readonly string[]; hole: Hole }>({
  label: ({ layers }) => (layers.length === 1 ? 'Carve a layer' : `Carve ${layers.length} layers`),
  apply: (draft, { sound, layers, hole }) => {
    const target = soundOf(draft, sound);
    const fade = Math.max(edgeFade, hole.fade);
    const from = hole.time - Math.max(0, hole.before);
    const to = hole.time + Math.max(0, hole.after);
    let done = 0;
    for (const id of layers) {
      const layer = layerOf(target, id);
      for (const clip of [...layer.clips]) {
        const end = clipEnd(clip);
        if (clip.locked || clip.start >= to || end <= from) continue;
        done++;
        if (hole.depth > deepest) {
          duck(draft, target, layer, clip, from, to, fade, hole.depth);
          continue;
        }
        const keepsLeft = from - clip.start >= nearestCut;
        const keepsRight = end - to >= nearestCut;
        if (keepsLeft && keepsRight) cut(draft, target, layer, clip, from, to, fade);
        else if (keepsLeft) {
          keepPart(clip, clip.start, from);
          clip.fadeOut = { length: fade, shape: 's-curve' };
          fitFades(clip);
        } else if (keepsRight) {
          keepPart(clip, to, end);
          clip.fadeIn = { length: fade, shape: 's-curve' };
          fitFades(clip);
        } else replaceClip(draft, target, layer, clip, []);
      }
    }
    if (done === 0) throw new EditError('There is nothing to carve: no unlocked clip of these layers sounds at that moment.');
  },
});

/**
 * Turns a clip down from `from` to `to`: a piece of its own, which overlaps those beside it by the fade, so that their fades add up to one curve between
 * both levels. Where there is no room for a piece beside it, the hole reaches to the clip's end.
 */
function duck(draft: Project, sound: Sound, layer: Layer, clip: Clip, from: Seconds, to: Seconds, fade: Seconds, depth: Decibels): void {
  // Whole frames from the clip's start on: pieces then read the very same samples where they overlap.
  const onFrame = (time: Seconds): Seconds => clip.start + Math.round((time - clip.start) * draft.sampleRate) / draft.sampleRate;
  const start = onFrame(from - fade);
  const end = onFrame(to + fade);
  if (clipEnd(clip) - end >= nearestCut) cut(draft, sound, layer, clip, end, onFrame(to), fade);
  const middle = start - clip.start >= nearestCut ? cut(draft, sound, layer, clip, onFrame(from), start, fade) : clip;
  middle.gain = Math.max(-96, middle.gain + depth);
}

/** Moves the chosen clips of each layer together, so that each begins where the one before it ends; the first stays. */
export const closeGaps = defineEdit<ClipsArguments>({
  label: ({ sound, clips }, project) => clipsLabel('Close gaps of', project, sound, clips),
  apply: (draft, { sound, clips }) => {
    const target = soundOf(draft, sound);
    const chosen = new Set(clips);
    for (const layer of target.layers) {
      const row = layer.clips.filter((clip) => chosen.has(clip.id)).sort((a, b) => a.start - b.start);
      for (let i = 1; i < row.length; i++) unlockedClip(draft, target, row[i]!.id).clip.start = clipEnd(row[i - 1]!);
    }
  },
});
