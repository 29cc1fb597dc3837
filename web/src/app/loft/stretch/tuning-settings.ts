import type { ParameterSet, Scale, TuneOptions } from '@tangled-choir/core';
import { choice, hertz, noteToFrequency, pitchClasses, scaleKinds, seconds, share, toggle } from '@tangled-choir/core';
import type { SettingValues } from '../../ui/settings-dialog';

export const tuneGoals = { note: 'A note', scale: 'A scale', key: 'The key of the sound', layer: 'Another layer' } as const;
export type TuneGoal = keyof typeof tuneGoals;

const goalIs = (goal: string) => ({ of: 'goal', values: [goal] });

/** @param layers names of the layers that can be tuned to */
export function tuneParameters(layers: readonly string[], hasKey: boolean, note: number): ParameterSet {
  const { note: aNote, scale, key, layer } = tuneGoals;
  const goals = [aNote, ...(layers.length > 0 ? [layer] : []), ...(hasKey ? [key] : []), scale];
  return {
    goal: choice('To', goals, goals[0]!),
    note: { ...hertz({ label: 'Note', min: 20, max: 8_000, default: noteToFrequency(note) }), needs: goalIs(aNote) },
    anyOctave: { ...toggle('In the nearest octave', true), needs: goalIs(aNote) },
    layer: { ...choice('Layer', layers, layers[0] ?? ''), needs: goalIs(layer) },
    root: { ...choice('Root', pitchClasses, 'C'), needs: goalIs(scale) },
    scale: { ...choice('Scale', scaleKinds, 'minor'), needs: goalIs(scale) },
    amount: share({ label: 'How far', default: 1 }),
    follow: toggle('Every moment, not only the whole', false),
    time: { ...seconds({ label: 'Within', min: 0, max: 2, default: 0 }), scale: 'linear', needs: 'follow' },
    keepVibrato: { ...toggle('Keep vibrato', true), needs: 'follow' },
  };
}

export function goalOf({ goal }: SettingValues): TuneGoal {
  const found = Object.entries(tuneGoals).find(([, name]) => name === goal);
  // A choice has one of its options, and all of them are names of goals.
  return (found?.[0] ?? 'note') as TuneGoal;
}

export function scaleOf(values: SettingValues): Scale {
  const kind = scaleKinds.find((each) => each === values['scale']) ?? 'minor';
  return { root: Math.max(0, pitchClasses.indexOf(String(values['root']))), kind };
}

export function optionsOf(values: SettingValues): TuneOptions {
  return {
    amount: Number(values['amount']),
    follow: values['follow'] === true,
    time: Number(values['time']),
    keepVibrato: values['keepVibrato'] === true,
  };
}
