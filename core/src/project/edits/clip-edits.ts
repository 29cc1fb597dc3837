import type { FadeShape } from '../../audio/fade';
import type { Seconds } from '../../units';
import { semitonesToRatio } from '../../units';
import { clipDuration } from '../clip-times';
import type { Clip, Project, Source } from '../schema';
import { clipOf, defineEdit, EditError, layerOf, soundOf, sourceOf, takeId } from './edit';

/** Shortest stretch of a source that a clip can show. */
export const shortestClip: Seconds = 0.001;
/** A fade too short to be heard as one, but long enough that no edge clicks. */
export const edgeFade: Seconds = 0.003;
const mostClips = 5_000;

/** A clip of the whole source. */
export function newClip(draft: Project, source: Source, start: Seconds): Clip {
  const length = source.frames / draft.sampleRate;
  const fade = Math.min(edgeFade, length / 4);
  return {
    id: takeId(draft, 'clip'),
    source: source.id,
    start: Math.max(0, start),
    offset: 0,
    length,
    gain: 0,
    speed: 0,
    // A recording's first transient must stay whole, so the fade-in starts out at nothing.
    fadeIn: { length: 0, shape: 's-curve' },
    fadeOut: { length: fade, shape: 's-curve' },
  };
}

interface ClipArguments {
  readonly sound: string;
  readonly clip: string;
}

function nameOf(project: Project, { sound, clip }: ClipArguments): string {
  return sourceOf(project, clipOf(soundOf(project, sound), clip).clip.source).name;
}

/** Fades never overlap and never outlast the clip. */
export function fitFades(clip: Clip): void {
  const duration = clipDuration(clip);
  clip.fadeIn.length = Math.max(0, Math.min(clip.fadeIn.length, duration));
  clip.fadeOut.length = Math.max(0, Math.min(clip.fadeOut.length, duration - clip.fadeIn.length));
}

export const addClip = defineEdit<{ sound: string; layer: string; source: string; start: Seconds }>({
  label: ({ source }, project) => `Add clip “${sourceOf(project, source).name}”`,
  apply: (draft, { sound, layer, source, start }) => {
    const target = layerOf(soundOf(draft, sound), layer);
    if (target.clips.length >= mostClips) throw new EditError(`“${target.name}” has ${mostClips} clips already.`);
    target.clips.push(newClip(draft, sourceOf(draft, source), start));
  },
});

/** Moves a clip in time and, with `layer`, to another layer. */
export const moveClip = defineEdit<ClipArguments & { start: Seconds; layer?: string }>({
  label: (args, project) => `Move “${nameOf(project, args)}”`,
  apply: (draft, { sound, clip, start, layer }) => {
    const target = soundOf(draft, sound);
    const found = clipOf(target, clip);
    found.clip.start = Math.max(0, start);
    if (layer === undefined || layer === found.layer.id) return;
    const destination = layerOf(target, layer);
    found.layer.clips.splice(found.layer.clips.indexOf(found.clip), 1);
    destination.clips.push({ ...found.clip, fadeIn: { ...found.clip.fadeIn }, fadeOut: { ...found.clip.fadeOut } });
    const oldAddress = `layer/${found.layer.id}/clip/${clip}/`;
    for (const sway of target.family.sways) {
      if (sway.address.startsWith(oldAddress)) sway.address = `layer/${layer}/clip/${clip}/${sway.address.slice(oldAddress.length)}`;
    }
  },
});

/** Moves the left end of a clip to `time` on the axis; what sounds where stays as it is. */
export const trimClipStart = defineEdit<ClipArguments & { time: Seconds }>({
  label: (args, project) => `Trim start of “${nameOf(project, args)}”`,
  apply: (draft, { sound, clip: clipId, time }) => {
    const { clip } = clipOf(soundOf(draft, sound), clipId);
    const ratio = semitonesToRatio(clip.speed);
    const most = clip.length - Math.min(shortestClip, clip.length);
    const shift = Math.max(-clip.offset, -clip.start * ratio, Math.min(most, (time - clip.start) * ratio));
    clip.start = Math.max(0, clip.start + shift / ratio);
    clip.offset = Math.max(0, clip.offset + shift);
    clip.length -= shift;
    if (clip.offset > 0) clip.fadeIn.length = Math.max(clip.fadeIn.length, edgeFade);
    fitFades(clip);
  },
});

/** Moves the right end of a clip to `time` on the axis, as far as the source goes. */
export const trimClipEnd = defineEdit<ClipArguments & { time: Seconds }>({
  label: (args, project) => `Trim end of “${nameOf(project, args)}”`,
  apply: (draft, { sound, clip: clipId, time }) => {
    const { clip } = clipOf(soundOf(draft, sound), clipId);
    const available = sourceOf(draft, clip.source).frames / draft.sampleRate - clip.offset;
    const wanted = (time - clip.start) * semitonesToRatio(clip.speed);
    clip.length = Math.max(Math.min(shortestClip, available), Math.min(available, wanted));
    clip.fadeOut.length = Math.max(clip.fadeOut.length, edgeFade);
    fitFades(clip);
  },
});

export const fadeClip = defineEdit<ClipArguments & { side: 'in' | 'out'; length?: Seconds; shape?: FadeShape }>({
  label: (args, project) => `Fade ${args.side} “${nameOf(project, args)}”`,
  apply: (draft, { sound, clip: clipId, side, length, shape }) => {
    const { clip } = clipOf(soundOf(draft, sound), clipId);
    const fade = side === 'in' ? clip.fadeIn : clip.fadeOut;
    const other = side === 'in' ? clip.fadeOut : clip.fadeIn;
    if (length !== undefined) fade.length = Math.max(0, Math.min(length, clipDuration(clip) - other.length));
    if (shape !== undefined) fade.shape = shape;
  },
});

/** A copy of a clip right behind it on the same layer. */
export const duplicateClip = defineEdit<ClipArguments>({
  label: (args, project) => `Duplicate “${nameOf(project, args)}”`,
  apply: (draft, { sound, clip }) => {
    const found = clipOf(soundOf(draft, sound), clip);
    if (found.layer.clips.length >= mostClips) throw new EditError(`“${found.layer.name}” has ${mostClips} clips already.`);
    found.layer.clips.push({
      ...found.clip,
      id: takeId(draft, 'clip'),
      start: found.clip.start + clipDuration(found.clip),
      fadeIn: { ...found.clip.fadeIn },
      fadeOut: { ...found.clip.fadeOut },
    });
  },
});

export const removeClip = defineEdit<ClipArguments>({
  label: (args, project) => `Delete “${nameOf(project, args)}”`,
  apply: (draft, { sound, clip }) => {
    const target = soundOf(draft, sound);
    const found = clipOf(target, clip);
    found.layer.clips.splice(found.layer.clips.indexOf(found.clip), 1);
    const prefix = `layer/${found.layer.id}/clip/${clip}/`;
    target.family.sways = target.family.sways.filter((sway) => !sway.address.startsWith(prefix));
  },
});
