import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal, viewChild } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Clip, Layer, NewNote, Stretch } from '@tangled-choir/core';
import { axisToSource, clipEnd, heardNotes, nearestInScale, noteLength, noteName, sourceToAxis } from '@tangled-choir/core';
import { WorkbenchStore } from '../../state/workbench.store';
import { followPointer } from '../../ui/follow-pointer';
import { newGesture } from '../../ui/value-field';
import { TimeDisplay } from '../timeline/time-display';
import { TimelineScale } from '../timeline/timeline-scale';
import type { Chord, FoundNote } from './note-commands';
import { chords, NoteCommands } from './note-commands';

/** Fewer semitones than these are never shown. */
const leastRange = 24;
/** Semitones above and below the notes that are there. */
const margin = 5;
/** The part of a note at its end that makes it longer, in pixels; of a short note, a third. */
const endReach = 7;
const newStrength = 0.8;

/** The notes of a made layer, pitch by time: double click adds one, drags move them, their right ends make them longer, Alt and up or down makes them stronger. */
@Component({
  selector: 'tc-note-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, MatMenuModule, MatTooltipModule],
  templateUrl: './note-field.html',
  styleUrl: './note-field.scss',
})
export class NoteField {
  /** The layer as it was when this was last drawn. */
  readonly drawn = input.required<Layer>();
  readonly seconds = input.required<number>();
  /** In pixels. */
  readonly height = input.required<number>();
  /** The stretch of time in view. */
  readonly shown = input.required<Stretch>();
  readonly snap = input.required<(time: number) => number>();
  protected readonly commands = inject(NoteCommands);
  private readonly workbench = inject(WorkbenchStore);
  private readonly scale = inject(TimelineScale);
  private readonly display = inject(TimeDisplay);
  private readonly plane = viewChild.required<ElementRef<HTMLElement>>('plane');
  protected readonly chords = chords;

  /** The layer as the document has it now. */
  protected readonly layer = computed(() => this.workbench.sound()?.layers.find(({ id }) => id === this.drawn().id) ?? this.drawn());
  private readonly notes = computed((): FoundNote[] =>
    this.layer().clips.flatMap((clip) => (clip.notes ?? []).map((note) => ({ clip, note }))),
  );
  private readonly chosenIds = signal<ReadonlySet<string>>(new Set());
  protected readonly chosen = computed(() => this.notes().filter(({ note }) => this.chosenIds().has(note.id)));
  /** While notes are dragged, the rows stay where they are. */
  private readonly held = signal<{ readonly low: number; readonly high: number } | undefined>(undefined);
  protected readonly range = computed(() => {
    const held = this.held();
    if (held) return held;
    const pitches = this.notes().map(({ note }) => note.pitch);
    const low = Math.floor(Math.min(60, ...pitches));
    const high = Math.ceil(Math.max(pitches.length > 0 ? -24 : 72, ...pitches));
    const lowest = pitches.length > 0 ? Math.floor(Math.min(...pitches)) : low;
    const missing = Math.max(0, leastRange - (high - lowest + 2 * margin));
    return { low: lowest - margin - Math.floor(missing / 2), high: high + margin + Math.ceil(missing / 2) };
  });
  protected readonly rowHeight = computed(() => this.height() / (this.range().high - this.range().low + 1));
  protected readonly width = computed(() => this.seconds() * this.scale.pixelsPerSecond());

  /** Rows of the notes outside the scale that the sound is in, or of the black keys. */
  protected readonly darkRows = computed(() => {
    const key = this.workbench.sound()?.key ?? { root: 0, kind: 'major' as const };
    const { low, high } = this.range();
    const rows: number[] = [];
    for (let pitch = low; pitch <= high; pitch++) if (nearestInScale(key, pitch) !== pitch) rows.push(this.topOf(pitch));
    return rows;
  });
  /** Every octave is named. */
  protected readonly names = computed(() => {
    const { low, high } = this.range();
    const root = this.workbench.sound()?.key?.root ?? 0;
    return Array.from({ length: high - low + 1 }, (_, i) => low + i)
      .filter((pitch) => (((pitch - root) % 12) + 12) % 12 === 0)
      .map((pitch) => ({ top: this.topOf(pitch), name: noteName(pitch) }));
  });
  protected readonly clips = computed(() => {
    const pixels = this.scale.pixelsPerSecond();
    return this.layer().clips.map((clip) => ({ id: clip.id, left: clip.start * pixels, width: (clipEnd(clip) - clip.start) * pixels }));
  });
  protected readonly bars = computed(() => {
    const pixels = this.scale.pixelsPerSecond();
    const { from, to } = this.shown();
    return this.notes().flatMap((found) => {
      const { clip, note } = found;
      const start = sourceToAxis(clip, note.start);
      const end = sourceToAxis(clip, note.start + note.length);
      if (end < from || start > to) return [];
      const outside = start < clip.start - 1e-6 || start >= clipEnd(clip) - 1e-9;
      return [
        {
          found,
          left: start * pixels,
          width: Math.max(3, (end - start) * pixels),
          top: this.topOf(note.pitch),
          outside,
          chosen: this.chosenIds().has(note.id),
          label: `${noteName(note.pitch)} at ${start.toFixed(3)} s, ${(end - start).toFixed(3)} s long, strength ${Math.round(note.strength * 100)} %`,
        },
      ];
    });
  });
  protected readonly told = computed(() => {
    const { length } = this.chosen();
    if (length === 0) return `${this.notes().length} notes`;
    if (length > 1) return `${length} of ${this.notes().length} notes`;
    const { clip, note } = this.chosen()[0]!;
    const cents = Math.round((note.pitch - Math.round(note.pitch)) * 100);
    const off = cents === 0 ? '' : ` ${cents > 0 ? '+' : '−'}${Math.abs(cents)} ct`;
    return `${noteName(note.pitch)}${off} · ${sourceToAxis(clip, note.start).toFixed(3)} s · ${Math.round(note.strength * 100)} %`;
  });

