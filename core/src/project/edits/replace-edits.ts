import type { Seconds } from '../../units';
import type { Clip, Source } from '../schema';
import { clipsLabel, fitFades, fitLoop, shortestClip, unlockedClip } from './clip-edits';
import type { ClipsArguments } from './clip-edits';
import { defineEdit, EditError, soundOf, sourceOf } from './edit';

/**
 * Puts another recording into clips and keeps all else: where they are, their speed, fades, level, and what moves them. A clip that lands by a point
 * lands with `attack` of the new recording there; one that showed all of the old recording shows all of the new one.
 */
export const replaceRecording = defineEdit<ClipsArguments & { source: string; attack?: Seconds }>({
  label: ({ sound, clips, source }, project) => `${clipsLabel('Replace', project, sound, clips)} by “${sourceOf(project, source).name}”`,
  apply: (draft, { sound, clips, source: id, attack }) => {
    const target = soundOf(draft, sound);
    const replacement = sourceOf(draft, id);
    for (const clip of clips) {
      const found = unlockedClip(draft, target, clip);
      if (found.clip.notes) throw new EditError(`“${found.content.name}” is made from notes, which no recording can take the place of.`);
      putInto(found.clip, found.content.seconds, replacement, draft.sampleRate, attack);
    }
  },
});

function putInto(clip: Clip, oldEnd: Seconds, after: Source, sampleRate: number, attack: Seconds | undefined): void {
  const end = after.frames / sampleRate;
  const showedAll = clip.offset === 0 && !clip.loop && Math.abs(clip.length - oldEnd) < 1 / sampleRate;
  clip.source = after.id;
  const synced = clip.sync && attack !== undefined ? attack : undefined;
  if (clip.sync && synced !== undefined) {
    // As long before its landing as the old one began, as far as the new one reaches back.
    const lead = clip.sync.at - clip.offset;
    const offset = Math.max(0, synced - lead);
    clip.start = Math.max(0, clip.start + lead - (synced - offset));
    clip.offset = offset;
    clip.sync = { at: synced, kind: 'transient' };
  } else {
    if (clip.offset > end - shortestClip) clip.offset = 0;
    if (clip.sync && clip.sync.at > end) delete clip.sync;
  }
  fitLoop(clip, end);
  if (showedAll) clip.length = end - clip.offset;
  else if (!clip.loop) clip.length = Math.max(shortestClip, Math.min(clip.length, end - clip.offset));
  fitFades(clip);
}
