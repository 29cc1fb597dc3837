import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output } from '@angular/core';
import { followPointer } from './follow-pointer';
import { newGesture } from './value-field';

export interface RangeChange {
  readonly low: number;
  readonly high: number;
  readonly gesture: string;
}

type Part = 'low' | 'high' | 'both';

/** A range on a bar: both ends can be dragged or moved with the arrow keys; Shift while dragging moves them evenly around the middle. */
@Component({
  selector: 'tc-range',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="track">
      <span
        class="span"
        [style.left.%]="share(low())"
        [style.width.%]="share(high()) - share(low())"
        (pointerdown)="drag('both', $event)"
      ></span>
      @if (min() < 0 && max() > 0) {
        <span class="zero" [style.left.%]="share(0)"></span>
      }
    </span>
    @for (end of ends(); track end.part) {
      <span
        class="end"
        role="slider"
        tabindex="0"
        [style.left.%]="share(end.value)"
        [attr.aria-label]="label() + ' ' + end.name"
        [attr.aria-valuemin]="min()"
        [attr.aria-valuemax]="max()"
        [attr.aria-valuenow]="end.value"
        [attr.aria-disabled]="disabled()"
        (pointerdown)="drag(end.part, $event)"
        (keydown)="key(end.part, $event)"
      ></span>
    }
  `,
  styles: `
    :host {
      position: relative;
      display: block;
      height: 18px;
      touch-action: none;
    }
    :host(.disabled) {
      opacity: 0.5;
      pointer-events: none;
    }
    .track {
      position: absolute;
      inset: 8px 0;
      border-radius: 1px;
      background: var(--surface-3);
    }
    .span {
      position: absolute;
      top: -4px;
      height: 10px;
      border-radius: 5px;
      background: color-mix(in srgb, var(--live) 55%, transparent);
      cursor: grab;
    }
    .zero {
      position: absolute;
      top: -6px;
      width: 2px;
      height: 14px;
      background: var(--text);
      pointer-events: none;
    }
    .end {
      position: absolute;
      top: 1px;
      width: 14px;
      height: 16px;
      margin-left: -7px;
      border-radius: 4px;
      cursor: ew-resize;
    }
    .end::after {
      position: absolute;
      inset: 2px 5px;
      border-radius: 2px;
      background: var(--live);
      content: '';
    }
  `,
  host: { '[class.disabled]': 'disabled()' },
})
export class RangeField {
  readonly min = input.required<number>();
  readonly max = input.required<number>();
  readonly low = input.required<number>();
  readonly high = input.required<number>();
  readonly label = input('');
  /** Only the upper end can be moved, as for a chance. */
  readonly single = input(false);
  readonly disabled = input(false);
  /** Ends are multiples of it; without it they lie anywhere. */
  readonly step = input<number>();
  readonly changed = output<RangeChange>();
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly ends = computed((): { part: Part; value: number; name: string }[] =>
    this.single()
      ? [{ part: 'high', value: this.high(), name: '' }]
      : [
          { part: 'low', value: this.low(), name: 'lowest' },
          { part: 'high', value: this.high(), name: 'highest' },
        ],
  );

  protected share(value: number): number {
    return Math.max(0, Math.min(100, ((value - this.min()) / (this.max() - this.min())) * 100));
  }

  protected drag(part: Part, event: PointerEvent): void {
    if (event.button !== 0 || (part === 'both' && this.single())) return;
    if (event.currentTarget instanceof HTMLElement && part !== 'both') event.currentTarget.focus();
    const gesture = newGesture();
    const width = this.host.nativeElement.getBoundingClientRect().width;
    const start = { low: this.low(), high: this.high() };
    const move = (moved: PointerEvent): void => {
      const shift = ((moved.clientX - event.clientX) / width) * (this.max() - this.min());
      this.emit(part, start, shift, moved.shiftKey, gesture);
    };
    followPointer(event, move);
  }

  protected key(part: Part, event: KeyboardEvent): void {
    const whole = this.max() - this.min();
    const step = this.step() ?? whole / (event.shiftKey ? 400 : 80);
    const shift = { ArrowRight: step, ArrowUp: step, ArrowLeft: -step, ArrowDown: -step, Home: -whole, End: whole }[event.key];
    if (shift === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    this.emit(part, { low: this.low(), high: this.high() }, shift, false, newGesture());
  }

  private emit(part: Part, start: { low: number; high: number }, shift: number, even: boolean, gesture: string): void {
    const step = this.step();
    const snapped = (value: number): number => (step === undefined ? value : Math.round(value / step) * step);
    const clamp = (value: number): number => Math.max(this.min(), Math.min(this.max(), snapped(value)));
    let { low, high } = start;
    if (part !== 'high' || even) low = clamp(low + (part === 'high' ? -shift : shift));
    if (part !== 'low' || even) high = clamp(high + (part === 'low' ? -shift : shift));
    if (low > high) [low, high] = [high, low];
    this.changed.emit({ low, high, gesture });
  }
}
