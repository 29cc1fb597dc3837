import type { NumberParameter, ParameterValues, ValuesOf } from '../project/parameters';
import { choice, decibels, factor, hertz, seconds, semitones, share, toggle } from '../project/parameters';
import { voiceFilterKinds } from './voice-filter';

/** A time that may be nothing at all. */
const time = (label: string, max: number, preset: number): NumberParameter => ({
  ...seconds({ label, min: 0, max, default: preset }),
  scale: 'linear',
});
/** A way's bend: straight at 0, late above, early below. */
const bend = (label: string, preset: number): NumberParameter => share({ label, min: -1, max: 1, default: preset });

const fixed = { of: 'follows', values: [false] } as const;
const filtered = { of: 'filter', values: voiceFilterKinds } as const;
const laddered = { of: 'filter', values: ['ladder'] } as const;

/** What every part has, whatever makes its sound. */
export const commonParameters = {
  level: decibels({ label: 'Level', min: -96, max: 12, default: -6 }),
  pan: { kind: 'number', label: 'Pan', unit: '', min: -1, max: 1, default: 0, scale: 'linear' },

  follows: { ...toggle('Follows note', true), builds: true },
  ratio: { ...factor({ label: 'Ratio', unit: '×', min: 1 / 64, max: 64, default: 1 }), needs: 'follows' },
  tuning: { ...semitones({ label: 'Tuning', min: -60, max: 60, default: 0 }) },
  frequency: { ...hertz({ label: 'Frequency', min: 0.01, max: 20_000, default: 440 }), needs: fixed },

  delay: time('Delay', 10, 0),
  attack: seconds({ label: 'Attack', min: 0.0001, max: 30, default: 0.002 }),
  hold: time('Hold', 10, 0),
  decay: seconds({ label: 'Decay', min: 0.0001, max: 60, default: 0.3 }),
  sustain: share({ label: 'Sustain', default: 1 }),
  release: seconds({ label: 'Release', min: 0.0001, max: 60, default: 0.05 }),
  attackBend: bend('Attack bend', 0),
  decayBend: bend('Decay bend', -0.5),
  releaseBend: bend('Release bend', -0.5),
  keyTimes: share({ label: 'High shorter', min: -1, max: 1, default: 0 }),

  strengthLevel: decibels({ label: 'Softest', min: -60, max: 0, default: -24 }),
  strengthTimes: share({ label: 'Soft slower', min: -1, max: 1, default: 0 }),

  filter: { ...choice('Filter', ['off', ...voiceFilterKinds], 'off'), builds: true },
  cutoff: { ...hertz({ label: 'Cut-off', min: 20, max: 20_000, default: 2_000 }), needs: filtered },
  resonance: { ...share({ label: 'Resonance', default: 0.1 }), needs: filtered },
  drive: { ...decibels({ label: 'Drive', min: 0, max: 36, default: 0 }), needs: laddered },
  keyCutoff: { ...share({ label: 'By key', min: 0, max: 1, default: 0 }), needs: filtered },
  envelopeCutoff: { ...semitones({ label: 'By envelope', min: -96, max: 96, default: 0 }), needs: filtered },
  strengthCutoff: { ...semitones({ label: 'By strength', min: 0, max: 60, default: 0 }), needs: filtered },
} as const;

export type CommonValues = ValuesOf<typeof commonParameters>;

/** Tells that values are those of a part; every set that `resolveValues` makes of a part's parameters is. */
export function isCommon(values: ParameterValues): values is CommonValues & ParameterValues {
  return typeof values['level'] === 'number' && typeof values['follows'] === 'boolean';
}
