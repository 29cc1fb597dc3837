import type { Frames } from '../units';

/** Frames that are made at a time, at most. */
export const benchFrames: Frames = 1_024;
/** Samples of a recording that are laid out at a time: those of all frames at a few times the speed. */
export const windowLength = 8_192;

/** Places in `state`; steps are what is added from frame to frame. */
export const stateOf = {
  place: 0,
  left: 1,
  right: 2,
  ratio: 3,
  cut: 4,
  fade: 5,
  leftStep: 6,
  rightStep: 7,
  ratioStep: 8,
  cutStep: 9,
  fadeStep: 10,
  held: 11,
  length: 15,
} as const;

/** Where voices are laid out, played and summed; all of them in turns. */
export interface VoiceBench {
  /** What the voice at hand is at; see `stateOf`. What goes on is written back. */
  readonly state: Float64Array;
  /** Both channels of the recording around its place. */
  readonly first: Float32Array;
  readonly second: Float32Array;
  /** The sum of all voices. */
  readonly left: Float32Array;
  readonly right: Float32Array;
  /** Adds frames from `from` on. The windows hold the recording from `base` on; of one channel only the first counts. */
  play(base: number, stereo: boolean, from: Frames, frames: Frames, filtered: boolean): void;
}
