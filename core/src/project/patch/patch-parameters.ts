import type { NumberParameter } from '../parameters';
import { choice, count, factor, hertz, seconds, semitones, share } from '../parameters';
import { mostModulation } from './patch-schema';

export const playModes = ['many voices', 'one voice', 'one voice, bound'] as const;
export const mostVoices = 32;

const inUnison = { of: 'unison', values: [2, 3, 4, 5, 6, 7, 8] } as const;

/** What all parts of a patch share. */
export const patchParameters = {
  mode: { ...choice('Plays', playModes, 'many voices'), builds: true },
  voices: {
    ...count({ label: 'Voices', min: 1, max: mostVoices, default: 12 }),
    builds: true,
    needs: { of: 'mode', values: ['many voices'] },
  },
  unison: { ...count({ label: 'Unison', min: 1, max: 8, default: 1 }), builds: true },
  detune: { ...semitones({ label: 'Detune', min: 0, max: 1, default: 0.15 }), needs: inUnison },
  apart: { ...share({ label: 'Apart', default: 0.7 }), needs: inUnison },
  glide: { ...seconds({ label: 'Glide', min: 0, max: 5, default: 0 }), scale: 'linear' },
  bend: semitones({ label: 'Bend', min: -24, max: 24, default: 0 }),
  concert: hertz({ label: 'A4 at', min: 380, max: 500, default: 440 }),
  chance: { ...count({ label: 'Chance', min: 0, max: 9_999, default: 0 }), builds: true },
} as const;

/** How far the phase of a part is moved by another one, in radians where that is at full scale. */
export const modulationParameter: NumberParameter = {
  ...factor({ label: 'Modulation', min: 0, max: mostModulation, default: 0 }),
  scale: 'linear',
};

/** How high a note is, and how strongly it is played. */
export const noteParameters = {
  pitch: { ...semitones({ label: 'Note', min: -24, max: 144, default: 60 }) },
  strength: share({ label: 'Strength', default: 0.8 }),
} as const;

/** How long a curve of a patch is; its unit stands beside it. */
export const curveLengthParameter: NumberParameter = factor({ label: 'Length', min: 0.001, max: 3_600, default: 1 });
