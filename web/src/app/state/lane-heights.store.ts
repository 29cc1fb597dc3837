import { patchState, signalStore, withMethods, withState } from '@ngrx/signals';

export const laneSizes = ['low', 'middle', 'high'] as const;
export type LaneSize = (typeof laneSizes)[number];
export type LaneKind = 'layer' | 'automation' | 'notes';

/** In pixels. */
const heights: Readonly<Record<LaneSize, Readonly<Record<LaneKind, number>>>> = {
  low: { layer: 42, automation: 56, notes: 120 },
  middle: { layer: 58, automation: 84, notes: 168 },
  high: { layer: 116, automation: 150, notes: 260 },
};
const least = 38;
const most = 400;

interface LaneHeightsState {
  readonly size: LaneSize;
  /** Heights of lanes that were dragged, by the id of the layer or the automation lane. */
  readonly own: ReadonlyMap<string, number>;
}

/** How high the lanes of the timeline are: one of three sizes for all, and a height of its own for whichever was dragged. */
export const LaneHeights = signalStore(
  withState<LaneHeightsState>({ size: 'middle', own: new Map() }),
  withMethods((store) => ({
    heightOf: (id: string, kind: LaneKind): number => store.own().get(id) ?? heights[store.size()][kind],
    /** Gives all lanes one size; those that were dragged take it, too. */
    setSize: (size: LaneSize): void => patchState(store, { size, own: new Map() }),
    setHeight: (id: string, height: number): void =>
      patchState(store, ({ own }) => ({ own: new Map(own).set(id, Math.max(least, Math.min(most, Math.round(height)))) })),
    /** Gives a lane the size of the others again. */
    reset: (id: string): void => patchState(store, ({ own }) => ({ own: new Map([...own].filter(([key]) => key !== id)) })),
  })),
);

export type LaneHeights = InstanceType<typeof LaneHeights>;
