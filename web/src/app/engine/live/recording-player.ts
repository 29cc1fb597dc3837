import type { Frames } from '@tangled-choir/core';
import { frameCount, toStereo } from '@tangled-choir/core';
import type { FrameRange, SharedAudio } from '@tangled-choir/jobs';

/** Frames over which a part begins and ends, so that it does not click. */
const partFade: Frames = 144;

/** Plays a finished recording or a part of it: a source in Gather, a sibling in Kin. Its samples are read only when they are heard. */
export class RecordingPlayer {
  private readonly from: Frames;
  private readonly to: Frames;
  private readonly fadeIn: Frames;
  private readonly fadeOut: Frames;
  private next: Frames = 0;
  loop: FrameRange | undefined;

  constructor(
    private readonly audio: SharedAudio,
    part?: FrameRange,
  ) {
    const end = frameCount(audio);
    this.from = Math.max(0, Math.min(end, part?.from ?? 0));
    this.to = Math.max(this.from, Math.min(end, part?.to ?? end));
    this.fadeIn = this.from > 0 ? Math.min(partFade, this.frames / 2) : 0;
    this.fadeOut = part ? Math.min(partFade, this.frames / 2) : 0;
  }

  get frames(): Frames {
    return this.to - this.from;
  }

  /** Counted from the beginning of the part. */
  get position(): Frames {
    return this.next;
  }

  seek(position: Frames): void {
    this.next = Math.max(0, Math.min(position, this.frames));
  }

  /** It is heard from two loudspeakers, whatever it has. */
  readonly channels = 2;

  /** Writes the next frames; behind the end there is silence. Returns how many were written. */
  render([left, right]: readonly Float32Array[], frames: Frames): Frames {
    if (!left || !right) return frames;
    if (this.loop && this.next >= Math.min(this.loop.to, this.frames)) this.next = this.loop.from;
    const end = Math.min(this.next + frames, this.frames);
    left.fill(0, 0, frames);
    right.fill(0, 0, frames);
    const { sampleRate, channels } = this.audio;
    const heard = toStereo({ sampleRate, channels: channels.map((channel) => channel.subarray(this.from + this.next, this.from + end)) });
    left.set(heard.channels[0]!);
    right.set(heard.channels[1]!);
    this.fade(left, right, end);
    this.next += frames;
    return frames;
  }

  private fade(left: Float32Array, right: Float32Array, end: Frames): void {
    const { next, frames, fadeIn, fadeOut } = this;
    const scale = (at: Frames, gain: number): void => {
      left[at - next]! *= gain;
      right[at - next]! *= gain;
    };
    for (let at = next; at < Math.min(end, fadeIn); at++) scale(at, at / fadeIn);
    for (let at = Math.max(next, frames - fadeOut); at < end; at++) scale(at, (frames - 1 - at) / fadeOut);
  }
}
