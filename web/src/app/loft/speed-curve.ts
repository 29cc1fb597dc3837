import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, viewChild } from '@angular/core';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Clip, SpeedPoint } from '@tangled-choir/core';
import { clipsOf, contentPlace } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { DocumentStore } from '../state/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import { followPointer } from '../ui/follow-pointer';
import { signed } from '../ui/quantity';
import { newGesture } from '../ui/value-field';
import { Waveform } from '../ui/waveform';

/** A point of the curve where it is shown: seconds of content in the order of playing. */
interface ShownPoint {
  readonly index: number;
  readonly into: number;
  readonly semitones: number;
}

const lowest = -36;
const highest = 36;
const fineFactor = 0.1;
/** Two points at one place would leave the speed there undecided. */
const leastDistance = 0.001;

const shapes = {
  even: [
    [0, 0],
    [1, 0],
  ],
  'run up': [
    [0, -24],
    [0.7, 0],
  ],
  'run down': [
    [0.3, 0],
    [1, -36],
  ],
} as const;

/** The speed curve of a clip over its content: double click adds a point, drag or arrow keys move it, Delete takes it away. */
@Component({
  selector: 'tc-speed-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatTooltipModule, Waveform],
  templateUrl: './speed-curve.html',
  styleUrl: './speed-curve.scss',
})
export class SpeedCurve {
  readonly clip = input.required<Clip>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly library = inject(AudioLibrary);
  private readonly graph = viewChild<ElementRef<HTMLElement>>('graph');

  private readonly audio = computed(() => this.document.project()?.sources.find((source) => source.id === this.clip().source)?.audio ?? '');
  protected readonly overview = computed(() => this.library.overview(this.audio()));
  protected readonly places = computed(() => {
    const clip = this.clip();
    const rate = this.document.project()?.sampleRate ?? 48_000;
    return (share: number): number => contentPlace(clip, share * clip.length) * rate;
  });
  protected readonly points = computed((): ShownPoint[] =>
    (this.clip().speedCurve ?? []).map(({ at, semitones }, index) => ({ index, into: this.intoOf(at), semitones })),
  );
  /** How far up and down the graph shows, in semitones. */
  protected readonly reach = computed(() => {
    const most = Math.max(0, ...this.points().map(({ semitones }) => Math.abs(semitones)));
    return most > 24 ? 36 : most > 12 ? 24 : 12;
  });
  protected readonly path = computed(() => {
    const points = [...this.points()].sort((a, b) => a.into - b.into);
    const corners = [
      { into: 0, semitones: points[0]?.semitones ?? 0 },
      ...points,
      { into: this.clip().length, semitones: points.at(-1)?.semitones ?? 0 },
    ];
    const first = points[0]?.into ?? 0;
    const last = points.at(-1)?.into ?? 0;
    return corners
      .filter((_, i) => (i === 0 ? first > 0 : i < corners.length - 1 || last < this.clip().length))
      .map(({ into, semitones }, i) => `${i === 0 ? 'M' : 'L'}${this.placeX(into).toFixed(3)} ${this.placeY(semitones).toFixed(2)}`)
      .join('');
  });

  protected placeX(into: number): number {
    return (into / this.clip().length) * 100;
  }

  protected placeY(semitones: number): number {
    return 50 - (semitones / this.reach()) * 46;
  }

  protected textOf({ into, semitones }: ShownPoint): string {
    return `${signed(semitones, 1)} st at ${into.toFixed(3)} s`;
  }

  protected setShape(name: keyof typeof shapes): void {
    this.set(shapes[name].map(([share, semitones]) => ({ at: this.atOf(share * this.clip().length), semitones })));
  }

  protected set(points: readonly SpeedPoint[], gesture?: string): void {
    this.document.edit('setSpeedCurve', { sound: this.workbench.sound()!.id, clip: this.clip().id, points }, gesture);
  }

  protected addAt(event: MouseEvent): void {
    const { into, semitones } = this.placeOf(event);
    this.set([...this.stored(), { at: this.atOf(into), semitones }]);
  }

  protected remove({ index }: ShownPoint): void {
    this.set(this.stored().filter((_, i) => i !== index));
  }

  /** Drags a point between its neighbours; Shift moves it finely. */
  protected press(event: PointerEvent, point: ShownPoint): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    (event.currentTarget as HTMLElement).focus();
    const gesture = newGesture();
    const box = this.graph()!.nativeElement.getBoundingClientRect();
    const perPixel = { into: this.clip().length / box.width, semitones: this.reach() / (box.height * 0.46) };
    let { into, semitones } = point;
    let before = event;
    followPointer(event, (moved) => {
      const factor = moved.shiftKey ? fineFactor : 1;
      into += (moved.clientX - before.clientX) * perPixel.into * factor;
      semitones -= (moved.clientY - before.clientY) * perPixel.semitones * factor;
      before = moved;
      this.move(point.index, into, semitones, gesture);
    });
  }

  protected key(event: KeyboardEvent, point: ShownPoint): void {
    const step = event.shiftKey ? fineFactor : 1;
    const moves: Readonly<Record<string, readonly [into: number, semitones: number]>> = {
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
      ArrowLeft: [-0.01 * step, 0],
      ArrowRight: [0.01 * step, 0],
    };
    const by = moves[event.key];
    const { at, semitones } = this.stored()[point.index]!;
    if (by) this.move(point.index, this.intoOf(at) + by[0], semitones + by[1]);
    else if (event.key === 'Delete' || event.key === 'Backspace') this.remove(point);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private move(index: number, into: number, semitones: number, gesture?: string): void {
    const points = [...this.stored()];
    const wanted = this.atOf(Math.max(0, Math.min(this.clip().length, into)));
    const after = (points[index - 1]?.at ?? -Infinity) + leastDistance;
    const before = (points[index + 1]?.at ?? Infinity) - leastDistance;
    points[index] = {
      at: Math.max(after, Math.min(before, wanted)),
      semitones: Math.max(lowest, Math.min(highest, semitones)),
    };
    this.set(points, gesture);
  }

  /** The points of the document: two keys in a row come faster than what is shown. */
  private stored(): readonly SpeedPoint[] {
    return clipsOf(this.workbench.sound()!, new Set([this.clip().id]))[0]?.clip.speedCurve ?? [];
  }

  private placeOf(event: MouseEvent): { into: number; semitones: number } {
    const box = this.graph()!.nativeElement.getBoundingClientRect();
    const share = Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
    const semitones = ((50 - ((event.clientY - box.top) / box.height) * 100) / 46) * this.reach();
    return { into: share * this.clip().length, semitones: Math.max(lowest, Math.min(highest, semitones)) };
  }

  private intoOf(at: number): number {
    const { offset, length, reversed } = this.clip();
    return reversed ? offset + length - at : at - offset;
  }

  private atOf(into: number): number {
    const { offset, length, reversed } = this.clip();
    return reversed ? offset + length - into : offset + into;
  }
}