  private topOf(pitch: number): number {
    return (this.range().high - pitch) * this.rowHeight();
  }

  private pitchAt(clientY: number): number {
    const box = this.plane().nativeElement.getBoundingClientRect();
    return this.range().high - Math.floor((clientY - box.top) / this.rowHeight());
  }

  private timeAt(clientX: number): number {
    const box = this.plane().nativeElement.getBoundingClientRect();
    return Math.max(0, (clientX - box.left) / this.scale.pixelsPerSecond());
  }

  /** A double click puts a note where there is none, as long as a line of the tempo grid is from the next. */
  protected addAt(event: MouseEvent): void {
    const time = this.snap()(this.timeAt(event.clientX));
    const note = { pitch: this.pitchAt(event.clientY), length: this.usualLength(), strength: newStrength };
    const clip = this.clipAt(time);
    const before = new Set(this.notes().map((each) => each.note.id));
    if (clip) this.commands.add(clip, { ...note, start: axisToSource(clip, time) });
    else this.commands.addClip(this.layer(), time, note.length, { ...note, start: 0 });
    this.chosenIds.set(new Set(this.notes().flatMap((each) => (before.has(each.note.id) ? [] : [each.note.id]))));
    void this.commands.hear(this.layer(), note);
  }

  private clipAt(time: number): Clip | undefined {
    return this.layer().clips.find((clip) => time >= clip.start - 1e-9 && time < clipEnd(clip));
  }

  private usualLength(): number {
    const { tempo } = this.workbench.sound()!;
    return noteLength(tempo, this.display.division());
  }

