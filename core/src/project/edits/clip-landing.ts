import type { Seconds } from '../../units';
import { syncTime } from '../time/clip-times';
import type { SyncPoint } from '../schema';
import { clipsLabel, unlockedClip } from './clip-edits';
import { clipOf, defineEdit, EditError, soundOf } from './edit';

/** Gives clips their sync points, or takes them away. `at` is in the source's own time. */
export const setSyncPoints = defineEdit<{ sound: string; to: readonly { clip: string; sync: SyncPoint | undefined }[] }>({
  label: ({ sound, to }, project) =>
    clipsLabel(
      to.some(({ sync }) => sync) ? 'Sync point of' : 'No sync point for',
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, to }) => {
    for (const { clip: id, sync } of to) {
      const { clip } = clipOf(soundOf(draft, sound), id);
      if (sync) clip.sync = { at: Math.max(0, sync.at), kind: sync.kind };
      else delete clip.sync;
    }
  },
});

/** A clip and the moment its sync point must fall on; `sync` sets the point first. */
export interface Landing {
  readonly clip: string;
  readonly time: Seconds;
  readonly sync?: SyncPoint;
}

/**
 * Moves clips so that their sync points fall on given times. Throws EditError when a clip would have to begin before 0: it would not land
 * there.
 */
export const landClips = defineEdit<{ sound: string; to: readonly Landing[] }>({
  label: ({ sound, to }, project) =>
    clipsLabel(
      'Land',
      project,
      sound,
      to.map(({ clip }) => clip),
    ),
  apply: (draft, { sound, to }) => {
    for (const { clip: id, time, sync } of to) {
      const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
      if (sync) clip.sync = { at: Math.max(0, sync.at), kind: sync.kind };
      const start = clip.start + time - syncTime(clip);
      if (start < 0)
        throw new EditError(
          `“${content.name}” cannot land at ${time.toFixed(3)} s: it would begin ${(-start).toFixed(3)} s before the sound does. Trim its start first.`,
        );
      clip.start = start;
    }
  },
});
