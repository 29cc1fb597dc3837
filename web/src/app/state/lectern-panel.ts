import { computed, Injectable, signal } from '@angular/core';

export type LecternPanelName = 'chain' | 'seating' | 'moves' | 'meters';

/** Heights of the lectern in pixels; folded, only its path of tiles is left. */
export const lecternHeights = { folded: 51, least: 150, usual: 246, most: 520 };

/**
 * What the lectern shows below the path of tiles: the editor of the open step, the seating chart, the movers, or the meters; and how much
 * room it has.
 */
@Injectable({ providedIn: 'root' })
export class LecternPanel {
  readonly shown = signal<LecternPanelName>('chain');
  readonly height = signal(lecternHeights.usual);
  readonly folded = signal(false);

  /** What can be seen of it; nothing while it is folded. */
  readonly visible = computed(() => (this.folded() ? undefined : this.shown()));

  /** Shows a panel, or the chain again when it is shown already. */
  toggle(name: LecternPanelName): void {
    this.show(this.visible() === name ? 'chain' : name);
  }

  show(name: LecternPanelName): void {
    this.shown.set(name);
    this.folded.set(false);
  }

  /** Much less than what an editor needs folds it. */
  setHeight(height: number): void {
    this.folded.set(height < (lecternHeights.folded + lecternHeights.least) / 2);
    if (!this.folded()) this.height.set(Math.max(lecternHeights.least, Math.min(lecternHeights.most, Math.round(height))));
  }

  toggleFolded(): void {
    this.folded.update((folded) => !folded);
  }
}
