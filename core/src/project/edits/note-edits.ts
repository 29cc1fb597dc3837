import type { Clip, Project } from '../schema';
import type { PlayedNote } from '../patch/patch-schema';
import { mostNotes } from '../patch/patch-schema';
import { clipInterval } from '../patch/clip-notes';
import { contentAtTime } from '../time/clip-pace';
import { axisToSource, clipEnd } from '../time/clip-times';
import type { Seconds, Semitones, Unit } from '../../units';
import { assertRoom, unlockedClip } from './clip-edits';
import { defineEdit, EditError, soundOf, takeId } from './edit';
import type { LayerArguments } from './layer-edits';
import type { NewNote } from './patch-edits';
import { madeLayerOf, newNoteClip } from './patch-edits';

export interface NoteClip {
  readonly sound: string;
  readonly clip: string;
}

/** An empty clip of notes on a made layer. */
export const addNoteClip = defineEdit<LayerArguments & { start: Seconds; length: Seconds; notes?: readonly NewNote[] }>({
  label: (args, project) => `Add notes to “${madeLayerOf(project, args).layer.name}”`,
  apply: (draft, { start, length, notes = [], ...args }) => {
    const { layer } = madeLayerOf(draft, args);
    assertRoom(layer, 1);
    layer.clips.push(newNoteClip(draft, start, Math.max(0.001, length), notes.map(fitted)));
  },
});

function notesOf(draft: Project, { sound, clip: id }: NoteClip): { clip: Clip; notes: PlayedNote[] } {
  const { clip, content } = unlockedClip(draft, soundOf(draft, sound), id);
  if (!clip.notes) throw new EditError(`“${content.name}” is a recording and has no notes.`);
  return { clip, notes: clip.notes };
}

const counted = (count: number): string => (count === 1 ? 'note' : `${count} notes`);

export const addNotes = defineEdit<NoteClip & { notes: readonly NewNote[] }>({
  label: ({ notes }) => `Add ${counted(notes.length)}`,
  apply: (draft, { notes: asked, ...at }) => {
    const { clip, notes } = notesOf(draft, at);
    if (notes.length + asked.length > mostNotes) throw new EditError(`A clip has ${mostNotes} notes at most.`);
    const added = asked.map(fitted);
    notes.push(...added.map((note) => ({ ...note, id: takeId(draft, 'note') })));
    hold(clip, added);
    notes.sort(byStart);
  },
});

/** A note that was played along with the sound, where it was heard on the time axis. */
export interface RecordedNote {
  readonly start: Seconds;
  readonly end: Seconds;
  readonly pitch: Semitones;
  readonly strength: Unit;
}

/**
 * Keeps notes that were played on a layer: in the clips that they begin in, on top of what is there, so that they are heard as they were played; those
 * that begin beside all clips, or in one that is locked, in a new clip around them.
 */
export const recordNotes = defineEdit<LayerArguments & { notes: readonly RecordedNote[] }>({
  label: ({ notes }) => `Record ${counted(notes.length)}`,
  apply: (draft, { notes, ...args }) => {
    const { layer } = madeLayerOf(draft, args);
    const beside: RecordedNote[] = [];
    for (const note of notes) {
      const clip = layer.clips.find((each) => !each.locked && !each.loop && note.start >= each.start && note.start < clipEnd(each));
      if (!clip?.notes) {
        beside.push(note);
        continue;
      }
      if (clip.notes.length >= mostNotes) throw new EditError(`A clip has ${mostNotes} notes at most.`);
      const ends = [axisToSource(clip, note.start), axisToSource(clip, note.end)];
      const added = fitted({
        start: Math.min(...ends),
        length: Math.abs(ends[1]! - ends[0]!),
        pitch: note.pitch - clipInterval(clip, contentAtTime(clip, note.start - clip.start)),
        strength: note.strength,
      });
      clip.notes.push({ ...added, id: takeId(draft, 'note') });
      if (!clip.reversed) hold(clip, [added]);
      clip.notes.sort(byStart);
    }
    if (beside.length === 0) return;
    assertRoom(layer, 1);
    if (beside.length > mostNotes) throw new EditError(`A clip has ${mostNotes} notes at most.`);
    const start = Math.min(...beside.map((note) => note.start));
    const length = Math.max(...beside.map((note) => note.end)) - start;
    const own = beside.map((note) =>
      fitted({ start: note.start - start, length: note.end - note.start, pitch: note.pitch, strength: note.strength }),
    );
    layer.clips.push(newNoteClip(draft, start, Math.max(0.001, length), own));
  },
});

/** Moves notes, makes them longer or stronger; each is named by its id. */
export const changeNotes = defineEdit<NoteClip & { changes: Readonly<Record<string, Partial<NewNote>>> }>({
  label: ({ changes }) => `Change ${counted(Object.keys(changes).length)}`,
  apply: (draft, { changes, ...at }) => {
    const { clip, notes } = notesOf(draft, at);
    for (const note of notes) {
      const change = changes[note.id];
      if (change) Object.assign(note, fitted({ ...note, ...change }));
    }
    hold(
      clip,
      notes.filter(({ id }) => id in changes),
    );
    notes.sort(byStart);
  },
});

export const removeNotes = defineEdit<NoteClip & { notes: readonly string[] }>({
  label: ({ notes }) => `Delete ${counted(notes.length)}`,
  apply: (draft, { notes: gone, ...at }) => {
    const { clip, notes } = notesOf(draft, at);
    clip.notes = notes.filter(({ id }) => !gone.includes(id));
  },
});

function byStart(a: PlayedNote, b: PlayedNote): number {
  return a.start - b.start || a.pitch - b.pitch;
}

function fitted<N extends NewNote>(note: N): N {
  const within = (value: number, least: number, most: number): number =>
    Math.max(least, Math.min(most, Number.isFinite(value) ? value : least));
  return {
    ...note,
    start: within(note.start, 0, 86_400),
    length: within(note.length, 0, 86_400),
    pitch: within(note.pitch, -24, 144),
    strength: within(note.strength, 0, 1),
  };
}

/** A clip becomes long enough to play what was put behind its end. */
function hold(clip: Clip, notes: readonly NewNote[]): void {
  if (clip.loop) return;
  const end = notes.reduce((last, { start, length }) => Math.max(last, start + length), 0);
  clip.length = Math.min(86_400, Math.max(clip.length, end - clip.offset));
}
