import { createBlock, maxBlock } from '../dsp/block';
import type { ParameterValues } from '../project/parameters';
import type { Frames, Hertz } from '../units';
import { gainToDecibels } from '../units';
import type { Effect, Processor } from './effect';

/** A place in a picture: along its x and its y axis. */
export type PicturePoint = readonly [x: number, y: number];

export interface PictureAxis {
  readonly unit: 'dB' | 'Hz' | 's' | '';
  readonly from: number;
  readonly to: number;
  readonly scale: 'linear' | 'log';
}

/** What a line or a stem is: what the effect makes of the sound, the other side of it, or the sound as it was. */
export type PictureRole = 'main' | 'other side' | 'before';

export interface PictureCurve {
  readonly role: PictureRole;
  readonly points: readonly PicturePoint[];
}

/** A picture of what an effect does with the values that it has. */
export interface EffectPicture {
  /** What is seen, in one line. */
  readonly title: string;
  readonly x: PictureAxis;
  readonly y: PictureAxis;
  readonly curves: readonly PictureCurve[];
  /** Single moments, such as echoes: upright lines from the bottom to their heights. */
  readonly stems?: readonly { readonly role: PictureRole; readonly at: number; readonly height: number }[];
}

/** A curve through `count` + 1 evenly spaced places of an axis, on a logarithmic one by equal intervals. */
export function curveAlong(axis: PictureAxis, count: number, role: PictureRole, height: (x: number) => number): PictureCurve {
  const { from, to, scale } = axis;
  const place = (share: number): number => (scale === 'log' ? from * Math.pow(to / from, share) : from + (to - from) * share);
  return {
    role,
    points: Array.from({ length: count + 1 }, (_, i): PicturePoint => {
      const x = place(i / count);
      return [x, height(x)];
    }),
  };
}

export const linearAxis = (unit: PictureAxis['unit'], from: number, to: number): PictureAxis => ({ unit, from, to, scale: 'linear' });
export const logAxis = (unit: PictureAxis['unit'], from: number, to: number): PictureAxis => ({ unit, from, to, scale: 'log' });

const hitRate: Hertz = 12_000;
const hitLength: Frames = 0.8 * hitRate;
const hitStart: Frames = 0.05 * hitRate;
/** Stretches of so many frames become one point. */
const hitColumn: Frames = 60;

/**
 * What an effect makes of a hit that rises at once and falls by 60 dB in half a second: the level in dB over time, before and after, from the
 * effect's own processor at a low rate.
 */
export function pictureOfHit<V extends ParameterValues>(
  create: (context: { readonly sampleRate: Hertz; readonly channels: number; readonly values: V }) => Processor<V>,
  values: V,
  title: string,
): EffectPicture {
  const hit = Float32Array.from({ length: hitLength }, (_, i) =>
    i < hitStart ? 0 : 0.5 * 10 ** ((-3 * (i - hitStart)) / (0.5 * hitRate)) * (i % 2 ? -1 : 1),
  );
  const out = hit.slice();
  const processor = create({ sampleRate: hitRate, channels: 1, values });
  const block = createBlock(1);
  for (let at = 0; at < out.length; at += maxBlock) {
    block.frames = Math.min(maxBlock, out.length - at);
    block.channels[0]!.set(out.subarray(at, at + block.frames));
    processor.process(block, values);
    out.set(block.channels[0]!.subarray(0, block.frames), at);
  }
  const y = linearAxis('dB', -72, 18);
  const levels = (samples: Float32Array): PicturePoint[] =>
    Array.from({ length: Math.floor(samples.length / hitColumn) }, (_, column): PicturePoint => {
      let peak = 0;
      for (let i = 0; i < hitColumn; i++) peak = Math.max(peak, Math.abs(samples[column * hitColumn + i]!));
      return [(column * hitColumn) / hitRate, Math.max(y.from, gainToDecibels(peak))];
    });
  return {
    title,
    x: linearAxis('s', 0, hitLength / hitRate),
    y,
    curves: [
      { role: 'before', points: levels(hit) },
      { role: 'main', points: levels(out) },
    ],
  };
}

/** The picture of an effect with its values; undefined where it has none. */
export function pictureOf(effect: Effect, values: ParameterValues): EffectPicture | undefined {
  return effect.picture?.(values);
}
