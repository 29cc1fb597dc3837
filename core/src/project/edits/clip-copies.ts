import type { Decibels, Seconds, Semitones } from '../../units';
import { clipDuration } from '../time/clip-times';
import type { Clip } from '../schema';
import type { ClipsArguments, Placement } from './clip-edits';
import { assertFits, assertRoom, clipsLabel, cloneClip, fitFades } from './clip-edits';
import { pullCopy } from './clip-pulls';
import { clipOf, defineEdit, EditError, layerOf, soundOf, takeId } from './edit';

/** Copies clips to new places; used by a duplicating drag. Copies come in the order of `to`. */
export const copyClips = defineEdit<{ sound: string; to: readonly Placement[] }>({
  label: ({ sound, to }, project) =>
    clipsLabel(
      'Copy',
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, to }) => {
    const target = soundOf(draft, sound);
    const groups = new GroupNames(() => takeId(draft, 'group'));
    for (const { clip: id, start, layer: layerId } of to) {
      const { clip, layer: home } = clipOf(target, id);
      const layer = layerId === undefined ? home : layerOf(target, layerId);
      assertFits(layer, clip);
      assertRoom(layer, 1);
      const copy = groups.rename({ ...cloneClip(clip, takeId(draft, 'clip')), start: Math.max(0, start) });
      layer.clips.push(copy);
      pullCopy(draft, target, { layer: home, clip }, { layer, clip: copy });
    }
  },
});

/** Copies of the chosen clips right behind the last of them, in the same rhythm. */
export const duplicateClips = defineEdit<ClipsArguments>({
  label: ({ sound, clips }, project) => clipsLabel('Duplicate', project, sound, clips),
  apply: (draft, { sound, clips }) => {
    const target = soundOf(draft, sound);
    const found = clips.map((id) => clipOf(target, id));
    const first = Math.min(...found.map(({ clip }) => clip.start));
    const last = Math.max(...found.map(({ clip }) => clip.start + clipDuration(clip)));
    const groups = new GroupNames(() => takeId(draft, 'group'));
    for (const { clip, layer } of found) {
      assertRoom(layer, 1);
      const copy = groups.rename({ ...cloneClip(clip, takeId(draft, 'clip')), start: clip.start + last - first });
      layer.clips.push(copy);
      pullCopy(draft, target, { layer, clip }, { layer, clip: copy });
    }
  },
});

/** A clip on the clipboard, with the layer it came from. */
export interface CopiedClip {
  readonly clip: Clip;
  readonly layer: string;
}

/**
 * Pastes clips, moved by `shift`, onto the layers they came from; where such a layer is gone, onto `layer`. Throws EditError when a source
 * is not in the project or there is no layer to take them.
 */
export const pasteClips = defineEdit<{ sound: string; copied: readonly CopiedClip[]; shift: Seconds; layer?: string }>({
  label: ({ copied }) => (copied.length === 1 ? 'Paste clip' : `Paste ${copied.length} clips`),
  apply: (draft, { sound, copied, shift, layer: fallback }) => {
    const target = soundOf(draft, sound);
    const groups = new GroupNames(() => takeId(draft, 'group'));
    for (const { clip, layer: home } of copied) {
      if (clip.source !== undefined && !draft.sources.some((source) => source.id === clip.source))
        throw new EditError('A copied clip cannot be pasted: its source is not in this project.');
      const layer =
        target.layers.find((candidate) => candidate.id === home) ?? target.layers.find((candidate) => candidate.id === fallback);
      if (!layer) throw new EditError('There is no layer to paste onto; make one first.');
      assertFits(layer, clip);
      assertRoom(layer, 1);
      const copy = groups.rename({ ...cloneClip(clip, takeId(draft, 'clip')), start: Math.max(0, clip.start + shift) });
      layer.clips.push(copy);
      // While the clip is there that was copied, its copy is pulled as it is.
      pullCopy(draft, target, { layer: { id: home }, clip }, { layer, clip: copy });
    }
  },
});

/** Repeats clips `times` more at an interval, each repeat changed by a step in level and in pitch from the one before. */
export const repeatClips = defineEdit<ClipsArguments & { times: number; interval: Seconds; levelStep: Decibels; pitchStep: Semitones }>({
  label: ({ sound, clips, times }, project) => clipsLabel(`Repeat ${times} times:`, project, sound, clips),
  apply: (draft, { sound, clips, times, interval, levelStep, pitchStep }) => {
    if (!(Number.isInteger(times) && times >= 1 && times <= 1_000)) throw new EditError(`Clips repeat 1 to 1000 times, not ${times}.`);
    if (!(interval >= 0.001)) throw new EditError('The interval between repeats is shorter than 1 ms.');
    const target = soundOf(draft, sound);
    for (const id of clips) {
      const { clip, layer } = clipOf(target, id);
      assertRoom(layer, times);
      for (let n = 1; n <= times; n++) {
        const copy = cloneClip(clip, takeId(draft, 'clip'));
        copy.start = clip.start + n * interval;
        copy.gain = Math.max(-96, Math.min(36, clip.gain + n * levelStep));
        copy.speed = Math.max(-36, Math.min(36, clip.speed + n * pitchStep));
        fitFades(copy);
        layer.clips.push(copy);
        pullCopy(draft, target, { layer, clip }, { layer, clip: copy });
      }
    }
  },
});

/** Copies of a group are a group of their own. */
class GroupNames {
  private readonly names = new Map<string, string>();

  constructor(private readonly take: () => string) {}

  rename(clip: Clip): Clip {
    if (clip.group === undefined) return clip;
    const name = this.names.get(clip.group) ?? this.take();
    this.names.set(clip.group, name);
    return { ...clip, group: name };
  }
}
