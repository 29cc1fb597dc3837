import type { ConductData, ConductEvent, GameMove } from '@tangled-choir/core/conduct';

/** What the page tells the worklet. */
export type ToConductor =
  | { readonly type: 'data'; readonly data: ConductData; readonly serial: number }
  | { readonly type: 'asset'; readonly id: string; readonly channels: readonly Float32Array[] | undefined }
  /** Without a frame, or where that is past, it is made at once. */
  | { readonly type: 'move'; readonly move: GameMove; readonly frame?: number | undefined }
  | { readonly type: 'run'; readonly on: boolean }
  | { readonly type: 'quiet' };

/** What the worklet tells the page, in the order in which it happened. */
export type FromConductor =
  /**
   * A move is made at this frame, which was known when everything before `known` was decided: whoever makes the same moves at the same frames comes to the same
   * decisions.
   */
  | { readonly type: 'moved'; readonly known: number; readonly frame: number; readonly move: GameMove }
  /** Other data holds from this frame on. */
  | { readonly type: 'data'; readonly frame: number; readonly serial: number }
  | {
      readonly type: 'beat';
      /** Everything before it is decided and has been played. */
      readonly frame: number;
      readonly events: readonly ConductEvent[];
      readonly sounding: number;
      /** The highest sample since the last beat, linear. */
      readonly peak: number;
    };

export const processorName = 'tangled-choir-conductor';
