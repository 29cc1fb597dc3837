import { Glide } from '../dsp/glide';
import type { Block } from '../effects/effect';
import type { Frames, Ratio } from '../units';
import { decibelsToGain } from '../units';
import type { Moves, PropertyReader } from './automation';
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

/** Gain and pan of a layer, a bus, a branch or the sound, or the gain of a send. Changes glide, automation is followed. */
export class Fader {
  /** Per channel; even ones are left, odd ones right. */
  private readonly sides: readonly Glide[];
  private gain = 0;
  private pan = 0;
  private audible = true;
  private gainLane: PropertyReader | undefined;
  private panLane: PropertyReader | undefined;

  constructor(channels = 2) {
    this.sides = Array.from({ length: channels }, () => new Glide(glideFrames));
  }

  /** @param lanes the lanes that move its gain and its pan, if any */
  aim({ gain, pan }: { readonly gain: number; readonly pan: number }, audible: boolean, lanes: FaderLanes): void {
    this.gain = gain;
    this.pan = this.sides.length === 1 ? 0 : pan;
    this.audible = audible;
    this.gainLane = lanes.gain;
    this.panLane = this.sides.length === 1 ? undefined : lanes.pan;
    this.aimSides();
  }

  /** What was changed while nothing sounded need not glide. */
  settle(): void {
    for (const side of this.sides) side.reset();
    this.aimSides();
  }

  private aimSides(): void {
    if (this.automated) return;
    const level = this.audible ? decibelsToGain(this.gain) : 0;
    for (let c = 0; c < this.sides.length; c++) this.sides[c]!.aim(level * sideGain(this.pan, c));
  }

  private get automated(): boolean {
    return this.audible && (this.gainLane !== undefined || this.panLane !== undefined);
  }

  /** True while nothing can be heard through it. */
  get closed(): boolean {
    if (this.automated) return false;
    for (const side of this.sides) if (side.moving || side.current !== 0) return false;
    return true;
  }

  /** Adds a block, scaled, to a sum. `time` is where on the time axis the block lies. */
  addTo(sum: Block, block: Block, time: Frames): void {
    const { frames } = block;
    const step = this.automated ? gainStep : frames;
    for (let from = 0; from < frames; from += step) {
      const to = Math.min(frames, from + step);
      if (this.automated) this.follow(time + from, time + to);
      for (let c = 0; c < this.sides.length; c++) addScaled(sum.channels[c]!, block.channels[c]!, this.sides[c]!, from, to);
    }
  }

  /** Scales a block in place. */
  process(block: Block, time: Frames): void {
    const { frames } = block;
    const step = this.automated ? gainStep : frames;
    for (let from = 0; from < frames; from += step) {
      const to = Math.min(frames, from + step);
      if (this.automated) this.follow(time + from, time + to);
      for (let c = 0; c < this.sides.length; c++) scale(block.channels[c]!, this.sides[c]!, from, to);
    }
  }

  /** Sets the glides on their way to where the lanes are at `to`. */
  private follow(from: Frames, to: Frames): void {
    if (this.sides[0]!.untouched) this.aimAt(from, 1);
    this.aimAt(to, to - from);
  }

  private aimAt(time: Frames, frames: Frames): void {
    const level = decibelsToGain(this.gainLane?.at(time) ?? this.gain);
    const pan = this.panLane?.at(time) ?? this.pan;
    for (let c = 0; c < this.sides.length; c++) this.sides[c]!.follow(level * sideGain(pan, c), frames);
  }
}

function sideGain(pan: number, channel: number): Ratio {
  return panGain(channel % 2 ? -pan : pan);
}

export interface FaderLanes {
  readonly gain?: PropertyReader | undefined;
  readonly pan?: PropertyReader | undefined;
}

/** The lanes of gain and pan of a layer or a bus. */
export function faderLanes(automation: Moves, owner: string): FaderLanes {
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
