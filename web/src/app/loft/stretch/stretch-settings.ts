import type { EchoSettings, ParameterSet, StackedOctave } from '@tangled-choir/core';
import { count, decibels, factor, longestStretched, seconds, semitones, toggle } from '@tangled-choir/core';
import type { SettingValues } from '../../ui/settings-dialog';

const numberOf = (values: SettingValues, key: string): number => Number(values[key]);

export const lengthParameters = (least: number, most: number, duration: number): ParameterSet => ({
  duration: seconds({ label: 'Lasts', min: least, max: Math.min(longestStretched, most), default: duration }),
});

const octaves = [-2, -1, 1, 2] as const;
const octaveNames = { '-2': 'Two octaves below', '-1': 'An octave below', '1': 'An octave above', '2': 'Two octaves above' } as const;
const usualLevel = { '-2': -6, '-1': -3, '1': -12, '2': -18 } as const;

export const stackParameters: ParameterSet = Object.fromEntries(
  octaves.flatMap((octave) => [
    [`on${octave}`, toggle(octaveNames[octave], octave === -1 || octave === 1)],
    [`level${octave}`, { ...decibels({ label: '… level', min: -48, max: 12, default: usualLevel[octave] }), needs: `on${octave}` }],
  ]),
);

export const readStack = (values: SettingValues): StackedOctave[] =>
  octaves
    .filter((octave) => values[`on${octave}`] === true)
    .map((octave) => ({ octaves: octave, gain: numberOf(values, `level${octave}`) }));

export const echoParameters = (interval: number): ParameterSet => ({
  times: count({ label: 'Times', min: 1, max: 100, default: 4 }),
  interval: seconds({ label: 'Interval', min: 0.005, max: 30, default: interval }),
  levelStep: decibels({ label: 'Level step', min: -24, max: 6, default: -4 }),
  pitchStep: semitones({ label: 'Pitch step', min: -12, max: 12, default: -2 }),
  lengthStep: factor({ label: 'Length step', unit: '×', min: 0.5, max: 2, default: 1 }),
});

export const readEcho = (values: SettingValues): EchoSettings => ({
  times: Math.round(numberOf(values, 'times')),
  interval: numberOf(values, 'interval'),
  levelStep: numberOf(values, 'levelStep'),
  pitchStep: numberOf(values, 'pitchStep'),
  lengthStep: numberOf(values, 'lengthStep'),
});

export const swellParameters: ParameterSet = {
  decay: seconds({ label: 'Room', min: 0.3, max: 12, default: 2.5 }),
  rise: semitones({ label: 'Rises by', min: 0, max: 24, default: 0 }),
};
