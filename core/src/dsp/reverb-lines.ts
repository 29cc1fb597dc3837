import type { Frames } from '../units';
import type { LineLoss } from './filters/line-loss';

/** By how much lines are longer than they will be, and how that changes with every frame. */
export interface LengthGlide {
  readonly offsets: Float64Array;
  readonly steps: Float64Array;
}

/** One run of a network: what goes in, where what comes out goes, and how its lines move meanwhile. */
export interface NetworkRun {
  /** What goes into the lines of the left, and into those of the right. */
  directLeft: Float32Array;
  directRight: Float32Array;
  left: Float32Array;
  right: Float32Array;
  frames: Frames;
  /** By how much every fourth line is shortened, frame after frame. */
  sway: Float32Array;
  glide: LengthGlide | undefined;
  /** True while losses are on their way to what they will be. */
  turning: boolean;
  /** No line is shorter meanwhile. */
  most: Frames;
}

/** A network at work, whatever it is computed by. */
export interface Lines {
  reset(): void;
  /** Delays hold from now on; losses are reached within `turning` frames, or at once. */
  aim(delays: readonly Frames[], losses: readonly LineLoss[], turning: Frames): void;
  /** Losses are what they were on their way to. */
  arrive(): void;
  process(run: NetworkRun): void;
}
