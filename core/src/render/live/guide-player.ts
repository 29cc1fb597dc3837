import type { Audio } from '../../audio/audio';
import { frameCount } from '../../audio/audio';
import type { LayoutId } from '../../audio/layout';
import { channelsOf, toLayout } from '../../audio/layout';
import type { Block } from '../../dsp/block';
import { createBlock } from '../../dsp/block';
import type { Frames, Ratio } from '../../units';
import type { Loop } from './player';
import type { PlayedSound } from './slow-player';

/** Frames in which the guide goes over to another place, and to another level. */
const glide: Frames = 480;

/** Where a guide lies and how loud it is; a gain of 0 is silence. */
export interface GuidePlace {
  readonly start: Frames;
  readonly repeats: boolean;
  readonly gain: Ratio;
}

/**
 * Plays a guide beside a sound, in the sound's layout. It follows the position that it is asked for: where that jumps, it crossfades; changes of
 * its level glide. Also runs by itself, so that it can be slowed down like the sound.
 */
export class GuidePlayer implements PlayedSound {
  readonly channels: number;
  loop: Loop | undefined;
  position: Frames = 0;
  private readonly audio: Audio;
  private readonly block: Block;
  private place: GuidePlace;
  private gain: Ratio;
  /** Where it goes on when nobody jumps. */
  private expected: Frames | undefined;
  /** What fades away after a jump, and for how long yet. */
  private outgoing: Frames = 0;
  private fadeLeft: Frames = 0;

  constructor(audio: Audio, layout: LayoutId, place: GuidePlace) {
    this.audio = toLayout(audio, layout);
    this.channels = channelsOf(layout);
    this.block = createBlock(this.channels);
    this.place = place;
    this.gain = place.gain;
  }

  /** Takes another place and level; the level glides there. */
  set(place: GuidePlace): void {
    this.place = place;
  }

  /** What lies at `position` on the time axis, at most a block of it; valid until the next call. */
  at(position: Frames, frames: Frames): Block {
    const { block, audio } = this;
    if (this.expected !== undefined && this.expected !== position) {
      this.outgoing = this.expected;
      this.fadeLeft = glide;
    }
    block.frames = frames;
    const step = 1 / glide;
    let { gain } = this;
    for (let c = 0; c < this.channels; c++) {
      const from = audio.channels[c]!;
      const into = block.channels[c]!;
      gain = this.gain;
      for (let i = 0; i < frames; i++) {
        const rest = Math.max(0, this.fadeLeft - i) / glide;
        let sample = from[this.indexOf(position + i)] ?? 0;
        if (rest > 0) sample += ((from[this.indexOf(this.outgoing + i)] ?? 0) - sample) * rest;
        if (gain < this.place.gain) gain = Math.min(this.place.gain, gain + step);
        else if (gain > this.place.gain) gain = Math.max(this.place.gain, gain - step);
        into[i] = sample * gain;
      }
    }
    this.gain = gain;
    this.fadeLeft = Math.max(0, this.fadeLeft - frames);
    this.outgoing += frames;
    this.expected = position + frames;
    return block;
  }

  seek(position: Frames): void {
    this.position = position;
  }

  render(into: readonly Float32Array[], frames: Frames): Frames {
    const { loop } = this;
    let count = Math.min(frames, this.block.channels[0]!.length);
    if (loop && loop.to > loop.from) {
      if (this.position >= loop.to) this.position = loop.from;
      count = Math.min(count, loop.to - this.position);
    }
    const block = this.at(this.position, count);
    for (let c = 0; c < into.length; c++) into[c]!.set(block.channels[c]!.subarray(0, count));
    this.position += count;
    return count;
  }

  /** The frame of the recording that is heard at a place on the time axis; -1 where it is silent. */
  private indexOf(position: Frames): Frames {
    const length = frameCount(this.audio);
    const index = position - this.place.start;
    if (!this.place.repeats) return index >= 0 && index < length ? index : -1;
    return index < 0 || length === 0 ? -1 : index % length;
  }
}
