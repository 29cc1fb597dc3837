import type { Seconds, Unit } from '../units';

/** Size to which frames are scaled before they are compared: enough to see what moves, too little to see grain. */
export const lumaWidth = 64;
export const lumaHeight = 36;

/** Raise it when a picture would be measured otherwise: what was kept before is measured anew then. */
export const motionVersion = 1;

/** How much a picture moves, and how bright it is, frame by frame. */
export interface MotionTrack {
  readonly times: readonly Seconds[];
  /** Mean change of brightness since the frame before, 0 to 1. */
  readonly motion: readonly Unit[];
  /** Share of the picture that changed visibly since the frame before. */
  readonly changed: readonly Unit[];
  readonly brightness: readonly Unit[];
}

/** Something that happens in a picture at once. */
export interface Moment {
  readonly time: Seconds;
  readonly kind: 'cut' | 'flash' | 'movement';
  /** 0 to 1. */
  readonly strength: Unit;
}

const visibleChange = 0.06;

/** The luma plane of a decoded frame, one byte a pixel, and between which bytes it goes from black to white. */
export interface LumaPlane {
  readonly bytes: Uint8Array;
  readonly width: number;
  readonly height: number;
  /** Bytes from line to line. */
  readonly stride: number;
  readonly black: number;
  readonly white: number;
}

/** Compares frame after frame of a picture. */
export class MotionMeter {
  private readonly small = new Float32Array(lumaWidth * lumaHeight);
  private readonly luma = [new Float32Array(lumaWidth * lumaHeight), new Float32Array(lumaWidth * lumaHeight)];
  private readonly times: Seconds[] = [];
  private readonly motion: Unit[] = [];
  private readonly changed: Unit[] = [];
  private readonly brightness: Unit[] = [];

  /** Adds a frame of `lumaWidth` × `lumaHeight` RGBA pixels. */
  add(time: Seconds, pixels: ArrayLike<number>): void {
    const { small } = this;
    // Weights of ITU-R BT.709.
    for (let i = 0; i < small.length; i++)
      small[i] = (0.2126 * pixels[4 * i]! + 0.7152 * pixels[4 * i + 1]! + 0.0722 * pixels[4 * i + 2]!) / 255;
    this.compare(time);
  }

  /** Adds a frame of any size by its luma: each small pixel is the mean of those that it stands for. */
  addLuma(time: Seconds, { bytes, width, height, stride, black, white }: LumaPlane): void {
    const { small } = this;
    for (let y = 0; y < lumaHeight; y++) {
      const top = Math.floor((y * height) / lumaHeight);
      const bottom = Math.max(top + 1, Math.floor(((y + 1) * height) / lumaHeight));
      for (let x = 0; x < lumaWidth; x++) {
        const left = Math.floor((x * width) / lumaWidth);
        const right = Math.max(left + 1, Math.floor(((x + 1) * width) / lumaWidth));
        let sum = 0;
        for (let line = top; line < bottom; line++) for (let i = line * stride + left; i < line * stride + right; i++) sum += bytes[i]!;
        const mean = sum / ((bottom - top) * (right - left));
        small[y * lumaWidth + x] = Math.min(1, Math.max(0, (mean - black) / (white - black)));
      }
    }
    this.compare(time);
  }

  private compare(time: Seconds): void {
    const now = this.luma[this.times.length % 2]!;
    const before = this.luma[(this.times.length + 1) % 2]!;
    let sum = 0;
    let difference = 0;
    let count = 0;
    for (let i = 0; i < now.length; i++) {
      const value = this.small[i]!;
      const change = Math.abs(value - before[i]!);
      now[i] = value;
      sum += value;
      difference += change;
      if (change > visibleChange) count++;
    }
    const first = this.times.length === 0;
    this.times.push(time);
    this.motion.push(first ? 0 : difference / now.length);
    this.changed.push(first ? 0 : count / now.length);
    this.brightness.push(sum / now.length);
  }

  finish(): MotionTrack {
    return { times: this.times, motion: this.motion, changed: this.changed, brightness: this.brightness };
  }
}

const reach = 12;
const cutShare = 0.2;
const flashStep = 0.12;
/** Frames within which a flash is over. */
const flashFrames = 6;

/**
 * Moments that stand out of their surroundings: flashes (the picture gets much brighter and falls back within a few frames), cuts (a large
 * part of it changes from one frame to the next and stays), and movements (the beginnings of rises of motion above what went before).
 */
export function findMoments({ times, motion, changed, brightness }: MotionTrack): Moment[] {
  const moments: Moment[] = [];
  let lastFlash = -Infinity;
  for (let n = 1; n < times.length; n++) {
    const median = medianOf(motion.slice(Math.max(0, n - reach), n));
    const rise = brightness[n]! - brightness[n - 1]!;
    const later = Math.min(...brightness.slice(n + 1, n + 1 + flashFrames), brightness[n]!);
    if (rise > flashStep && later < brightness[n]! - rise / 2) {
      moments.push({ time: times[n]!, kind: 'flash', strength: Math.min(1, rise * 2) });
      lastFlash = n;
      continue;
    }
    // The end of a flash is no cut.
    if (n - lastFlash <= flashFrames && rise < 0) continue;
    const strength = motion[n]! - median;
    if (changed[n]! > cutShare && strength > 2 * median) moments.push({ time: times[n]!, kind: 'cut', strength: Math.min(1, changed[n]!) });
    else if (strength > 0.004 && motion[n]! > 3 * median + 0.002 && isFirst(motion, n))
      moments.push({ time: times[n]!, kind: 'movement', strength: Math.min(1, strength * 12) });
  }
  return moments;
}

function medianOf(values: readonly number[]): number {
  return [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
}

/** Only the first frame of a movement counts. */
function isFirst(motion: readonly Unit[], n: number): boolean {
  return motion.slice(Math.max(0, n - 4), n).every((value) => value < motion[n]! * 0.6);
}
