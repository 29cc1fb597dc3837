import type { FadeShape } from '../../audio/fade';
import type { Seconds } from '../../units';
import { ratioToSemitones } from '../../units';
import { clipDuration } from '../time/clip-times';
import { plainStretch } from '../create';
import type { Clip, Project, Sound, Source } from '../schema';
import { clipCurves } from '../schema';
import { contentAtTime, timeOfContent } from '../time/clip-pace';
import { clipOf, contentOf, defineEdit, EditError, forgetBelow, layerOf, soundOf, sourceOf, takeId } from './edit';
import { movePulls } from './clip-pulls';
import { renameSways } from './sways';
import type { Content } from './edit';

/** Shortest stretch of a source that a clip can show. */
export const shortestClip: Seconds = 0.001;
const shortestLoop: Seconds = 0.005;
/** A fade too short to be heard as one, but long enough that no edge clicks. */
export const edgeFade: Seconds = 0.003;
const mostClips = 5_000;

/** A part of a source, in its own time. */
export interface SourcePart {
  readonly from: Seconds;
  readonly to: Seconds;
}

/** A clip of a source, or of a part of it. */
export function newClip(draft: Project, source: Source, start: Seconds, part?: SourcePart): Clip {
  const end = source.frames / draft.sampleRate;
  const offset = part ? Math.max(0, Math.min(end - shortestClip, part.from)) : 0;
  const length = part ? Math.max(Math.min(end, shortestClip), Math.min(end, part.to) - offset) : end;
  // Nothing may be taken from a loop: its end goes on at its beginning.
  const fade = length === end && wholeLoop(source, draft) ? 0 : Math.min(edgeFade, length / 4);
  return {
    id: takeId(draft, 'clip'),
    source: source.id,
    start: Math.max(0, start),
    offset,
    length,
    gain: 0,
    speed: 0,
    ...plainStretch,
    reversed: false,
    // A recording's first transient must stay whole, so the fade-in starts out at nothing.
    fadeIn: { length: offset > 0 ? fade : 0, shape: 's-curve' },
    fadeOut: { length: fade, shape: 's-curve' },
    locked: false,
  };
}

/** True where a source is nothing but its loop. */
function wholeLoop({ loop, frames }: Source, { sampleRate }: Pick<Project, 'sampleRate'>): boolean {
  return loop !== undefined && loop.from * sampleRate < 0.5 && Math.abs(loop.to * sampleRate - frames) < 0.5;
}

/** The same clip once more, sharing nothing with the original. */
export function cloneClip(clip: Clip, id: string): Clip {
  return {
    ...clip,
    id,
    fadeIn: { ...clip.fadeIn },
    fadeOut: { ...clip.fadeOut },
    ...(clip.sync && { sync: { ...clip.sync } }),
    ...(clip.loop && { loop: { ...clip.loop } }),
    ...(clip.curves && { curves: copyCurves(clip.curves) }),
    ...(clip.pins && { pins: clip.pins.map((pin) => ({ ...pin })) }),
    ...(clip.notes && { notes: clip.notes.map((note) => ({ ...note })) }),
    locked: false,
  };
}

function copyCurves(curves: NonNullable<Clip['curves']>): NonNullable<Clip['curves']> {
  const copy: NonNullable<Clip['curves']> = {};
  for (const curve of clipCurves) if (curves[curve]) copy[curve] = curves[curve].map((point) => ({ ...point }));
  return copy;
}

/** Throws EditError when a layer would get more clips than it can hold. */
export function assertRoom(layer: { name: string; clips: readonly Clip[] }, more: number): void {
  if (layer.clips.length + more > mostClips)
    throw new EditError(`“${layer.name}” would have ${layer.clips.length + more} clips; at most ${mostClips} are possible.`);
}

/** Throws EditError where a clip cannot lie on a layer: notes only on made layers, recordings only on others. */
export function assertFits(layer: { name: string; patch?: unknown }, clip: Clip): void {
  if ((layer.patch !== undefined) === (clip.notes !== undefined)) return;
  throw new EditError(
    layer.patch
      ? `“${layer.name}” is made from notes; recordings need a layer of their own.`
      : `“${layer.name}” shows recordings; notes need a made layer.`,
  );
}

