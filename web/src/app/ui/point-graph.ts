import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, inject, Injector, afterNextRender, input, output, viewChild } from '@angular/core';
import { followPointer } from './follow-pointer';
import { newGesture } from './value-field';

/** A point of a drawn curve: where it lies, as shares of the width from the left and of the height from the middle up (-1 to 1). */
export interface GraphPoint {
  readonly x: number;
  readonly y: number;
  readonly label: string;
  readonly text: string;
}

/** A place in the graph. */
export interface GraphPlace {
  readonly x: number;
  readonly y: number;
}

/** A point that was moved, by how much, and the gesture that the move belongs to. */
export interface PointMove {
  readonly index: number;
  readonly byX: number;
  readonly byY: number;
  readonly gesture: string;
}

/** Share of the height between the middle and a value of 1; what is left keeps the handles inside. */
const span = 0.46;
const fineFactor = 0.1;

/** Where a height of the graph lies, in percent from its top. */
export function graphY(y: number): number {
  return 50 - y * span * 100;
}

/**
 * A curve with points to take hold of: double click adds a point, a drag or the arrow keys move it (Shift: finely), Delete or a double
 * click on it takes it away. It draws the curve that it is given, and leaves to its owner what the places mean.
 */
@Component({
  selector: 'tc-point-graph',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div #graph class="graph" role="group" [attr.aria-label]="name()" (dblclick)="added.emit(placeOf($event))">
      <ng-content />
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden="true">
        <line x1="0" x2="100" y1="50" y2="50" />
        <path [attr.d]="path()" />
        @if (now() !== undefined) {
          <line class="now" [attr.x1]="now()" [attr.x2]="now()" y1="0" y2="100" />
        }
      </svg>
      @for (point of points(); track $index) {
        <button
          class="point"
          role="slider"
          [attr.aria-label]="point.label"
          [attr.aria-valuemin]="-1"
          [attr.aria-valuemax]="1"
          [attr.aria-valuenow]="point.y"
          [attr.aria-valuetext]="point.text"
          [title]="point.text + '. Double click removes it.'"
          [style.left.%]="point.x * 100"
          [style.top.%]="graphY(point.y)"
          (pointerdown)="press($event, $index)"
          (dblclick)="removed.emit($index); $event.stopPropagation()"
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
      position: absolute;
      inset: 0;
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
export class PointGraph {
  readonly name = input.required<string>();
  readonly points = input.required<readonly GraphPoint[]>();
  /** The drawn curve, as an SVG path in a box of 100 by 100; heights by `graphY`. */
  readonly path = input.required<string>();
  /** Where the curve is heard right now, in percent of the width. */
  readonly now = input<number | undefined>();
  /** By how much an arrow key moves a point. */
  readonly keyStep = input.required<GraphPlace>();
  readonly added = output<GraphPlace>();
  readonly moved = output<PointMove>();
  readonly removed = output<number>();
  protected readonly graphY = graphY;
  private readonly injector = inject(Injector);
  private readonly graph = viewChild.required<ElementRef<HTMLElement>>('graph');

  protected placeOf(event: MouseEvent): GraphPlace {
    const box = this.graph().nativeElement.getBoundingClientRect();
    return {
      x: Math.max(0, Math.min(1, (event.clientX - box.left) / box.width)),
      y: Math.max(-1, Math.min(1, (0.5 - (event.clientY - box.top) / box.height) / span)),
    };
  }

  protected press(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    if (event.currentTarget instanceof HTMLElement) event.currentTarget.focus();
    const gesture = newGesture();
    const box = this.graph().nativeElement.getBoundingClientRect();
    let before = event;
    followPointer(event, (moved) => {
      const factor = moved.shiftKey ? fineFactor : 1;
      const byX = ((moved.clientX - before.clientX) / box.width) * factor;
      const byY = ((before.clientY - moved.clientY) / box.height / span) * factor;
      before = moved;
      this.moved.emit({ index, byX, byY, gesture });
    });
  }

  protected key(event: KeyboardEvent, index: number): void {
    const { x, y } = this.keyStep();
    const factor = event.shiftKey ? fineFactor : 1;
    const moves: Readonly<Record<string, readonly [byX: number, byY: number]>> = {
      ArrowUp: [0, y * factor],
      ArrowDown: [0, -y * factor],
      ArrowLeft: [-x * factor, 0],
      ArrowRight: [x * factor, 0],
    };
    const by = moves[event.key];
    if (by) this.moved.emit({ index, byX: by[0], byY: by[1], gesture: newGesture() });
    else if (event.key === 'Delete' || event.key === 'Backspace') this.removeByKey(index);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** The keys stay with the curve after its point is gone. */
  private removeByKey(index: number): void {
    this.removed.emit(index);
    afterNextRender(
      () => {
        const points = this.graph().nativeElement.querySelectorAll<HTMLElement>('.point');
        points[Math.min(index, points.length - 1)]?.focus();
      },
      { injector: this.injector },
    );
  }
}
