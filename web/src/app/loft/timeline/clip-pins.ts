import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Clip, Mark, Pin } from '@tangled-choir/core';
import { clipDuration, movedPin, pinOn } from '@tangled-choir/core';
import type { ClipDrag } from './clip-box';

/** The pins of a clip: posts on its upper edge. They lie over the clip and not in it, which is a button. */
@Component({
  selector: 'tc-clip-pins',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (pin of pins(); track pin.index) {
      <span
        class="pin"
        role="slider"
        tabindex="0"
        aria-label="Pin"
        [attr.aria-valuenow]="pin.time"
        [attr.aria-valuetext]="pin.time.toFixed(3) + ' s'"
        [style.left.px]="pin.left"
        [title]="'Pin at ' + pin.time.toFixed(3) + ' s' + pin.mark + ': drag, arrows; double click removes it'"
        [class.marked]="pin.mark"
        (pointerdown)="begin(pin.index, $event)"
        (keydown)="key(pin.index, $event)"
        (dblclick)="remove(pin.index, $event)"
      ></span>
    }
  `,
  styles: `
    :host {
      position: absolute;
      z-index: 2;
      top: 0;
      height: 0;
    }
    .pin {
      position: absolute;
      top: 0;
      width: 24px;
      height: 24px;
      margin-left: -12px;
      cursor: ew-resize;
      touch-action: none;
    }
    /* The post, and its head. */
    .pin::before {
      position: absolute;
      top: 0;
      left: 11px;
      width: 2px;
      height: 24px;
      background: var(--live);
      content: '';
    }
    .pin::after {
      position: absolute;
      top: 0;
      left: 8px;
      width: 8px;
      height: 8px;
      border-radius: 2px;
      background: var(--live);
      content: '';
    }
    /* On a mark, with which it moves. */
    .marked::after {
      border-radius: 50%;
      outline: 1px solid var(--live);
      outline-offset: 1px;
    }
    .pin:focus-visible {
      outline: 2px solid var(--text);
      outline-offset: -2px;
    }
  `,
  host: { '[style.left.px]': 'clip().start * pixelsPerSecond()' },
})
export class ClipPins {
  readonly clip = input.required<Clip>();
  readonly pixelsPerSecond = input.required<number>();
  readonly marks = input<readonly Mark[]>([]);
  readonly dragged = output<ClipDrag>();
  /** The pins as they are to be. */
  readonly repinned = output<{ readonly pins: readonly Pin[]; readonly gesture?: string }>();

  /** Those that lie within the clip: a cut leaves pins beyond its edges where they are. */
  protected readonly pins = computed(() => {
    const clip = this.clip();
    const duration = clipDuration(clip);
    const on = new Map(this.marks().map((mark) => [pinOn(clip, mark.time), ` on “${mark.name}”`]));
    return (clip.pins ?? []).flatMap(({ time }, index) =>
      time < 0 || time > duration
        ? []
        : [{ index, left: time * this.pixelsPerSecond(), time: clip.start + time, mark: on.get(index) ?? '' }],
    );
  });

  protected begin(pin: number, event: PointerEvent): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.dragged.emit({ kind: 'pin', event, pin });
  }

  protected key(index: number, event: KeyboardEvent): void {
    const pins = this.clip().pins ?? [];
    const step = event.shiftKey ? 0.001 : 0.01;
    const by = event.key === 'ArrowLeft' ? -step : event.key === 'ArrowRight' ? step : 0;
    if (event.key === 'Delete' || event.key === 'Backspace') this.remove(index, event);
    else if (by !== 0)
      this.repinned.emit({ pins: movedPin(pins, index, pins[index]!.time + by), gesture: `pin-${this.clip().id}-${index}` });
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  protected remove(index: number, event: Event): void {
    event.stopPropagation();
    this.repinned.emit({ pins: (this.clip().pins ?? []).filter((_, i) => i !== index) });
  }
}
