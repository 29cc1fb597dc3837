import { minimumPhaseResponse } from '../../dsp/filters/minimum-phase';
import { linearPhaseResponse } from '../../dsp/filters/linear-phase';
import { partitionFrames } from '../../dsp/convolution/partitioned-convolution';
import type { CurveParameter, ParameterValues } from '../../project/parameters';
import { choice, decibels, hertz, readCurve, share } from '../../project/parameters';
import type { Decibels, Hertz } from '../../units';
import { defineEffect } from '../effect';
import { designedFilter } from './designed-filter';

const pointsPerOctave = 12;
/** Places of the drawn curve: twelve to the octave from 20 Hz to 20.48 kHz. */
export const drawnPoints: readonly Hertz[] = Array.from({ length: 10 * pointsPerOctave + 1 }, (_, i) => 20 * 2 ** (i / pointsPerOctave));
/** The widest smoothing, in octaves to one standard deviation. */
const widest = 1;
const lengths = ['512', '1024', '2048', '4096', '8192', '16384'] as const;

export const drawnCurve: CurveParameter = {
  kind: 'curve',
  label: 'Curve',
  unit: 'dB',
  points: drawnPoints.length,
  min: -36,
  max: 24,
  default: '',
};

/** The curve that is filtered by, at its points: smoothed along the octaves, then scaled as a whole. */
export function drawnLevels(values: ParameterValues): Decibels[] {
  const drawn = readCurve(drawnCurve, String(values['curve'] ?? '')) ?? [];
  const strength = Number(values['strength']);
  return smoothed(drawn, Number(values['smoothness']) * widest * pointsPerOctave).map((level) => level * strength);
}

/** A curve smoothed by a Gaussian with a standard deviation of `width` points; beyond its ends it goes on level. */
function smoothed(curve: readonly Decibels[], width: number): Decibels[] {
  if (width < 0.05) return [...curve];
  const reach = Math.ceil(3 * width);
  return curve.map((_, at) => {
    let [sum, weights] = [0, 0];
    for (let i = -reach; i <= reach; i++) {
      const weight = Math.exp(-0.5 * (i / width) ** 2);
      sum += weight * curve[Math.max(0, Math.min(curve.length - 1, at + i))]!;
      weights += weight;
    }
    return sum / weights;
  });
}

/** Level at a frequency: straight in octaves between the points, level beyond them. */
export function levelAlong(levels: readonly Decibels[], frequency: Hertz): Decibels {
  const place = Math.max(0, Math.min(levels.length - 1, pointsPerOctave * Math.log2(Math.max(1, frequency) / 20)));
  const before = Math.min(levels.length - 2, Math.floor(place));
  return levels[before]! + (levels[before + 1]! - levels[before]!) * (place - before);
}

/** Where the comb is as deep as its dial says; from there its tilt counts. */
const combPivot: Hertz = 1_000;
const deepestTeeth: Decibels = 36;

/**
 * How much the comb takes at a frequency: nothing at multiples of its spacing, most half-way between them; by its tilt the teeth get deeper
 * with every octave above 1 kHz, and shallower with every one below.
 */
function combLevel(
  { spacing, depth, tilt }: { readonly spacing: Hertz; readonly depth: Decibels; readonly tilt: Decibels },
  frequency: Hertz,
): Decibels {
  if (depth === 0) return 0;
  const here = Math.max(0, Math.min(deepestTeeth, depth + tilt * Math.log2(Math.max(20, frequency) / combPivot)));
  return -here * (0.5 - 0.5 * Math.cos((2 * Math.PI * frequency) / spacing));
}

/** What the drawn EQ does at any frequency: the curve that is filtered by, and the comb over it. */
export function drawnResponse(values: ParameterValues): (frequency: Hertz) => Decibels {
  const levels = drawnLevels(values);
  const comb = { spacing: Number(values['spacing']), depth: Number(values['depth']), tilt: Number(values['tilt']) };
  return (frequency) => levelAlong(levels, frequency) + combLevel(comb, frequency);
}

/**
 * A curve drawn by hand as one FIR filter, of minimum phase (cepstral method, see `minimumPhaseResponse`) or of linear phase (by
 * frequency sampling, see `linearPhaseResponse`), which keeps the shape of transients and lags by half its length.
 */
export const drawnEq = defineEffect({
  id: 'drawn-eq',
  label: 'Drawn EQ',
  family: 'EQ and filters',
  channels: 'each',
  purpose: 'Takes a curve as you draw it, or makes the sound match the spectrum of another.',
  parameters: {
    curve: { ...drawnCurve, fixed: true },
    strength: share({ label: 'Strength', max: 1.5, default: 1 }),
    smoothness: share({ label: 'Smoothness', default: 0.1 }),
    spacing: hertz({ label: 'Comb every', min: 50, max: 8_000, default: 400 }),
    depth: decibels({ label: 'Comb depth', min: 0, max: deepestTeeth, default: 0 }),
    tilt: decibels({ label: 'Comb tilt per octave', min: -12, max: 12, default: 0 }),
    phase: { ...choice('Phase', ['minimum', 'linear'], 'minimum'), builds: true },
    taps: { ...choice('Taps', lengths, '4096'), builds: true },
  },
  presets: [
    { name: 'Slope down', values: { curve: drawnPoints.map((_, i) => Math.round((6 - i / 8) * 10) / 10).join(' ') } },
    { name: 'Hollow', values: { curve: drawnPoints.map((_, i) => (i > 42 && i < 66 ? -12 : 0)).join(' '), smoothness: 0.25 } },
    { name: 'Teeth in a pipe', values: { spacing: 340, depth: 24, tilt: -3 } },
    { name: 'Comb of octaves', values: { curve: drawnPoints.map((_, i) => (i % 12 < 6 ? 3 : -9)).join(' '), smoothness: 0.05 } },
  ],
  latency: ({ phase, taps }) => partitionFrames + (phase === 'linear' ? Number(taps) / 2 : 0),
  tail: ({ taps }) => partitionFrames + Number(taps),
  create: ({ sampleRate, channels, values: { phase, taps } }) => {
    const length = Number(taps);
    const design = phase === 'linear' ? linearPhaseResponse : minimumPhaseResponse;
    return designedFilter(
      channels,
      length,
      ({ curve, strength, smoothness, spacing, depth, tilt }: ParameterValues) =>
        `${curve}/${strength}/${smoothness}${Number(depth) > 0 ? `/${spacing}/${depth}/${tilt}` : ''}`,
      (values) => design(drawnResponse(values), length, sampleRate),
    );
  },
});