/** The clip, its layer and what it shows, for changing it. Throws EditError when the clip is locked. */
export function unlockedClip(project: Project, sound: Sound, clipId: string): ReturnType<typeof clipOf> & { content: Content } {
  const found = clipOf(sound, clipId);
  const content = contentOf(project, found);
  if (found.clip.locked) throw new EditError(`“${content.name}” is locked; unlock it first.`);
  return { ...found, content };
}

/** “Move “Ice crack”” or “Move 3 clips”. */
export function clipsLabel(action: string, project: Project, sound: string, clips: readonly string[]): string {
  if (clips.length !== 1) return `${action} ${clips.length} clips`;
  return `${action} “${contentOf(project, clipOf(soundOf(project, sound), clips[0]!)).name}”`;
}

/** Brings the loop of a clip into a source that ends at `end`; what has no loop left plays on to its end. */
export function fitLoop(clip: Clip, end: Seconds): void {
  if (!clip.loop || clip.loop.to <= end) return;
  if (end - clip.loop.from >= shortestLoop) clip.loop.to = end;
  else delete clip.loop;
  if (clip.loop) clip.loop.crossfade = Math.min(clip.loop.crossfade, (end - clip.loop.from) / 2);
}

/** Fades never overlap and never outlast the clip. */
export function fitFades(clip: Clip): void {
  const duration = clipDuration(clip);
  clip.fadeIn.length = Math.max(0, Math.min(clip.fadeIn.length, duration));
  clip.fadeOut.length = Math.max(0, Math.min(clip.fadeOut.length, duration - clip.fadeIn.length));
}

/** A cut edge gets at least the fade that keeps it from clicking. */
export function softenEdges(clip: Clip, edges: { start?: boolean; end?: boolean }): void {
  // Notes begin and end by themselves.
  const least = clip.notes ? 0 : Math.min(edgeFade, clipDuration(clip) / 4);
  if (edges.start) clip.fadeIn.length = Math.max(clip.fadeIn.length, least);
  if (edges.end) clip.fadeOut.length = Math.max(clip.fadeOut.length, least);
  fitFades(clip);
}

/** Seconds of content that a clip could show from its offset on. */
export function contentLength(project: Project, clip: Clip): Seconds {
  return clip.loop || clip.source === undefined
    ? 86_400 - clip.offset
    : sourceOf(project, clip.source).frames / project.sampleRate - clip.offset;
}

export interface ClipsArguments {
  readonly sound: string;
  readonly clips: readonly string[];
}

export const addClip = defineEdit<{ sound: string; layer: string; source: string; start: Seconds; part?: SourcePart }>({
  label: ({ source }, project) => `Add clip “${sourceOf(project, source).name}”`,
  apply: (draft, { sound, layer, source, start, part }) => {
    const target = layerOf(soundOf(draft, sound), layer);
    if (target.patch) throw new EditError(`“${target.name}” is made from notes; a recording needs a layer of its own.`);
    assertRoom(target, 1);
    target.clips.push(newClip(draft, sourceOf(draft, source), start, part));
  },
});

/** Where clips go: each to a time and, with `layer`, to another layer. */
export interface Placement {
  readonly clip: string;
  readonly start: Seconds;
  readonly layer?: string;
}

export const moveClips = defineEdit<{ sound: string; to: readonly Placement[] }>({
  label: ({ sound, to }, project) =>
    clipsLabel(
      'Move',
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, to }) => {
    const target = soundOf(draft, sound);
    for (const { clip: id, start, layer } of to) {
      const { clip, layer: home } = unlockedClip(draft, target, id);
      clip.start = Math.max(0, start);
      if (layer === undefined || layer === home.id) continue;
      const destination = layerOf(target, layer);
      assertFits(destination, clip);
      assertRoom(destination, 1);
      home.clips.splice(home.clips.indexOf(clip), 1);
      destination.clips.push(cloneClip(clip, clip.id));
      const oldAddress = `layer/${home.id}/clip/${id}/`;
      renameSways(target, oldAddress, `layer/${layer}/clip/${id}/`);
      movePulls(target, { layer: home, clip }, { layer: destination, clip });
    }
  },
});

/** Moves the left or right ends of clips to times on the axis, as far as their sources go; what sounds where stays as it is. */
export const trimClips = defineEdit<{ sound: string; side: 'start' | 'end'; to: readonly { clip: string; time: Seconds }[] }>({
  label: ({ sound, side, to }, project) =>
    clipsLabel(
      `Trim ${side} of`,
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, side, to }) => {
    for (const { clip: id, time } of to) {
      const { clip } = unlockedClip(draft, soundOf(draft, sound), id);
      if (side === 'start') trimStart(draft, clip, time);
      else trimEnd(draft, clip, time);
    }
  },
});

