import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, viewChild } from '@angular/core';
import type { Tide } from '@tangled-choir/core';
import { moverCourse, tideSeconds } from '@tangled-choir/core';
import { DocumentStore } from '../../state/document.store';
import { Playback } from '../../state/playback';
import { WorkbenchStore } from '../../state/workbench.store';
import { followPointer } from '../../ui/follow-pointer';
import { signed } from '../../ui/quantity';
import { newGesture } from '../../ui/value-field';

type Point = Tide['points'][number];

const curvePoints = 200;
const fineFactor = 0.1;

/** One round of a tide: double click adds a point, drag or arrow keys move it, Delete takes it away. */
@Component({
  selector: 'tc-tide-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div #graph class="graph" role="group" [attr.aria-label]="'Curve of ' + tide().name" (dblclick)="add($event)">
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
        <line x1="0" x2="100" y1="50" y2="50" />
        <path [attr.d]="path()" />
        <line class="now" [attr.x1]="now()" [attr.x2]="now()" y1="0" y2="100" />
      </svg>
      @for (point of tide().points; track $index) {
        <button
          class="point"
          role="slider"
          [attr.aria-label]="'Point at ' + (point.at * 100).toFixed(0) + ' % of the round'"
          aria-valuemin="-1"
          aria-valuemax="1"
          [attr.aria-valuenow]="point.value"
          [attr.aria-valuetext]="text(point)"
          [title]="text(point) + '. Double click removes it.'"
          [style.left.%]="point.at * 100"
          [style.top.%]="placeY(point.value)"
          (pointerdown)="press($event, $index)"
          (dblclick)="remove($index); $event.stopPropagation()"
          (keydown)="key($event, $index)"
        ></button>
      }
    </div>
  `,
  styles: `
    .graph {
      position: relative;
      height: 100%;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--background);
      touch-action: none;
    }
    svg {
      width: 100%;
      height: 100%;
    }
    line {
      stroke: var(--line);
      vector-effect: non-scaling-stroke;
    }
    .now {
      stroke: var(--text);
    }
    path {
      fill: none;
      stroke: var(--live);
      stroke-width: 1.5;
      vector-effect: non-scaling-stroke;
    }
    .point {
      position: absolute;
      width: 12px;
      height: 12px;
      margin: -6px 0 0 -6px;
      padding: 0;
      border: 2px solid var(--live);
      border-radius: 50%;
      background: var(--background);
      cursor: grab;
    }
    .point:hover,
    .point:focus-visible {
      background: var(--live);
    }
  `,
})
export class TideCurve {
  readonly tide = input.required<Tide>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  private readonly playback = inject(Playback);
  private readonly graph = viewChild.required<ElementRef<HTMLElement>>('graph');

  /** One round as it is heard, smoothing included. */
  protected readonly path = computed(() => {
    const course = moverCourse({ ...this.tide(), frozen: false, phase: 0, length: 1, unit: 'seconds' }, 60);
    return Array.from({ length: curvePoints + 1 }, (_, i) => {
      const place = Math.min(i / curvePoints, 0.9999);
      return `${i === 0 ? 'M' : 'L'}${(place * 100).toFixed(2)} ${this.placeY(course.at(place)).toFixed(2)}`;
    }).join('');
  });
  protected readonly now = computed(() => {
    const tide = this.tide();
    const seconds = tideSeconds(tide, this.workbench.sound()?.tempo.bpm ?? 120);
    const round = (tide.frozen ? 0 : this.playback.playhead() / seconds) + tide.phase;
    return (round - Math.floor(round)) * 100;
  });

  protected placeY(value: number): number {
    return 50 - value * 44;
  }

  protected text({ at, value }: Point): string {
    return `${signed(value * 100, 0)} % at ${(at * 100).toFixed(0)} % of the round`;
  }

  protected add(event: MouseEvent): void {
    const box = this.graph().nativeElement.getBoundingClientRect();
    const at = (event.clientX - box.left) / box.width;
    const value = (50 - ((event.clientY - box.top) / box.height) * 100) / 44;
    this.set([...this.stored(), { at, value, bend: 0 }], 'Draw');
  }

  protected remove(index: number): void {
    if (this.stored().length > 1)
      this.set(
        this.stored().filter((_, i) => i !== index),
        'Draw',
      );
  }

  protected press(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (event.currentTarget instanceof HTMLElement) event.currentTarget.focus();
    const gesture = newGesture();
    const box = this.graph().nativeElement.getBoundingClientRect();
    const start = this.stored()[index]!;
    let { at, value } = start;
    let before = event;
    followPointer(event, (moved) => {
      const factor = moved.shiftKey ? fineFactor : 1;
      at += ((moved.clientX - before.clientX) / box.width) * factor;
      value -= ((moved.clientY - before.clientY) / box.height / 0.44) * factor;
      before = moved;
      this.move(index, at, value, gesture);
    });
  }

  protected key(event: KeyboardEvent, index: number): void {
    const step = (event.shiftKey ? fineFactor : 1) * 0.05;
    const moves: Readonly<Record<string, readonly [at: number, value: number]>> = {
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
    };
    const by = moves[event.key];
    const point = this.stored()[index];
    if (by && point) this.move(index, point.at + by[0], point.value + by[1]);
    else if (event.key === 'Delete' || event.key === 'Backspace') this.remove(index);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** A point stays between its neighbours, so that a drag does not change which one it is. */
  private move(index: number, at: number, value: number, gesture?: string): void {
    const points = [...this.stored()];
    const after = points[index - 1]?.at ?? 0;
    const before = points[index + 1]?.at ?? 1;
    points[index] = { ...points[index]!, at: Math.max(after, Math.min(before, at)), value: Math.max(-1, Math.min(1, value)) };
    this.set(points, 'Draw', gesture);
  }

  private stored(): readonly Point[] {
    const mover = this.workbench.sound()?.movers.find(({ id }) => id === this.tide().id);
    return mover?.kind === 'tide' ? mover.points : [];
  }

  private set(points: readonly Point[], action: string, gesture?: string): void {
    const sound = this.workbench.sound();
    if (sound)
      this.document.edit('setMover', { sound: sound.id, mover: this.tide().id, settings: { points: [...points] }, action }, gesture);
  }
}
