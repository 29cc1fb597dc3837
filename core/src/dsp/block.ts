import type { Frames } from '../units';

/** Longest block that a processor is given. */
export const maxBlock: Frames = 1024;

/** A stretch of planar samples that a processor changes in place; only the first `frames` of each channel count. */
export interface Block {
  readonly channels: readonly Float32Array[];
  frames: Frames;
}

/** An empty block with room for so many frames. */
export function createBlock(channels: number, room: Frames = maxBlock): Block {
  return { channels: Array.from({ length: channels }, () => new Float32Array(room)), frames: 0 };
}

/** Makes a block silent and as long as another. */
export function clearBlock(block: Block, frames: Frames): void {
  block.frames = frames;
  for (const channel of block.channels) channel.fill(0, 0, frames);
}

/** Adds a block to a sum of as many channels. */
export function addBlock(sum: Block, part: Block): void {
  for (let c = 0; c < sum.channels.length; c++) {
    const into = sum.channels[c]!;
    const from = part.channels[c]!;
    for (let i = 0; i < part.frames; i++) into[i]! += from[i]!;
  }
}

/** Puts what a block keeps in the place of what channels hold, with silence where it keeps less, and empties it. */
export function moveBlock(block: Block, into: readonly Float32Array[], frames: Frames): void {
  const kept = Math.min(frames, block.frames);
  for (let c = 0; c < into.length; c++) {
    into[c]!.set(block.channels[c]!.subarray(0, kept));
    into[c]!.fill(0, kept, frames);
  }
  block.frames = 0;
}