function trimStart(project: Project, clip: Clip, time: Seconds): void {
  const most = clip.length - Math.min(shortestClip, clip.length);
  const before = clip.reversed ? contentLength(project, clip) - clip.length : clip.offset;
  const earliest = Math.max(-before, contentAtTime(clip, -clip.start));
  const shift = Math.max(earliest, Math.min(most, contentAtTime(clip, time - clip.start)));
  const later = Math.max(-clip.start, timeOfContent(clip, shift));
  clip.start += later;
  movePins(clip, -later);
  if (!clip.reversed) moveOffset(clip, clip.offset + shift);
  clip.length -= shift;
  softenEdges(clip, { start: clip.offset > 0 || clip.reversed });
}

function trimEnd(project: Project, clip: Clip, time: Seconds): void {
  const available = clip.reversed ? clip.offset + clip.length : contentLength(project, clip);
  const wanted = contentAtTime(clip, time - clip.start);
  // A clip whose source has become too short for it shows nothing, but it stays a clip.
  const length = Math.max(Math.min(shortestClip, clip.length), Math.min(available, wanted));
  if (clip.reversed) moveOffset(clip, clip.offset + clip.length - length);
  clip.length = length;
  softenEdges(clip, { end: true });
}

/** Pins stay on the axis where the clip begins later or earlier than it did. */
export function movePins(clip: Clip, by: Seconds): void {
  for (const pin of clip.pins ?? []) pin.time += by;
}

/** A beginning behind the end of a loop is one inside it; curves and pins then go along, so that the content keeps its pace. */
export function moveOffset(clip: Clip, offset: Seconds): void {
  clip.offset = Math.max(0, offset);
  if (!clip.loop || clip.offset < clip.loop.to) return;
  const inside = clip.loop.from + ((clip.offset - clip.loop.to) % (clip.loop.to - clip.loop.from));
  moveAlong(clip, inside - clip.offset);
  clip.offset = inside;
}

/** Moves what is tied to places of the source to other places. */
function moveAlong(clip: Clip, by: Seconds): void {
  for (const curve of clipCurves) for (const point of clip.curves?.[curve] ?? []) point.at += by;
  for (const pin of clip.pins ?? []) pin.at += by;
}

/** Slides the content inside clips that stay where they are: `offset` is where each begins in its source. */
export const slipClips = defineEdit<{ sound: string; to: readonly { clip: string; offset: Seconds }[] }>({
  label: ({ sound, to }, project) =>
    clipsLabel(
      'Slip',
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, to }) => {
    for (const { clip: id, offset } of to) {
      const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
      const most = content.seconds - (clip.loop ? 0 : clip.length);
      const slipped = Math.max(0, Math.min(most, offset));
      // Curves and pins stay with the clip, which keeps its length.
      moveAlong(clip, slipped - clip.offset);
      moveOffset(clip, slipped);
      softenEdges(clip, { start: true, end: true });
    }
  },
});

export const fadeClips = defineEdit<ClipsArguments & { side: 'in' | 'out'; length?: Seconds; shape?: FadeShape }>({
  label: ({ sound, clips, side }, project) => clipsLabel(`Fade ${side}`, project, sound, clips),
  apply: (draft, { sound, clips, side, length, shape }) => {
    for (const id of clips) {
      const { clip } = clipOf(soundOf(draft, sound), id);
      const fade = side === 'in' ? clip.fadeIn : clip.fadeOut;
      const other = side === 'in' ? clip.fadeOut : clip.fadeIn;
      if (length !== undefined) fade.length = Math.max(0, Math.min(length, clipDuration(clip) - other.length));
      if (shape !== undefined) fade.shape = shape;
    }
  },
});

/** Plays clips backwards, or forwards again; the same part of the source stays in use. */
export const reverseClips = defineEdit<ClipsArguments>({
  label: ({ sound, clips }, project) => clipsLabel('Reverse', project, sound, clips),
  apply: (draft, { sound, clips }) => {
    for (const id of clips) {
      const { clip } = unlockedClip(draft, soundOf(draft, sound), id);
      mirrorPins(clip);
      clip.reversed = !clip.reversed;
      softenEdges(clip, { start: true, end: true });
    }
  },
});

