import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { LaneKind } from '../../state/lane-heights.store';
import { LaneHeights } from '../../state/lane-heights.store';
import { followPointer } from '../../ui/follow-pointer';

/** The lower edge of a lane: dragging it changes the lane's height, a double click gives it the height of the others. */
@Component({
  selector: 'tc-lane-edge',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '',
  styles: `
    :host {
      position: absolute;
      z-index: 5;
      right: 0;
      bottom: -3px;
      left: 0;
      height: 6px;
      cursor: ns-resize;
    }
    :host(:hover) {
      background: color-mix(in srgb, var(--live) 40%, transparent);
    }
  `,
  host: {
    role: 'separator',
    'aria-orientation': 'horizontal',
    '[attr.aria-label]': '"Height of " + name()',
    '[attr.aria-valuenow]': 'heights.heightOf(lane(), kind())',
    '(pointerdown)': 'drag($event)',
    '(dblclick)': 'heights.reset(lane())',
  },
})
export class LaneEdge {
  /** Id of the layer or of the automation lane. */
  readonly lane = input.required<string>();
  readonly kind = input.required<LaneKind>();
  readonly name = input.required<string>();
  protected readonly heights = inject(LaneHeights);

  protected drag(event: PointerEvent): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    const before = this.heights.heightOf(this.lane(), this.kind());
    followPointer(event, (moved) => {
      this.heights.setHeight(this.lane(), before + moved.clientY - event.clientY);
    });
  }
}
