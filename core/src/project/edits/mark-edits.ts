import type { Scale } from '../../tuning';
import { pitchClasses } from '../../tuning';
import type { Seconds } from '../../units';
import type { Clock, FrameRate, Mark, Picture, Project, Sound, Tempo } from '../schema';
import { movedPin, pinOn } from '../time/pins';
import { fitFades } from './clip-edits';
import { cleanName, defineEdit, EditError, soundOf, contentOf, takeId } from './edit';
import { assertHolds } from './stretch-edits';

type NewMark = Omit<Mark, 'id'>;
const mostMarks = 10_000;

/** Adds marks, kept in the order of time. */
export const addMarks = defineEdit<{ sound: string; marks: readonly NewMark[] }>({
  label: ({ marks }) => (marks.length === 1 ? `Mark “${marks[0]!.name}”` : `Add ${marks.length} marks`),
  apply: (draft, { sound, marks: added }) => {
    const { marks } = soundOf(draft, sound);
    if (marks.length + added.length > mostMarks) throw new EditError(`A sound can have ${mostMarks} marks; these would be more.`);
    for (const mark of added)
      marks.push({ ...mark, id: takeId(draft, 'mark'), name: mark.name.slice(0, 300) || 'Mark', time: Math.max(0, mark.time) });
    marks.sort(byTime);
  },
});

/** Renames a mark, moves it with the pins that lie on it, gives it a stage or a colour; `undefined` takes these away. */
export const setMark = defineEdit<{ sound: string; mark: string; change: Partial<NewMark> }>({
  label: ({ sound, mark, change }, project) =>
    change.time !== undefined ? `Move mark “${markOf(project, sound, mark).name}”` : `Change mark “${markOf(project, sound, mark).name}”`,
  apply: (draft, { sound, mark: id, change }) => {
    const mark = markOf(draft, sound, id);
    if (change.name !== undefined) mark.name = cleanName(change.name);
    if (change.time !== undefined) {
      const time = Math.max(0, change.time);
      movePins(draft, soundOf(draft, sound), mark.time, time);
      mark.time = time;
    }
    if ('stage' in change) setOrDelete(mark, 'stage', change.stage);
    if ('colour' in change) setOrDelete(mark, 'colour', change.colour);
    soundOf(draft, sound).marks.sort(byTime);
  },
});

/** Pins on a mark move with it, as far as their neighbours let them; those of locked clips stay. */
function movePins(draft: Project, { layers }: Sound, from: Seconds, to: Seconds): void {
  for (const layer of layers)
    for (const clip of layer.clips) {
      const pin = clip.locked ? -1 : pinOn(clip, from);
      if (pin < 0) continue;
      clip.pins = movedPin(clip.pins!, pin, to - clip.start);
      assertHolds(clip, contentOf(draft, { clip, layer }).name);
      fitFades(clip);
    }
}

export const removeMark = defineEdit<{ sound: string; mark: string }>({
  label: ({ sound, mark }, project) => `Remove mark “${markOf(project, sound, mark).name}”`,
  apply: (draft, { sound, mark }) => {
    const target = soundOf(draft, sound);
    target.marks.splice(target.marks.indexOf(markOf(draft, sound, mark)), 1);
  },
});

/** The tempo grid of a sound. */
export const setTempo = defineEdit<{ sound: string; tempo: Partial<Tempo> }>({
  label: ({ tempo }) => (tempo.bpm !== undefined ? `Tempo ${tempo.bpm.toFixed(1)}` : 'Tempo grid'),
  apply: (draft, { sound, tempo }) => {
    const target = soundOf(draft, sound).tempo;
    if (tempo.bpm !== undefined) target.bpm = Math.max(20, Math.min(400, tempo.bpm));
    if (tempo.beats !== undefined) target.beats = Math.max(1, Math.min(32, Math.round(tempo.beats)));
    if (tempo.offset !== undefined) target.offset = Math.max(-60, Math.min(86_400, tempo.offset));
  },
});

/** The key that a sound is to fit to; without one it has none. */
export const setKey = defineEdit<{ sound: string; key?: Scale }>({
  label: ({ key }) => (key ? `Key ${pitchClasses[key.root]} ${key.kind}` : 'No key'),
  apply: (draft, { sound, key }) => {
    const target = soundOf(draft, sound);
    if (key) target.key = { ...key };
    else delete target.key;
  },
});

/** How the frames of a sound's time axis are counted. */
export const setClock = defineEdit<{ sound: string; clock: Partial<Clock> }>({
  label: ({ clock }) => (clock.frameRate !== undefined ? `Frame rate ${clock.frameRate}` : 'Start timecode'),
  apply: (draft, { sound, clock }) => {
    Object.assign(soundOf(draft, sound).clock, clock);
  },
});

/** Lays a sound to a picture; the frames of its axis are counted as the picture's are. */
export const setPicture = defineEdit<{ sound: string; picture: Picture; frameRate?: FrameRate }>({
  label: ({ picture }) => `Picture “${picture.file}”`,
  apply: (draft, { sound, picture, frameRate }) => {
    const target = soundOf(draft, sound);
    target.picture = { ...picture };
    if (frameRate) target.clock.frameRate = frameRate;
  },
});

/** Moves the picture along the time axis. */
export const movePicture = defineEdit<{ sound: string; offset: Seconds }>({
  label: () => 'Move picture',
  apply: (draft, { sound, offset }) => {
    const { picture } = soundOf(draft, sound);
    if (!picture) throw new EditError('This sound has no picture.');
    picture.offset = Math.max(-86_400, Math.min(86_400, offset));
  },
});

export const removePicture = defineEdit<{ sound: string }>({
  label: () => 'Remove picture',
  apply: (draft, { sound }) => {
    delete soundOf(draft, sound).picture;
  },
});

function markOf(project: Project, sound: string, id: string): Mark {
  const mark = soundOf(project, sound).marks.find((candidate) => candidate.id === id);
  if (!mark) throw new EditError(`There is no mark “${id}”.`);
  return mark;
}

const byTime = (a: { time: Seconds }, b: { time: Seconds }): number => a.time - b.time;

function setOrDelete<K extends 'stage' | 'colour'>(mark: Mark, key: K, value: Mark[K]): void {
  if (value === undefined) delete mark[key];
  else mark[key] = value;
}
