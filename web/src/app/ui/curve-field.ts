import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, input, output, signal, viewChild } from '@angular/core';
import type { CurveParameter } from '@tangled-choir/core';
import { readCurve, writeCurve } from '@tangled-choir/core';
import { followPointer } from './follow-pointer';
import { newGesture } from './value-field';

/** How far a key moves a point, as a part of the range. */
const keyStep = 0.05;
const fineStep = 0.005;

/** Numbers side by side, drawn by hand: as bars from nothing upwards, or as a line around 0. Arrow keys go from number to number and move it. */
@Component({
  selector: 'tc-curve-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="quiet">{{ label() }}</span>
    <svg
      #plot
      viewBox="0 0 100 100"
      preserveAspectRatio="none"
      tabindex="0"
      role="slider"
      [attr.aria-label]="label()"
      [attr.aria-valuemin]="parameter().min"
      [attr.aria-valuemax]="parameter().max"
      [attr.aria-valuenow]="numbers()[chosen()]"
      [attr.aria-valuetext]="told()"
      (pointerdown)="draw($event)"
      (keydown)="key($event)"
      (dblclick)="set(none, gesture)"
    >
      <title>Draw it; a double click takes the drawing away</title>
      @if (parameter().min < 0) {
        <line x1="0" x2="100" y1="50" y2="50" />
      }
      <path [attr.d]="path()" [class.bars]="parameter().min >= 0" />
      <rect class="chosen" y="0" height="100" [attr.x]="chosen() * step()" [attr.width]="step()" />
    </svg>
    <span class="number told" aria-hidden="true">{{ told() }}</span>
  `,
  styles: `
    :host {
      position: relative;
      display: grid;
      grid-column: 1 / -1;
      gap: 2px;
      padding: 0 4px 4px;
      font-size: 12px;
    }
    svg {
      width: 100%;
      height: 52px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--background);
      cursor: crosshair;
      touch-action: none;
    }
    line {
      stroke: var(--line);
      vector-effect: non-scaling-stroke;
    }
    path {
      fill: none;
      stroke: var(--live);
      stroke-width: 1.4;
      vector-effect: non-scaling-stroke;
    }
    .bars {
      fill: var(--live);
      stroke: none;
    }
    .chosen {
      fill: var(--text);
      opacity: 0;
    }
    svg:focus-visible .chosen {
      opacity: 0.25;
    }
    .told {
      position: absolute;
      top: 0;
      right: 4px;
      font-size: 11px;
    }
  `,
})
export class CurveField {
  readonly parameter = input.required<CurveParameter>();
  readonly label = input.required<string>();
  readonly value = input.required<string>();
  readonly valueChange = output<{ readonly value: string; readonly gesture: string }>();
  private readonly plot = viewChild.required<ElementRef<SVGElement>>('plot');
  protected readonly none: readonly number[] = [];
  /** The stroke that was drawn last. */
  protected gesture = newGesture();
  protected readonly chosen = signal(0);
  protected readonly step = computed(() => 100 / this.parameter().points);

  /** What is drawn; where nothing is, what stands there at first. */
  protected readonly numbers = computed((): readonly number[] => {
    const parameter = this.parameter();
    const drawn = readCurve(parameter, this.value());
    return drawn?.some((number) => number !== 0) ? drawn : (parameter.first ?? Array.from({ length: parameter.points }, () => 0));
  });
  protected readonly told = computed(() => `${this.chosen() + 1}: ${Math.round(this.numbers()[this.chosen()]!)} ${this.parameter().unit}`);
  protected readonly path = computed(() => {
    const { min } = this.parameter();
    const step = this.step();
    const heights = this.numbers().map((number) => this.heightOf(number));
    if (min < 0) return `M${heights.map((y, i) => `${((i + 0.5) * step).toFixed(2)} ${y.toFixed(1)}`).join('L')}`;
    return heights.map((y, i) => `M${(i * step).toFixed(2)} 100V${y.toFixed(1)}h${(step * 0.8).toFixed(2)}V100z`).join('');
  });

  private heightOf(number: number): number {
    const { min, max } = this.parameter();
    return 98 - (96 * (number - min)) / (max - min);
  }

  private at({ clientX, clientY }: PointerEvent): { readonly index: number; readonly number: number } {
    const box = this.plot().nativeElement.getBoundingClientRect();
    const { points, min, max } = this.parameter();
    const y = ((clientY - box.top) / Math.max(1, box.height)) * 100;
    const number = min + ((98 - y) / 96) * (max - min);
    const index = Math.floor(((clientX - box.left) / Math.max(1, box.width)) * points);
    return { index: Math.max(0, Math.min(points - 1, index)), number: Math.max(min, Math.min(max, number)) };
  }

  protected draw(press: PointerEvent): void {
    // The second press of a double click draws nothing; what the first has drawn goes with the drawing, in one step.
    if (press.button !== 0 || press.detail > 1) return;
    this.plot().nativeElement.focus();
    const gesture = (this.gesture = newGesture());
    let last = this.at(press);
    const stroke = (event: PointerEvent): void => {
      const now = this.at(event);
      const numbers = [...this.numbers()];
      // Quick strokes leave no gaps.
      const steps = Math.max(1, Math.abs(now.index - last.index));
      for (let i = 0; i <= steps; i++)
        numbers[Math.round(last.index + ((now.index - last.index) * i) / steps)] = last.number + ((now.number - last.number) * i) / steps;
      last = now;
      this.chosen.set(now.index);
      this.set(numbers, gesture);
    };
    stroke(press);
    followPointer(press, stroke);
  }

  protected set(numbers: readonly number[], gesture = newGesture()): void {
    this.valueChange.emit({ value: writeCurve(this.parameter(), numbers), gesture });
  }

  protected key(event: KeyboardEvent): void {
    const { points, min, max } = this.parameter();
    const along = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    const up = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0;
    if (along) this.chosen.update((chosen) => Math.max(0, Math.min(points - 1, chosen + along)));
    else if (up) {
      const by = up * (event.shiftKey ? fineStep : keyStep) * (max - min);
      this.set(this.numbers().map((number, i) => (i === this.chosen() ? Math.max(min, Math.min(max, number + by)) : number)));
    } else if (event.key === 'Delete') this.set(this.none);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
