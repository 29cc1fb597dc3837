import type { Side } from '../audio/layout';
import { sidesOf } from '../audio/layout';
import { Glide } from '../dsp/glide';
import type { Block } from '../dsp/block';
import type { Frames, Ratio } from '../units';
import { decibelsToGain } from '../units';
import type { Moves, PropertyReader } from './automation';
import { gainStep } from './automation';

const glideFrames: Frames = 512;

/** Gain of a loudspeaker at a pan position: the far side falls by a quarter cosine, the near side and the middle stay, so that nothing gets louder. */
export function panGain(pan: number, side: Side): Ratio {
  const away = -pan * side;
  return away <= 0 ? 1 : Math.cos((away * Math.PI) / 2);
}

/** Gain and pan of a layer, a bus, a branch or the sound, or the gain of a send. Changes glide, automation is followed. */
export class Fader {
  private readonly sides: readonly Side[];
  /** Gains per channel. */
  private readonly gains: readonly Glide[];
  /** False where all channels are in the middle: there is nothing to pan. */
  private readonly pans: boolean;
  private gain = 0;
  private pan = 0;
  private audible = true;
  private gainLane: PropertyReader | undefined;
  private panLane: PropertyReader | undefined;
  /** The stretch of the time axis, one of those of `gainStep` frames, whose end the gains are on their way to. */
  private cell = NaN;

  constructor(channels: number) {
    this.sides = sidesOf(channels);
    this.gains = this.sides.map(() => new Glide(glideFrames));
    this.pans = this.sides.some((side) => side !== 0);
  }

  /** @param lanes the lanes that move its gain and its pan, if any */
  aim({ gain, pan }: { readonly gain: number; readonly pan: number }, audible: boolean, lanes: FaderLanes): void {
    this.gain = gain;
    this.pan = this.pans ? pan : 0;
    this.audible = audible;
    this.gainLane = lanes.gain;
    this.panLane = this.pans ? lanes.pan : undefined;
    this.cell = NaN;
    this.aimSides();
  }

  /** What was changed while nothing sounded need not glide. */
  settle(): void {
    for (const gain of this.gains) gain.reset();
    this.cell = NaN;
    this.aimSides();
  }

  private aimSides(): void {
    if (this.automated) return;
    const level = this.audible ? decibelsToGain(this.gain) : 0;
    for (let c = 0; c < this.sides.length; c++) this.gains[c]!.aim(level * panGain(this.pan, this.sides[c]!));
  }

  private get automated(): boolean {
    return this.audible && (this.gainLane !== undefined || this.panLane !== undefined);
  }

  /** True while nothing can be heard through it. */
  get closed(): boolean {
    if (this.automated) return false;
    for (const gain of this.gains) if (gain.moving || gain.current !== 0) return false;
    return true;
  }

  /** Adds a block, scaled, to a sum. `time` is where on the time axis the block lies. */
  addTo(sum: Block, block: Block, time: Frames): void {
    const { frames } = block;
    for (let from = 0, to = 0; from < frames; from = to) {
      to = this.automated ? Math.min(frames, this.follow(time + from) - time) : frames;
      for (let c = 0; c < this.sides.length; c++) addScaled(sum.channels[c]!, block.channels[c]!, this.gains[c]!, from, to);
    }
  }

  /** Scales a block in place. */
  process(block: Block, time: Frames): void {
    const { frames } = block;
    for (let from = 0, to = 0; from < frames; from = to) {
      to = this.automated ? Math.min(frames, this.follow(time + from) - time) : frames;
      for (let c = 0; c < this.sides.length; c++) scale(block.channels[c]!, this.gains[c]!, from, to);
    }
  }

  /**
   * Sets the glides on their way to where the lanes are some frames later, and returns when that is. Such moments are counted from the
   * beginning of the time axis, so that it is heard alike in blocks of any size.
   */
  private follow(time: Frames): Frames {
    const cell = Math.floor(time / gainStep);
    const end = (cell + 1) * gainStep;
    if (this.gains[0]!.untouched) this.aimAt(time, 1);
    else if (cell === this.cell) return end;
    this.cell = cell;
    this.aimAt(end, end - time);
    return end;
  }

  private aimAt(time: Frames, frames: Frames): void {
    const level = decibelsToGain(this.gainLane?.at(time) ?? this.gain);
    const pan = this.panLane?.at(time) ?? this.pan;
    for (let c = 0; c < this.sides.length; c++) this.gains[c]!.follow(level * panGain(pan, this.sides[c]!), frames);
  }
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
