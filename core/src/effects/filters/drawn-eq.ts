import { minimumPhaseResponse } from '../../dsp/filters/minimum-phase';
import { linearPhaseResponse } from '../../dsp/filters/linear-phase';
import { partitionFrames } from '../../dsp/convolution/partitioned-convolution';
import type { CurveParameter, ParameterValues } from '../../project/parameters';
import { choice, readCurve, share } from '../../project/parameters';
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
    phase: { ...choice('Phase', ['minimum', 'linear'], 'minimum'), builds: true },
    taps: { ...choice('Taps', lengths, '4096'), builds: true },
  },
  presets: [
    { name: 'Slope down', values: { curve: drawnPoints.map((_, i) => Math.round((6 - i / 8) * 10) / 10).join(' ') } },
    { name: 'Hollow', values: { curve: drawnPoints.map((_, i) => (i > 42 && i < 66 ? -12 : 0)).join(' '), smoothness: 0.25 } },
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
      ({ curve, strength, smoothness }: ParameterValues) => `${curve}/${strength}/${smoothness}`,
      (values) => {
        const levels = drawnLevels(values);
        return design((frequency) => levelAlong(levels, frequency), length, sampleRate);
      },
    );
  },
});
