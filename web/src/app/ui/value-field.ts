import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output, signal } from '@angular/core';
import type { NumberParameter } from '@tangled-choir/core';
import { placeOfValue, valueAtPlace } from '@tangled-choir/core';
import type { Dial } from './dial-menus';
import { DialMenus, onLongPress } from './dial-menus';
import { followPointer } from './follow-pointer';
import type { ShownScale } from './quantity';
import { formatQuantity } from './quantity';
import { quantityContext, readQuantity } from './read-quantity';

/** A changed value, and the gesture that it belongs to: all values of one drag are one undo step. */
export interface ValueChange {
  readonly value: number;
  readonly gesture: string;
}

let gestureCount = 0;
/** A name for a gesture that no other has. */
export const newGesture = (): string => `gesture-${++gestureCount}-${Date.now()}`;

const pixelsForRange = 220;
const fineFactor = 0.1;

/**
 * A number that can be dragged (Shift: fine), nudged with the wheel or the arrow keys, reset by a double click, or typed after Enter or by
 * simply beginning to type.
 */
@Component({
  selector: 'tc-value',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="label">{{ label() || parameter().label }}</span>
    @if (typing()) {
      <input
        #typed
        class="number typed"
        [attr.aria-label]="label() || parameter().label"
        [value]="typedText()"
        [attr.aria-invalid]="refused() !== ''"
        (keydown)="keyInInput($event, typed.value)"
        (blur)="commit(typed.value)"
        (dblclick)="$event.stopPropagation()"
        (pointerdown)="$event.stopPropagation()"
      />
    } @else {
      <span class="number value" [class.limited]="limited()">{{ text() }}</span>
    }
    @if (refused() || limited(); as told) {
      <span class="told" role="status" (animationend)="limited.set('')">{{ told }}</span>
    }
    <span class="bar">
      @if (reachAt(); as span) {
        <span class="reach" [style.left.%]="span.from" [style.width.%]="span.width"></span>
      }
      <span class="fill" [style.left.%]="fill().from" [style.width.%]="fill().width"></span>
      @if (heardAt() !== undefined) {
        <span class="heard" [style.left.%]="heardAt()"></span>
      }
    </span>
  `,
  styles: `
    :host {
      position: relative;
      display: grid;
      grid-template-columns: 1fr auto;
      align-items: baseline;
      gap: 2px 8px;
      padding: 3px 4px 5px;
      border-radius: 4px;
      cursor: ew-resize;
      touch-action: none;
      user-select: none;
    }
    :host(:hover) {
      background: color-mix(in srgb, var(--surface-3) 60%, transparent);
    }
    :host(.disabled) {
      opacity: 0.5;
      pointer-events: none;
    }
    .label {
      overflow: hidden;
      color: var(--quiet);
      font-size: 12px;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .value,
    .typed {
      text-align: right;
    }
    .typed {
      width: 84px;
      height: 18px;
      border: 0;
      border-bottom: 1px solid var(--live);
      background: var(--background);
      outline: none;
    }
    .limited {
      color: var(--warning);
    }
    .told {
      position: absolute;
      right: 4px;
      bottom: 100%;
      z-index: 3;
      padding: 2px 6px;
      border: 1px solid var(--warning);
      border-radius: 4px;
      background: var(--surface-3);
      font-size: 11px;
      white-space: nowrap;
      pointer-events: none;
      animation: told 5s forwards;
    }
    @keyframes told {
      from {
        background: var(--warning);
      }
      8%,
      92% {
        background: var(--surface-3);
        opacity: 1;
      }
      to {
        opacity: 0;
      }
    }
    .bar {
      position: relative;
      grid-column: 1 / -1;
      height: 3px;
      border-radius: 2px;
      background: var(--surface-3);
    }
    .heard {
      position: absolute;
      top: -3px;
      width: 2px;
      height: 9px;
      margin-left: -1px;
      background: var(--live);
    }
    .reach {
      position: absolute;
      top: -2px;
      height: 7px;
      border-radius: 3px;
      background: color-mix(in srgb, var(--live) 38%, transparent);
    }
    .fill {
      position: absolute;
      height: 100%;
      border-radius: 2px;
      background: var(--text);
    }
  `,
  host: {
    role: 'slider',
    tabindex: '0',
    '[class.disabled]': 'disabled()',
    '[attr.aria-label]': 'spoken() || label() || parameter().label',
    '[attr.aria-valuemin]': 'parameter().min',
    '[attr.aria-valuemax]': 'parameter().max',
    '[attr.aria-valuenow]': 'value()',
    '[attr.aria-valuetext]': 'text()',
    '[attr.aria-disabled]': 'disabled()',
    '(pointerdown)': 'startDrag($event)',
    '(contextmenu)': 'menus.ask($event, dial())',
    '(wheel)': 'nudgeByWheel($event)',
    '(dblclick)': 'reset()',
    '(keydown)': 'key($event)',
  },
})
export class ValueField {
  readonly parameter = input.required<NumberParameter>();
  readonly value = input.required<number>();
  readonly label = input('');
  /** Its name for who cannot see beside what it stands. */
  readonly spoken = input('');
  /** Where the value is heard right now, when something else moves it. */
  readonly heard = input<number | undefined>();
  protected readonly heardAt = computed(() => {
    const heard = this.heard();
    // Templates hand over null where something on the way is missing.
    return typeof heard === 'number' ? placeOfValue(this.parameter(), heard) * 100 : undefined;
  });
  /** Between which values it moves, when something else moves it. */
  readonly reach = input<{ readonly low: number; readonly high: number } | undefined>();
  protected readonly reachAt = computed(() => {
    const reach = this.reach();
    if (!reach) return undefined;
    const [from, to] = [this.placeOf(reach.low) * 100, this.placeOf(reach.high) * 100];
    return { from, width: Math.max(0, to - from) };
  });
  readonly disabled = input(false);
  /** The property of the sound that it turns, for its menu. */
  readonly address = input<string | undefined>();
  /** How the value is written, and read, if not as is usual for the parameter. */
  readonly scale = input<ShownScale | undefined>();
  readonly valueChange = output<ValueChange>();

  protected readonly typing = signal(false);
  protected readonly typedText = signal('');
  protected readonly text = computed(() => this.write(this.value()));
  protected readonly fill = computed(() => {
    const { min, max } = this.parameter();
    const place = this.placeOf(this.value()) * 100;
    // What goes both ways grows from its middle.
    const origin = min < 0 && max > 0 && this.parameter().scale === 'linear' ? this.placeOf(0) * 100 : 0;
    return { from: Math.min(origin, place), width: Math.abs(place - origin) };
  });
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly context = inject(quantityContext);
  /** Which limit the value that was typed last was brought to, in words; and why it was not understood. */
  protected readonly limited = signal('');
  protected readonly refused = signal('');
  protected readonly menus = inject(DialMenus);
  protected readonly dial = computed((): Dial => ({
    name: this.spoken() || this.label() || this.parameter().label,
    address: this.address(),
    parameter: this.parameter(),
    value: this.value(),
    set: (value) => this.emit(Number(value), newGesture()),
  }));
  private wheelGesture: { name: string; until: number } | undefined;

  protected startDrag(event: PointerEvent): void {
    if (event.button !== 0 || this.typing()) return;
    this.limited.set('');
    const gesture = newGesture();
    let place = this.placeOf(this.value());
    let last = event.clientX;
    this.host.nativeElement.focus();
    const move = (moved: PointerEvent): void => {
      place = Math.max(0, Math.min(1, place + ((moved.clientX - last) / pixelsForRange) * (moved.shiftKey ? fineFactor : 1)));
      if (moved.clientX !== last) this.emit(this.valueAt(place), gesture);
      last = moved.clientX;
    };
    followPointer(event, move);
    onLongPress(event, (place) => this.menus.asked.set({ dial: this.dial(), place }));
  }

  protected nudgeByWheel(event: WheelEvent): void {
    event.preventDefault();
    const now = event.timeStamp;
    if (!this.wheelGesture || now > this.wheelGesture.until) this.wheelGesture = { name: newGesture(), until: 0 };
    this.wheelGesture.until = now + 600;
    this.step(event.deltaY < 0 ? 1 : -1, event.shiftKey, this.wheelGesture.name);
  }

  protected key(event: KeyboardEvent): void {
    if (this.typing()) {
      this.keyBeforeInput(event);
      return;
    }
    const direction = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (direction !== undefined && !event.ctrlKey && !event.altKey) this.step(direction, event.shiftKey, newGesture());
    else if (event.key === 'Home') this.emit(this.parameter().min, newGesture());
    else if (event.key === 'End') this.emit(this.parameter().max, newGesture());
    else if (event.key === 'Enter') this.startTyping('');
    else if (event.key === 'Backspace' || event.key === 'Delete') this.reset();
    else if (/^[-+.\d]$/.test(event.key) && !event.ctrlKey && !event.metaKey) this.startTyping(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** Quick fingers type on before the text field has the focus; nothing of that may be lost. */
  private keyBeforeInput(event: KeyboardEvent): void {
    if (event.target !== this.host.nativeElement) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Enter') this.take(this.typedText());
    else if (event.key === 'Escape') this.typing.set(false);
    else if (event.key === 'Backspace') this.typedText.update((text) => text.slice(0, -1));
    else if (event.key.length === 1 && !event.ctrlKey && !event.metaKey)
      this.typedText.update((text) => (this.replaceAll ? event.key : text + event.key));
    else return;
    this.replaceAll = false;
  }
  private replaceAll = false;

  protected keyInInput(event: KeyboardEvent, text: string): void {
    event.stopPropagation();
    this.refused.set('');
    if (event.key === 'Enter' && !this.take(text)) return;
    if (event.key === 'Escape') this.typing.set(false);
    if (event.key === 'Enter' || event.key === 'Escape') this.host.nativeElement.focus();
  }

  /** Whoever goes elsewhere is done with typing; what is not understood is left. */
  protected commit(text: string): void {
    if (!this.typing()) return;
    this.take(text);
    this.refused.set('');
    this.typing.set(false);
  }

  /** Takes over what was typed; false where it is not understood, which is said, so that it can be mended. */
  private take(text: string): boolean {
    const parameter = this.parameter();
    const read = readQuantity(text, parameter, { value: this.value(), scale: this.scale() }, this.context());
    if (!read) {
      this.refused.set(text.trim() === '' ? '' : 'not understood');
      if (text.trim() !== '') return false;
    }
    this.typing.set(false);
    if (!read) return true;
    const { min, max } = parameter;
    this.limited.set(!read.limit ? '' : read.limit === 'most' ? `at most ${this.write(max)}` : `at least ${this.write(min)}`);
    this.emit(read.value, newGesture());
    return true;
  }

  private write(value: number): string {
    return formatQuantity(value, this.parameter(), this.scale());
  }

  protected reset(): void {
    this.emit(this.parameter().default, newGesture());
  }

  private startTyping(first: string): void {
    this.limited.set('');
    this.refused.set('');
    this.typedText.set(first || this.text());
    this.replaceAll = first === '';
    this.typing.set(true);
    setTimeout(() => {
      // Quick fingers may be done already.
      if (!this.typing()) return;
      const typed = this.host.nativeElement.querySelector('input');
      typed?.focus();
      if (this.replaceAll) typed?.select();
      else typed?.setSelectionRange(typed.value.length, typed.value.length);
    });
  }

  private step(count: number, fine: boolean, gesture: string): void {
    const { step } = this.parameter();
    if (step !== undefined) {
      this.emit(this.value() + count * step, gesture);
      return;
    }
    this.emit(this.valueAt(this.placeOf(this.value()) + (count / 100) * (fine ? fineFactor : 1)), gesture);
  }

  private emit(value: number, gesture: string): void {
    const { min, max, step } = this.parameter();
    const whole = step === undefined ? value : Math.round(value / step) * step;
    this.valueChange.emit({ value: Math.min(max, Math.max(min, whole)), gesture });
  }

  private placeOf(value: number): number {
    return placeOfValue(this.parameter(), value);
  }

  private valueAt(place: number): number {
    return valueAtPlace(this.parameter(), place);
  }
}
