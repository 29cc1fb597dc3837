import type { ChopSettings, Division, Hole, ParameterSet, StutterSettings } from '@tangled-choir/core';
import { choice, count, decibels, divisionNames, seconds, semitones, share, sliceOrders, stutterShapes, toggle } from '@tangled-choir/core';
import type { SettingValues } from '../../ui/settings-dialog';

const whole = (label: string, min: number, max: number, preset: number) => count({ label, min, max, default: preset });
const numberOf = (values: SettingValues, key: string): number => {
  const value = values[key];
  return typeof value === 'number' ? value : 0;
};
const oneOf = <T extends string>(values: SettingValues, key: string, options: readonly T[]): T =>
  options.find((option) => option === values[key]) ?? options[0]!;

export const repeatParameters = (interval: number): ParameterSet => ({
  times: whole('Times', 1, 100, 3),
  interval: seconds({ label: 'Interval', min: 0.005, max: 30, default: interval }),
  levelStep: decibels({ label: 'Level step', min: -24, max: 24, default: -3 }),
  pitchStep: semitones({ label: 'Pitch step', min: -12, max: 12, default: 0 }),
});

export const readRepeat = (values: SettingValues) => ({
  times: Math.round(numberOf(values, 'times')),
  interval: numberOf(values, 'interval'),
  levelStep: numberOf(values, 'levelStep'),
  pitchStep: numberOf(values, 'pitchStep'),
});

export const chopParameters: ParameterSet = {
  division: choice('Note', divisionNames, '1/8'),
  denser: whole('Halvings', 0, 4, 0),
  gap: share({ label: 'Gap', max: 0.95, default: 0 }),
  order: choice('Order', sliceOrders, 'as recorded'),
  every: whole('Change every', 0, 16, 0),
  everyPitch: semitones({ label: '… pitch', min: -24, max: 24, default: 0 }),
  everyReversed: toggle('… reversed', false),
  seed: whole('Seed', 1, 999, 1),
};

export const readChop = (values: SettingValues): ChopSettings => ({
  division: oneOf<Division>(values, 'division', divisionNames),
  denser: Math.round(numberOf(values, 'denser')),
  gap: numberOf(values, 'gap'),
  order: oneOf(values, 'order', sliceOrders),
  every: Math.round(numberOf(values, 'every')),
  everyPitch: numberOf(values, 'everyPitch'),
  everyReversed: values['everyReversed'] === true,
  seed: Math.round(numberOf(values, 'seed')),
});

export const stutterParameters: ParameterSet = {
  division: choice('Longest note', divisionNames, '1/8'),
  steps: whole('Halvings', 1, 6, 2),
  shape: choice('Shape', stutterShapes, 'halve'),
};

export const readStutter = (values: SettingValues): StutterSettings => ({
  division: oneOf<Division>(values, 'division', divisionNames),
  steps: Math.round(numberOf(values, 'steps')),
  shape: oneOf(values, 'shape', stutterShapes),
});

/** The hole, and one switch for each layer that it could be cut into. */
export const carveParameters = (layers: readonly { id: string; name: string }[]): ParameterSet => ({
  before: seconds({ label: 'Before', min: 0.001, max: 1, default: 0.01 }),
  after: seconds({ label: 'After', min: 0.001, max: 2, default: 0.08 }),
  fade: seconds({ label: 'Fade', min: 0.003, max: 0.5, default: 0.015 }),
  depth: decibels({ label: 'Depth', min: -60, max: -1, default: -60 }),
  ...Object.fromEntries(layers.map((layer) => [layer.id, toggle(layer.name, true)])),
});

export const readHole = (values: SettingValues, time: number): Hole => ({
  time,
  before: numberOf(values, 'before'),
  after: numberOf(values, 'after'),
  fade: numberOf(values, 'fade'),
  depth: numberOf(values, 'depth'),
});

export const loopParameters = (end: number, from: number, to: number, duration: number): ParameterSet => ({
  from: seconds({ label: 'From', min: 0, max: end, default: from }),
  to: seconds({ label: 'To', min: 0, max: end, default: to }),
  crossfade: seconds({ label: 'Crossfade', min: 0.001, max: Math.max(0.01, end / 2), default: Math.min(0.1, end / 8) }),
  duration: seconds({ label: 'Lasts', min: 0.05, max: 600, default: duration }),
});

export const readLoop = (values: SettingValues) => ({
  from: numberOf(values, 'from'),
  to: numberOf(values, 'to'),
  crossfade: numberOf(values, 'crossfade'),
  duration: numberOf(values, 'duration'),
});

export const fitParameters = (duration: number): ParameterSet => ({
  duration: seconds({ label: 'Lasts', min: 0.005, max: 600, default: duration }),
});
