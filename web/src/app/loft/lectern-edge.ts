import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { LecternPanel, lecternHeights } from '../state/lectern-panel.store';
import { followPointer } from '../ui/follow-pointer';

const keyStep = 24;
const dragStart = 3;

/** The upper edge of the lectern: dragged or nudged it gives room to the lanes or to the lectern, a double click or Enter folds it. */
@Component({
  selector: 'tc-lectern-edge',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '',
  styles: `
    :host {
      z-index: 2;
      align-self: start;
      height: 9px;
      margin-top: -4px;
      cursor: ns-resize;
      touch-action: none;
    }
    :host(:hover),
    :host(:focus-visible) {
      background: linear-gradient(transparent 3px, var(--live) 3px, var(--live) 5px, transparent 5px);
      outline: none;
    }
  `,
  host: {
    role: 'separator',
    tabindex: '0',
    title: 'Drag: height of the lectern. Double click: fold it (Z)',
    'aria-label': 'Height of the lectern',
    'aria-orientation': 'horizontal',
    '[attr.aria-valuemin]': 'heights.least',
    '[attr.aria-valuemax]': 'heights.most',
    '[attr.aria-valuenow]': 'height()',
    '(pointerdown)': 'drag($event)',
    '(dblclick)': 'panel.toggleFolded()',
    '(keydown)': 'key($event)',
  },
})
export class LecternEdge {
  protected readonly panel = inject(LecternPanel);
  protected readonly heights = lecternHeights;
  protected readonly height = computed(() => (this.panel.folded() ? lecternHeights.folded : this.panel.height()));

  protected drag(event: PointerEvent): void {
    if (event.button !== 0) return;
    const start = this.height();
    const before = this.panel.height();
    const move = ({ clientY }: PointerEvent): void => {
      const by = event.clientY - clientY;
      if (Math.abs(by) >= dragStart) this.panel.setHeight(start + by);
    };
    // Folded, it keeps the height that it had before the drag.
    followPointer(event, move, (givenUp) => {
      if (givenUp || this.panel.folded()) this.panel.restoreHeight(before);
    });
  }

  protected key(event: KeyboardEvent): void {
    if (event.key === 'ArrowUp') this.panel.setHeight(this.height() + keyStep);
    else if (event.key === 'ArrowDown') this.panel.setHeight(this.height() - keyStep);
    else if (event.key === 'Enter') this.panel.toggleFolded();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}
