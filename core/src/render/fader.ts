import { Glide } from '../dsp/glide';
import type { Block } from '../effects/effect';
import type { Frames, Ratio } from '../units';
import { decibelsToGain } from '../units';
import type { Automation, PropertyReader } from './automation';
import { gainStep } from './automation';

const glideFrames: Frames = 512;

/** Gains for both sides at a pan position: the far side falls by a quarter cosine, the near side stays, so that nothing gets louder. */
export function panGains(pan: number): { left: Ratio; right: Ratio } {
  return { left: panGain(pan), right: panGain(-pan) };
}

/** Gain of the left side; the right one is the left of the mirrored position. */
function panGain(pan: number): Ratio {
  return pan <= 0 ? 1 : Math.cos((pan * Math.PI) / 2);
}

/** Gain and pan of a layer, a bus or the sound, or the gain of a send. Changes glide, automation is followed. */
export class Fader {
  private readonly left = new Glide(glideFrames);
  private readonly right = new Glide(glideFrames);
  private gain = 0;
  private pan = 0;
  private audible = true;
  private gainLane: PropertyReader | undefined;
  private panLane: PropertyReader | undefined;

  /** @param lanes the lanes that move its gain and its pan, if any */
  aim({ gain, pan }: { readonly gain: number; readonly pan: number }, audible: boolean, lanes: FaderLanes): void {
    this.gain = gain;
    this.pan = pan;
    this.audible = audible;
    this.gainLane = lanes.gain;
    this.panLane = lanes.pan;
    if (this.automated) return;
    const level = audible ? decibelsToGain(gain) : 0;
    this.left.aim(level * panGain(pan));
    this.right.aim(level * panGain(-pan));
  }

  private get automated(): boolean {
    return this.audible && (this.gainLane !== undefined || this.panLane !== undefined);
  }

  /** True while nothing can be heard through it. */
  get closed(): boolean {
    return !this.automated && !this.left.moving && !this.right.moving && this.left.current === 0 && this.right.current === 0;
  }

  /** Adds a block, scaled, to a sum. `time` is where on the time axis the block lies. */
  addTo(sum: Block, block: Block, time: Frames): void {
    const { frames } = block;
    const [left, right] = [this.left, this.right];
    if (!this.automated) {
      addScaled(sum.channels[0]!, block.channels[0]!, left, 0, frames);
      addScaled(sum.channels[1]!, block.channels[1]!, right, 0, frames);
      return;
    }
    for (let from = 0; from < frames; from += gainStep) {
      const to = Math.min(frames, from + gainStep);
      this.follow(time + from, time + to);
      addScaled(sum.channels[0]!, block.channels[0]!, left, from, to);
      addScaled(sum.channels[1]!, block.channels[1]!, right, from, to);
    }
  }

  /** Scales a block in place. */
  process(block: Block, time: Frames): void {
    const { frames } = block;
    const step = this.automated ? gainStep : frames;
    for (let from = 0; from < frames; from += step) {
      const to = Math.min(frames, from + step);
      if (this.automated) this.follow(time + from, time + to);
      scale(block.channels[0]!, this.left, from, to);
      scale(block.channels[1]!, this.right, from, to);
    }
  }

  /** Sets the glides on their way to where the lanes are at `to`. */
  private follow(from: Frames, to: Frames): void {
    if (this.left.untouched) this.aimAt(from, 1);
    this.aimAt(to, to - from);
  }

  private aimAt(time: Frames, frames: Frames): void {
    const level = decibelsToGain(this.gainLane?.at(time) ?? this.gain);
    const pan = this.panLane?.at(time) ?? this.pan;
    this.left.follow(level * panGain(pan), frames);
    this.right.follow(level * panGain(-pan), frames);
  }
}

export interface FaderLanes {
  readonly gain?: PropertyReader | undefined;
  readonly pan?: PropertyReader | undefined;
}

/** The lanes of gain and pan of a layer or a bus. */
export function faderLanes(automation: Automation, owner: string): FaderLanes {
  return { gain: automation.reader(owner, 'gain'), pan: automation.reader(owner, 'pan') };
}

/** Adds `part`, scaled by a gain that may be gliding, to `sum`. */
function addScaled(sum: Float32Array, part: Float32Array, gain: Glide, from: Frames, to: Frames): void {
  if (gain.moving) {
    for (let i = from; i < to; i++) sum[i]! += part[i]! * gain.next();
    return;
  }
  const steady = gain.current;
  if (steady !== 0) for (let i = from; i < to; i++) sum[i]! += part[i]! * steady;
}

function scale(samples: Float32Array, gain: Glide, from: Frames, to: Frames): void {
  if (gain.moving) {
    for (let i = from; i < to; i++) samples[i]! *= gain.next();
    return;
  }
  const steady = gain.current;
  if (steady !== 1) for (let i = from; i < to; i++) samples[i]! *= steady;
}
