import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal, viewChild } from '@angular/core';
import { MatMenuModule, MatMenuTrigger } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Division, Mark, MarkColour, Stage } from '@tangled-choir/core';
import { gridLines, markColours, noteLength, stages } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { Playback } from '../../state/playback.store';
import { WorkbenchStore } from '../../state/workbench.store';
import { followPointer } from '../../ui/follow-pointer';
import { newGesture } from '../../ui/value-field';
import { snapTargets, snapTime } from './snap';
import type { Stretch } from './time-display';
import { ticksFor, TimeDisplay } from './time-display';
import { TimelineScale } from './timeline-scale';

const dragStart = 4;
/** Pixels between lines that can be told from each other. */
const leastSpacing = 6;

/** The time axis: ticks in the chosen unit, the tempo grid, what loops, and the marks. */
@Component({
  selector: 'tc-time-ruler',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatMenuModule, MatTooltipModule],
  templateUrl: './time-ruler.html',
  styleUrl: './time-ruler.scss',
  host: { '(pointerdown)': 'press($event)', '(dblclick)': 'addMark($event)' },
})
export class TimeRuler {
  /** How many seconds the axis shows. */
  readonly seconds = input.required<number>();
  /** Which part of it can be seen, or nearly: only that is drawn. */
  readonly seen = input.required<Stretch>();
  private readonly drawn = computed(
    (): Stretch => ({ from: Math.max(0, this.seen().from), to: Math.min(this.seconds(), this.seen().to) }),
    { equal: (a, b) => a.from === b.from && a.to === b.to },
  );
  /** Where on the axis a place on the screen is. */
  readonly timeAt = input.required<(clientX: number) => number>();
  protected readonly document = inject(DocumentStore);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly playback = inject(Playback);
  protected readonly display = inject(TimeDisplay);
  protected readonly scale = inject(TimelineScale);
  private readonly menu = viewChild.required(MatMenuTrigger);
  private readonly anchor = viewChild.required<ElementRef<HTMLElement>>('anchor');

  protected readonly stages = stages;
  protected readonly colours = markColours;
  protected readonly sound = this.workbench.sound;
  protected readonly loopDraft = signal<{ from: number; to: number } | undefined>(undefined);
  protected readonly renaming = signal<string | undefined>(undefined);
  protected readonly menuMark = signal<Mark | undefined>(undefined);
  protected readonly loop = computed(() => this.loopDraft() ?? this.playback.loopRange());
  protected readonly ticks = computed(() => {
    const sound = this.sound();
    const project = this.document.project();
    if (!sound || !project) return [];
    const axis = { mode: this.display.mode(), tempo: sound.tempo, clock: sound.clock, sampleRate: project.sampleRate };
    return ticksFor(axis, this.drawn(), this.scale.pixelsPerSecond());
  });
  /** Lines of the tempo grid, when it is in use and its lines are far enough apart to be told from each other. */
  protected readonly beats = computed(() => {
    const sound = this.sound();
    if (!sound || (this.display.mode() !== 'beats' && !this.display.snap().beats)) return [];
    const { from, to } = this.drawn();
    const spacing = (division: Division): number => noteLength(sound.tempo, division) * this.scale.pixelsPerSecond();
    if (spacing(this.display.division()) >= leastSpacing) return gridLines(sound.tempo, this.display.division(), from, to);
    return spacing('1/4') * sound.tempo.beats < leastSpacing ? [] : gridLines(sound.tempo, '1/4', from, to).filter(({ bar }) => bar);
  });

  /** A press moves the playhead; a drag chooses what loops. */
  protected press(event: PointerEvent): void {
    if (event.button !== 0) return;
    const start = this.timeAt()(event.clientX);
    const follow = (moved: PointerEvent): void => {
      const now = this.timeAt()(moved.clientX);
      if (Math.abs(moved.clientX - event.clientX) > dragStart) this.loopDraft.set({ from: Math.min(start, now), to: Math.max(start, now) });
    };
    followPointer(event, follow, (givenUp) => {
      const draft = this.loopDraft();
      this.loopDraft.set(undefined);
      if (givenUp) return;
      if (draft) {
        this.playback.setLoopRange(draft);
        this.workbench.setLooping(true);
      } else this.playback.seek(start);
    });
  }

  protected addMark(event: MouseEvent): void {
    const sound = this.sound();
    if (!sound) return;
    this.document.edit('addMarks', {
      sound: sound.id,
      marks: [{ name: `Mark ${sound.marks.length + 1}`, time: this.timeAt()(event.clientX) }],
    });
  }

  protected dragMark(event: PointerEvent, mark: Mark): void {
    event.stopPropagation();
    const sound = this.sound();
    if (event.button !== 0 || !sound) return;
    const gesture = newGesture();
    const kinds = { ...this.display.snap(), marks: false };
    const targets = snapTargets({
      sound,
      playhead: this.playback.startPosition(),
      kinds,
      division: this.display.division(),
      except: new Set(),
    });
    const grabbed = this.timeAt()(event.clientX) - mark.time;
    let moving = false;
    followPointer(
      event,
      (moved) => {
        moving ||= Math.abs(moved.clientX - event.clientX) > dragStart;
        if (!moving) return;
        const reach = moved.altKey ? 0 : 7 / this.scale.pixelsPerSecond();
        const time = snapTime(Math.max(0, this.timeAt()(moved.clientX) - grabbed), targets, reach);
        this.document.edit('setMark', { sound: sound.id, mark: mark.id, change: { time } }, gesture);
      },
      (givenUp) => {
        if (!moving && !givenUp) this.playback.seek(mark.time);
      },
    );
  }

  protected openMenu(event: Event, mark: Mark): void {
    event.preventDefault();
    event.stopPropagation();
    const flag = event.currentTarget;
    if (!(flag instanceof HTMLElement)) return;
    this.menuMark.set(mark);
    const { style } = this.anchor().nativeElement;
    style.left = `${flag.offsetLeft}px`;
    this.menu().openMenu();
  }

  protected keyOnMark(event: KeyboardEvent, mark: Mark): void {
    if (event.key === 'Delete' || event.key === 'Backspace') this.remove(mark);
    else if (event.key === 'F2') this.renaming.set(mark.id);
    else if (event.key === 'ContextMenu') this.openMenu(event, mark);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected rename(mark: Mark, name: string): void {
    this.renaming.set(undefined);
    if (name.trim() !== '' && name !== mark.name) this.change(mark, { name });
  }

  protected keyInName(event: KeyboardEvent, mark: Mark, name: string): void {
    event.stopPropagation();
    if (event.key === 'Enter') this.rename(mark, name);
    if (event.key === 'Escape') this.renaming.set(undefined);
  }

  protected setStage(mark: Mark, stage: Stage | undefined): void {
    this.change(mark, { stage });
  }

  protected setColour(mark: Mark, colour: MarkColour | undefined): void {
    this.change(mark, { colour });
  }

  protected remove(mark: Mark): void {
    this.document.edit('removeMark', { sound: this.sound()!.id, mark: mark.id });
  }

  protected beginRename(mark: Mark): void {
    this.renaming.set(mark.id);
    setTimeout(() => {
      const field = this.anchor().nativeElement.parentElement?.querySelector<HTMLInputElement>('input.rename');
      field?.focus();
      field?.select();
    });
  }

  private change(mark: Mark, change: { name?: string; stage?: Stage | undefined; colour?: MarkColour | undefined }): void {
    this.document.edit('setMark', { sound: this.sound()!.id, mark: mark.id, change });
  }
}
