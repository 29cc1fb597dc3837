import { Injectable, signal } from '@angular/core';

export type LecternPanelName = 'chain' | 'seating' | 'moves' | 'meters';

/** What the lectern shows below the path of tiles: the editor of the open step, the seating chart, the movers, or the meters. */
@Injectable({ providedIn: 'root' })
export class LecternPanel {
  readonly shown = signal<LecternPanelName>('chain');

  /** Shows a panel, or the chain again when it is shown already. */
  toggle(name: LecternPanelName): void {
    this.shown.update((shown) => (shown === name ? 'chain' : name));
  }
}
