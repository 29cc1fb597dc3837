import { computed } from '@angular/core';
import { patchState, signalStore, withComputed, withMethods, withState } from '@ngrx/signals';

export type LecternPanelName = 'chain' | 'seating' | 'moves' | 'meters';

/** Heights of the lectern in pixels; folded, only its path of tiles is left. */
export const lecternHeights = { folded: 77, least: 176, usual: 268, most: 540 };

interface LecternPanelState {
  readonly shown: LecternPanelName;
  readonly height: number;
  readonly folded: boolean;
  /** The tide, rein or walk whose settings are open among the movers; where it is not there, the first one's are. */
  readonly mover: string | undefined;
}

/**
 * What the lectern shows below the path of tiles: the editor of the open step, the seating chart, the movers, or the meters; and how much
 * room it has.
 */
export const LecternPanel = signalStore(
  withState<LecternPanelState>({ shown: 'chain', height: lecternHeights.usual, folded: false, mover: undefined }),
  withComputed(({ shown, folded }) => ({
    /** What can be seen of it; nothing while it is folded. */
    visible: computed(() => (folded() ? undefined : shown())),
  })),
  withMethods((store) => {
    const show = (shown: LecternPanelName): void => patchState(store, { shown, folded: false });
    return {
      show,
      chooseMover: (mover: string | undefined): void => patchState(store, { mover }),
      /** Shows the movers with the settings of one of them. */
      showMover: (mover: string): void => patchState(store, { shown: 'moves', folded: false, mover }),
      /** Shows a panel, or the chain again when it is shown already. */
      toggle: (name: LecternPanelName): void => show(store.visible() === name ? 'chain' : name),
      /** Much less than what an editor needs folds it; the height that it had is kept for when it is unfolded. */
      setHeight(height: number): void {
        const folded = height < (lecternHeights.folded + lecternHeights.least) / 2;
        const fitting = Math.max(lecternHeights.least, Math.min(lecternHeights.most, Math.round(height)));
        patchState(store, { folded, ...(!folded && { height: fitting }) });
      },
      /** Gives back a height that folding on the way has taken. */
      restoreHeight: (height: number): void => patchState(store, { height }),
      toggleFolded: (): void => patchState(store, ({ folded }) => ({ folded: !folded })),
    };
  }),
);

export type LecternPanel = InstanceType<typeof LecternPanel>;
