import type { FrozenLayer, StretchedPiece } from '@tangled-choir/core';
import type { SharedAudio, SoundInput } from '@tangled-choir/jobs';

/** A sound with all that is needed to play it. */
export interface RenderableSound extends SoundInput {
  /** What is heard of treated clips that are not there yet, by their keys. */
  readonly pieces?: ReadonlyMap<string, StretchedPiece>;
  /** Layers that are played as they were rendered, by id. */
  readonly frozen?: ReadonlyMap<string, FrozenLayer>;
  /** The audio of the sound's guide, once it is there. */
  readonly guide?: { readonly hash: string; readonly audio: SharedAudio };
}
