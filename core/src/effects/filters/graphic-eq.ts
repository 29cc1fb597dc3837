import { minimumPhaseResponse } from '../../dsp/filters/minimum-phase';
import { partitionFrames } from '../../dsp/convolution/partitioned-convolution';
import type { NumberParameter, ParameterValues } from '../../project/parameters';
import { decibels, share } from '../../project/parameters';
import type { Decibels, Hertz } from '../../units';
import { defineEffect } from '../effect';
import { designedFilter } from './designed-filter';

/** Centres of the bands: thirds of an octave from 20 Hz to 20 kHz (IEC 61260). */
export const graphicBands: readonly Hertz[] = Array.from({ length: 31 }, (_, i) => 1_000 * 2 ** ((i - 17) / 3));
/** A third of an octave at 25 Hz is less than 6 Hz: responses of half this length cannot tell such neighbours apart where they differ much. */
const taps = 32_768;

const nameOf = (frequency: Hertz): string => {
  const rounded = Number(frequency.toPrecision(2));
  return rounded >= 1_000 ? `${rounded / 1_000}k` : String(rounded);
};

const sliders: Record<string, NumberParameter> = Object.fromEntries(
  graphicBands.map((frequency, i) => [`band${i + 1}`, decibels({ label: nameOf(frequency), min: -18, max: 18, default: 0 })]),
);

/** The curve through all sliders: level at a frequency, Catmull–Rom in octaves, level beyond the outermost ones. */
export function graphicCurve(values: ParameterValues): (frequency: Hertz) => Decibels {
  const gains = Float64Array.from(graphicBands, (_, i) => Number(values[`band${i + 1}`]) * Number(values['strength']));
  return (frequency) => levelThrough(gains, frequency);
}

function levelThrough(gains: Float64Array, frequency: Hertz): Decibels {
  const place = Math.max(0, Math.min(30, 17 + 3 * Math.log2(Math.max(1, frequency) / 1_000)));
  const i = Math.min(29, Math.floor(place));
  const t = place - i;
  const a = gains[Math.max(0, i - 1)]!;
  const b = gains[i]!;
  const c = gains[i + 1]!;
  const d = gains[Math.min(30, i + 2)]!;
  return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}

/**
 * Thirty-one sliders whose curve is one filter: a minimum-phase response is designed through all of them, so neighbours do not add up as
 * bands in series would. The sum hits every slider.
 */
export const graphicEq = defineEffect({
  id: 'graphic-eq',
  label: 'Graphic EQ',
  family: 'EQ and filters',
  channels: 'each',
  purpose: 'Shapes the whole spectrum by hand, a third of an octave at a time.',
  parameters: { ...sliders, strength: share({ label: 'Strength', max: 1.5, default: 1 }) },
  presets: [
    { name: 'Smile', values: { band4: 4, band5: 5, band6: 5, band7: 4, band8: 2, band24: 2, band25: 3, band26: 4, band27: 4, band28: 4 } },
    { name: 'No box', values: { band11: -2, band12: -4, band13: -5, band14: -5, band15: -3 } },
    {
      name: 'Small speaker',
      values: { band1: -18, band2: -18, band3: -18, band4: -16, band5: -12, band6: -8, band7: -4, band30: -8, band31: -14 },
    },
  ],
  latency: () => partitionFrames,
  tail: () => partitionFrames + taps,
  create: ({ sampleRate, channels }) =>
    designedFilter(channels, taps, JSON.stringify, (values: ParameterValues) =>
      minimumPhaseResponse(graphicCurve(values), taps, sampleRate),
    ),
});
