import { inject, Injectable } from '@angular/core';
import type { Clip, Layer, MidiBend, NewNote, PlayedNote, Sound } from '@tangled-choir/core';
import { bendAddress, bendCourse, readMidi, safeFileName, stepsInScale, withBends, writeMidiFile } from '@tangled-choir/core';
import { ProjectJobs } from '../../engine/project-jobs';
import { DocumentStore } from '../../state/project/document.store';
import { Notices } from '../../state/notices';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { saveFile } from '../../storage/save-file';
import { AskSettings } from '../../ui/settings-dialog';
import { newGesture } from '../../ui/value-field';

/** How long a note lasts that is only listened to. */
const heardSeconds = 0.4;

/** A note and the clip that it is in. */
export interface FoundNote {
  readonly clip: Clip;
  readonly note: PlayedNote;
}

/** Semitones above a note, or steps of the scale where the sound has one. */
export const chords = [
  { name: 'Fourth', semitones: [5] },
  { name: 'Fifth', semitones: [7] },
  { name: 'Octave', semitones: [12] },
  { name: 'Octave below', semitones: [-12] },
  { name: 'Fourth and fifth', semitones: [5, 7] },
  { name: 'Third of the scale', steps: [2] },
  { name: 'Chord of the scale', steps: [2, 4] },
] as const satisfies readonly { name: string; semitones?: readonly number[]; steps?: readonly number[] }[];
export type Chord = (typeof chords)[number];

/** What the note field does to the notes of a made layer. */
@Injectable()
export class NoteCommands {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(AskSettings);
  private readonly jobs = inject(ProjectJobs);
  /** Rises with every note that is to be heard: only the newest is. */
  private asked = 0;

  /** Adds a note to a clip; returns its id. */
  add(clip: Clip, note: NewNote, gesture?: string): string | undefined {
    const sound = this.workbench.sound();
    if (!sound || !this.document.edit('addNotes', { sound: sound.id, clip: clip.id, notes: [note] }, gesture)) return undefined;
    return newest(this.clipNow(clip.id)?.notes ?? []);
  }

  /** A new clip where there was none, with its first note. */
  addClip(layer: Layer, start: number, length: number, note: NewNote, gesture?: string): void {
    const sound = this.workbench.sound();
    if (sound) this.document.edit('addNoteClip', { sound: sound.id, layer: layer.id, start, length, notes: [note] }, gesture);
  }

