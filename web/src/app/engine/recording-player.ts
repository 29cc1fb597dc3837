import type { Frames } from '@tangled-choir/core';
import { toStereo } from '@tangled-choir/core';
import type { SharedAudio } from './protocol';

/** Plays a finished recording: a source in Gather, a sibling in Kin. */
export class RecordingPlayer {
  private readonly left: Float32Array;
  private readonly right: Float32Array;
  private next: Frames = 0;
  loop: { readonly from: Frames; readonly to: Frames } | undefined;

  constructor(audio: SharedAudio) {
    const stereo = toStereo(audio);
    this.left = stereo.channels[0]!;
    this.right = stereo.channels[1]!;
  }

  get frames(): Frames {
    return this.left.length;
  }

  get position(): Frames {
    return this.next;
  }

  seek(position: Frames): void {
    this.next = Math.max(0, Math.min(position, this.frames));
  }

  /** Writes the next frames; behind the end there is silence. Returns how many were written. */
  render(left: Float32Array, right: Float32Array, frames: Frames): Frames {
    if (this.loop && this.next >= Math.min(this.loop.to, this.frames)) this.next = this.loop.from;
    const end = Math.min(this.next + frames, this.frames);
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
    left.set(this.left.subarray(this.next, end));
    right.set(this.right.subarray(this.next, end));
    this.next += frames;
    return frames;
  }
}