/** What lasted so long forwards does so backwards: the beginning, which needed no pin, becomes one at the end. */
function mirrorPins(clip: Clip): void {
  if (!clip.pins) return;
  const duration = clipDuration(clip);
  const beginning = { at: clip.reversed ? clip.offset + clip.length : clip.offset, time: duration };
  const mirrored = clip.pins.filter(({ time }) => time > 0 && time < duration).map(({ at, time }) => ({ at, time: duration - time }));
  clip.pins = [...mirrored.reverse(), beginning];
}

/** Sets the speed so that a clip lasts `duration`; its pitch follows, within three octaves. Throws EditError beyond that. */
export const fitClips = defineEdit<ClipsArguments & { duration: Seconds }>({
  label: ({ sound, clips }, project) => clipsLabel('Fit to length', project, sound, clips),
  apply: (draft, { sound, clips, duration }) => {
    for (const id of clips) {
      const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
      const speed = duration > 0 ? clip.speed + ratioToSemitones(clipDuration(clip) / duration) : Infinity;
      if (!(Math.abs(speed) <= 36))
        throw new EditError(`“${content.name}” cannot last ${duration.toFixed(3)} s: that is more than three octaves away.`);
      clip.speed = speed;
      fitFades(clip);
    }
  },
});

/**
 * Repeats the part of the source from `from` to `to` until a clip lasts `duration`; each join crossfades over `crossfade`. Without a
 * loop the clip goes back to what its source has.
 */
export const loopClip = defineEdit<{
  sound: string;
  clip: string;
  loop: { from: Seconds; to: Seconds; crossfade: Seconds; duration: Seconds } | undefined;
}>({
  label: ({ sound, clip, loop }, project) => clipsLabel(loop ? 'Loop inside' : 'End the loop of', project, sound, [clip]),
  apply: (draft, { sound, clip: id, loop }) => {
    const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
    const end = content.seconds;
    if (!loop) {
      delete clip.loop;
      clip.length = Math.min(clip.length, end - clip.offset);
      fitFades(clip);
      return;
    }
    const from = Math.max(clip.offset, Math.min(loop.from, end));
    const to = Math.min(loop.to, end);
    if (!(to - from >= shortestLoop)) throw new EditError(`The part to loop in “${content.name}” is shorter than 5 ms.`);
    // The crossfade reads ahead of the loop's beginning, and must leave something of the loop itself.
    clip.loop = { from, to, crossfade: Math.max(0, Math.min(loop.crossfade, from, (to - from) / 2)) };
    clip.length = Math.max(shortestClip, Math.min(86_400, contentAtTime(clip, loop.duration)));
    softenEdges(clip, { end: true });
  },
});

export const lockClips = defineEdit<ClipsArguments & { locked: boolean }>({
  label: ({ sound, clips, locked }, project) => clipsLabel(locked ? 'Lock' : 'Unlock', project, sound, clips),
  apply: (draft, { sound, clips, locked }) => {
    for (const id of clips) clipOf(soundOf(draft, sound), id).clip.locked = locked;
  },
});

/** Makes clips one group, or none with `together` false. */
export const groupClips = defineEdit<ClipsArguments & { together: boolean }>({
  label: ({ sound, clips, together }, project) => clipsLabel(together ? 'Group' : 'Ungroup', project, sound, clips),
  apply: (draft, { sound, clips, together }) => {
    const target = soundOf(draft, sound);
    if (together && clips.length < 2) throw new EditError('A group needs at least two clips.');
    const group = together ? takeId(draft, 'group') : undefined;
    for (const id of clips) {
      const { clip } = clipOf(target, id);
      if (group) clip.group = group;
      else delete clip.group;
    }
  },
});

export const removeClips = defineEdit<ClipsArguments>({
  label: ({ sound, clips }, project) => clipsLabel('Delete', project, sound, clips),
  apply: (draft, { sound, clips }) => {
    const target = soundOf(draft, sound);
    for (const id of clips) {
      const { clip, layer } = unlockedClip(draft, target, id);
      layer.clips.splice(layer.clips.indexOf(clip), 1);
      forgetBelow(target, `layer/${layer.id}/clip/${id}/`);
    }
  },
});
