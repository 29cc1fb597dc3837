import type { Block } from '../dsp/block';
import type { Layer } from '../project/schema';
import type { Frames } from '../units';
import type { Moves } from './automation';

/** What a layer gives in front of its chain: mixed recordings, or a patch that plays notes. */
export interface LayerContent {
  readonly firstStart: Frames;
  /** Behind it there is nothing but silence. */
  readonly lastEnd: Frames;
  /** True while a recording or a treatment is not there yet, or only a piece of it. */
  readonly waits: boolean;
  /** True while something is silent all along for that reason. */
  readonly lacks: boolean;
  /** Takes over what can change without a new structure. */
  aim(layer: Layer, automation: Moves): void;
  /** True for the same clips at the same places, whatever is done to them. */
  hasClipsOf(other: LayerContent): boolean;
  isSounding(position: Frames, frames: Frames): boolean;
  /** Adds what falls into a block that begins at `position`. */
  mix(position: Frames, block: Block): void;
}