  protected press(event: PointerEvent, found: FoundNote): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    const { id } = found.note;
    if (event.currentTarget instanceof HTMLElement) event.currentTarget.focus();
    if (event.shiftKey) {
      const ids = new Set(this.chosenIds());
      if (!ids.delete(id)) ids.add(id);
      this.chosenIds.set(ids);
      return;
    }
    if (!this.chosenIds().has(id)) this.chosenIds.set(new Set([id]));
    void this.commands.hear(this.layer(), found.note);
    if (event.altKey) this.dragStrength(event);
    else if (this.isAtEnd(event, found)) this.dragEnd(event, found);
    else this.dragNotes(event, found);
  }

  private isAtEnd({ clientX }: PointerEvent, { clip, note }: FoundNote): boolean {
    const pixels = this.scale.pixelsPerSecond();
    const end = sourceToAxis(clip, note.start + note.length);
    const width = (end - sourceToAxis(clip, note.start)) * pixels;
    return (end - this.timeAt(clientX)) * pixels < Math.min(endReach, width / 3);
  }

  /** All that is chosen goes along; the one in hand is what snaps. */
  private dragNotes(press: PointerEvent, held: FoundNote): void {
    const gesture = newGesture();
    const moved = this.chosen();
    const grip = sourceToAxis(held.clip, held.note.start);
    const pressed = { time: this.timeAt(press.clientX), pitch: this.pitchAt(press.clientY) };
    let heard = 0;
    this.held.set(this.range());
    followPointer(
      press,
      (event) => {
        const wanted = grip + this.timeAt(event.clientX) - pressed.time;
        const by = (event.altKey ? wanted : this.snap()(Math.max(0, wanted))) - grip;
        const up = this.pitchAt(event.clientY) - pressed.pitch;
        if (up !== heard) void this.commands.hear(this.layer(), { ...held.note, pitch: held.note.pitch + (heard = up) });
        this.commands.change(moved, ({ clip, note }) => ({ start: this.later(clip, note.start, by), pitch: note.pitch + up }), gesture);
      },
      () => this.held.set(undefined),
    );
  }

  private dragEnd(press: PointerEvent, held: FoundNote): void {
    const gesture = newGesture();
    const moved = this.chosen();
    const end = held.note.start + held.note.length;
    const grip = sourceToAxis(held.clip, end);
    const pressed = this.timeAt(press.clientX);
    followPointer(press, (event) => {
      const wanted = grip + this.timeAt(event.clientX) - pressed;
      const by = (event.altKey ? wanted : this.snap()(wanted)) - grip;
      this.commands.change(
        moved,
        ({ clip, note }) => ({ length: Math.max(0.001, this.later(clip, note.start + note.length, by) - note.start) }),
        gesture,
      );
    });
  }

  private dragStrength(press: PointerEvent): void {
    const gesture = newGesture();
    const moved = this.chosen();
    followPointer(press, (event) => {
      const by = (press.clientY - event.clientY) / 120;
      this.commands.change(moved, ({ note }) => ({ strength: Math.max(0, Math.min(1, note.strength + by)) }), gesture);
    });
  }

  /** A moment of a clip's own time, moved along the time axis. */
  private later(clip: Clip, at: number, by: number): number {
    return Math.max(0, axisToSource(clip, sourceToAxis(clip, at) + by));
  }

  /** A drag over the empty part chooses every note that it touches. */
  protected chooseBox(press: PointerEvent): void {
    if (press.button !== 0) return;
    press.stopPropagation();
    this.plane().nativeElement.focus();
    const keep = press.shiftKey ? [...this.chosenIds()] : [];
    this.chosenIds.set(new Set(keep));
    const from = { time: this.timeAt(press.clientX), pitch: this.pitchAt(press.clientY) };
    followPointer(press, (event) => {
      const to = { time: this.timeAt(event.clientX), pitch: this.pitchAt(event.clientY) };
      const touched = this.notes().filter(({ clip, note }) => {
        const start = sourceToAxis(clip, note.start);
        const end = sourceToAxis(clip, note.start + note.length);
        const within = note.pitch >= Math.min(from.pitch, to.pitch) - 0.5 && note.pitch <= Math.max(from.pitch, to.pitch) + 0.5;
        return within && start < Math.max(from.time, to.time) && end > Math.min(from.time, to.time);
      });
      this.chosenIds.set(new Set([...keep, ...touched.map(({ note }) => note.id)]));
    });
  }

  protected focusNote(found: FoundNote): void {
    if (!this.chosenIds().has(found.note.id)) this.chosenIds.set(new Set([found.note.id]));
  }

  protected key(event: KeyboardEvent): void {
    const chosen = this.chosen();
    const key = event.key.toLowerCase();
    if (event.ctrlKey && key === 'a') this.chosenIds.set(new Set(this.notes().map(({ note }) => note.id)));
    else if (event.key === 'Escape' && chosen.length > 0) this.chosenIds.set(new Set());
    else if (chosen.length === 0 || event.ctrlKey) return;
    else if (event.key === 'Delete' || event.key === 'Backspace') this.commands.remove(chosen, newGesture());
    else if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown'))
      this.strengthen(event.key === 'ArrowUp' ? 0.05 : -0.05);
    else if (event.key === 'ArrowUp' || event.key === 'ArrowDown')
      this.raise((event.key === 'ArrowUp' ? 1 : -1) * (event.shiftKey ? 12 : 1));
    else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight')
      this.nudge((event.key === 'ArrowRight' ? 1 : -1) * (event.shiftKey ? 0.001 : 0.01));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private raise(semitones: number): void {
    this.commands.change(this.chosen(), ({ note }) => ({ pitch: note.pitch + semitones }));
    const [first] = this.chosen();
    if (first) void this.commands.hear(this.layer(), first.note);
  }

  private strengthen(by: number): void {
    this.commands.change(this.chosen(), ({ note }) => ({ strength: Math.max(0, Math.min(1, note.strength + by)) }));
  }

  private nudge(by: number): void {
    this.commands.change(this.chosen(), ({ clip, note }) => ({ start: this.later(clip, note.start, by) }));
  }

  protected addChord(chord: Chord): void {
    const sound = this.workbench.sound();
    const notes = this.chosen().length > 0 ? this.chosen() : this.notes();
    if (sound && notes.length > 0) this.commands.addChord(sound, notes, chord, newGesture());
  }

  protected quantise(): void {
    const { tempo } = this.workbench.sound()!;
    const step = noteLength(tempo, this.display.division());
    const nearest = (time: number): number => tempo.offset + Math.round((time - tempo.offset) / step) * step;
    void this.commands.quantise(this.chosen().length > 0 ? this.chosen() : this.notes(), nearest, newGesture());
  }

  protected importMidi(files: FileList | null): void {
    const file = files?.item(0);
    if (file) void this.commands.importMidi(this.layer(), file);
  }

  protected exportMidi(): void {
    const notes = this.layer().clips.flatMap((clip) =>
      heardNotes(this.workbench.asHeard(clip)).map(({ start, end, pitch, strength }): NewNote => ({
        start,
        length: end - start,
        pitch,
        strength,
      })),
    );
    const sound = this.workbench.sound();
    if (sound) this.commands.exportMidi(this.layer(), notes, sound);
  }
}
