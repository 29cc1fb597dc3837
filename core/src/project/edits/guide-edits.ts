import type { Guide } from '../schema';
import type { Seconds } from '../../units';
import { defineEdit, EditError, soundOf, sourceOf } from './edit';

/** How far before and behind time 0 a guide can begin. */
const farthest: Seconds = 86_400;

/** Lays a source under a sound as its guide, at `start`; or takes the guide away. */
export const setGuide = defineEdit<{ sound: string; source: string | undefined; start?: Seconds }>({
  label: ({ source }, project) => (source === undefined ? 'Remove the guide' : `Guide “${sourceOf(project, source).name}”`),
  apply: (draft, { sound, source, start = 0 }) => {
    const target = soundOf(draft, sound);
    if (source === undefined) delete target.guide;
    else target.guide = { gain: 0, repeats: false, ...target.guide, on: true, source: sourceOf(draft, source).id, start: bounded(start) };
  },
});

/** Moves the guide, sets its level, switches it on or off, or lets it repeat. Throws EditError when the sound has none. */
export const changeGuide = defineEdit<{ sound: string; change: Partial<Omit<Guide, 'source'>> }>({
  label: ({ change }) => {
    if (change.on !== undefined) return change.on ? 'Guide on' : 'Guide off';
    if (change.start !== undefined) return 'Move the guide';
    return change.gain !== undefined ? 'Gain of the guide' : 'Let the guide repeat';
  },
  apply: (draft, { sound, change }) => {
    const { guide } = soundOf(draft, sound);
    if (!guide) throw new EditError('This sound has no guide.');
    Object.assign(guide, change);
    guide.start = bounded(guide.start);
    guide.gain = Math.max(-96, Math.min(36, guide.gain));
  },
});

function bounded(start: Seconds): Seconds {
  return Math.max(-farthest, Math.min(farthest, start));
}