  /** Changes notes of several clips; those of one gesture are one undo step. */
  change(notes: readonly FoundNote[], changeOf: (found: FoundNote) => Partial<NewNote>, gesture?: string): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    for (const [clip, found] of byClip(notes)) {
      const changes = Object.fromEntries(found.map((each) => [each.note.id, changeOf(each)]));
      this.document.edit('changeNotes', { sound: sound.id, clip, changes }, gesture);
    }
  }

  remove(notes: readonly FoundNote[], gesture?: string): void {
    const sound = this.workbench.sound();
    if (!sound) return;
    for (const [clip, found] of byClip(notes))
      this.document.edit('removeNotes', { sound: sound.id, clip, notes: found.map(({ note }) => note.id) }, gesture);
  }

  /** Adds the notes of an interval or a chord to those that are chosen. */
  addChord(sound: Sound, notes: readonly FoundNote[], chord: Chord, gesture: string): void {
    const scale = sound.key ?? { root: 0, kind: 'major' as const };
    for (const [clip, found] of byClip(notes)) {
      const added = found.flatMap(({ note: { id: _, ...note } }): NewNote[] =>
        'semitones' in chord
          ? chord.semitones.map((interval) => ({ ...note, pitch: note.pitch + interval }))
          : chord.steps.map((steps) => ({ ...note, pitch: stepsInScale(scale, Math.round(note.pitch), steps) })),
      );
      this.document.edit('addNotes', { sound: sound.id, clip, notes: added }, gesture);
    }
  }

  /** Moves starts towards the lines of the tempo grid, by as much as somebody wants. */
  async quantise(notes: readonly FoundNote[], gridAt: (time: number) => number, gesture: string): Promise<void> {
    const amount = { kind: 'number', label: 'How far', unit: '%', min: 0, max: 1, default: 1, scale: 'linear' } as const;
    const chosen = await this.dialog.ask({
      title: 'Quantise',
      explain: 'Moves the starts of the chosen notes towards the lines of the tempo grid.',
      parameters: { amount },
      action: 'Quantise',
    });
    const share = Number(chosen?.['amount']);
    if (!chosen || !Number.isFinite(share)) return;
    this.change(
      notes,
      ({ clip, note }) => {
        const at = clip.start + note.start - clip.offset;
        return { start: Math.max(0, note.start + (gridAt(at) - at) * share) };
      },
      gesture,
    );
  }

  /** Puts the notes of a MIDI file into a new clip at the playhead, and how its wheel bends them onto the layer's lane. */
  async importMidi(layer: Layer, file: File): Promise<void> {
    const sound = this.workbench.sound();
    if (!sound) return;
    try {
      const { notes, bends } = readMidi(new Uint8Array(await file.arrayBuffer()), file.name);
      if (notes.length === 0) {
        this.notices.error(`${file.name} has no notes.`);
        return;
      }
      const length = Math.max(...notes.map((note) => note.start + note.length), 0.1);
      const start = this.playback.startPosition();
      const gesture = newGesture();
      this.document.edit('addNoteClip', { sound: sound.id, layer: layer.id, start, length, notes }, gesture);
      if (bends.length > 0) this.bend(sound.id, layer.id, { bends, start, length }, gesture);
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }

  /** Lays bends onto the lane of a layer's bend, which is there or is made. */
  private bend(
    sound: string,
    layer: string,
    { bends, start, length }: { readonly bends: readonly MidiBend[]; readonly start: number; readonly length: number },
    gesture: string,
  ): void {
    const address = bendAddress(layer);
    // Not the sound on the screen: somebody may have gone to another while the file was read.
    const soundNow = () => this.document.project()?.sounds.find(({ id }) => id === sound);
    const laneNow = () => soundNow()?.automation.find((lane) => lane.address === address);
    const before = laneNow();
    if (!before) this.document.edit('addAutomation', { sound, address }, gesture);
    const lane = laneNow();
    if (!lane) return;
    this.document.edit('setAutomation', { sound, lane: lane.id, settings: { trim: 0, enabled: true } }, gesture);
    const points = withBends(before, bends, start, length);
    this.document.edit('setAutomationPoints', { sound, lane: lane.id, points, action: 'Bend' }, gesture);
  }

  exportMidi(layer: Layer, notes: readonly NewNote[], sound: Sound): void {
    const from = notes.reduce((first, { start }) => Math.min(first, start), Infinity);
    const to = notes.reduce((last, { start, length }) => Math.max(last, start + length), 0);
    const bends = notes.length > 0 ? bendCourse(sound, layer, { from, to }) : [];
    saveFile(new Blob([Uint8Array.from(writeMidiFile(notes, sound.tempo.bpm, bends))]), `${safeFileName(layer.name)}.mid`, 'audio/midi');
  }

  /** Plays one note by itself, as the patch of a layer has it, while nothing else plays. */
  async hear(layer: Layer, note: Pick<NewNote, 'pitch' | 'strength'>): Promise<void> {
    const name = `Note of ${layer.name}`;
    const other = this.playback.auditioned();
    if (!layer.patch || (this.playback.playing() && other !== name)) return;
    const played = { start: 0, length: heardSeconds, pitch: note.pitch, strength: note.strength };
    const asked = ++this.asked;
    const take = { patch: layer.patch, notes: [played], length: heardSeconds, bpm: this.workbench.sound()?.tempo.bpm ?? 120 };
    // What is heard is only a help: what cannot be heard is no fault.
    const audio = await this.jobs.run('make', take, name, { quiet: true }).catch(() => undefined);
    if (audio && asked === this.asked) this.playback.audition(name, audio);
  }

  private clipNow(id: string): Clip | undefined {
    return this.workbench
      .sound()
      ?.layers.flatMap(({ clips }) => clips)
      .find((clip) => clip.id === id);
  }
}

function byClip(notes: readonly FoundNote[]): Map<string, FoundNote[]> {
  const clips = new Map<string, FoundNote[]>();
  for (const found of notes) clips.set(found.clip.id, [...(clips.get(found.clip.id) ?? []), found]);
  return clips;
}

/** Ids are counted: the newest has the highest number. */
function newest(notes: readonly PlayedNote[]): string | undefined {
  const number = ({ id }: PlayedNote): number => Number(id.split('-').at(-1));
  return notes.reduce<PlayedNote | undefined>((last, note) => (!last || number(note) > number(last) ? note : last), undefined)?.id;
}
