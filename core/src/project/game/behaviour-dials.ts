import type { NumberParameter } from '../parameters';
import { count, decibels, factor, hertz, seconds, semitones, share } from '../parameters';

const time = (label: string, max: number, preset = 0): NumberParameter => ({
  ...seconds({ label, min: 0, max, default: preset }),
  scale: 'linear',
});

/** The numbers that every behaviour has. */
export const behaviourDials = {
  gain: decibels({ label: 'Level', min: -60, max: 24, default: 0 }),
  gainSpread: decibels({ label: 'Level ±', min: 0, max: 24, default: 0 }),
  pitch: semitones({ label: 'Pitch', min: -36, max: 36, default: 0 }),
  pitchSpread: semitones({ label: 'Pitch ±', min: 0, max: 24, default: 0 }),
  highCut: hertz({ label: 'High cut', min: 100, max: 20_000, default: 20_000 }),
  highCutSpread: { ...factor({ label: 'Cut ± octaves', min: 0, max: 4, default: 0 }), scale: 'linear' },
  delay: time('Delay', 10),
  delaySpread: time('Delay up to +', 10),
  chance: share({ label: 'Chance', default: 1 }),
  coolDown: time('Cool-down', 60),
  voices: count({ label: 'Voices', min: 1, max: 64, default: 32 }),
  priority: count({ label: 'Priority', min: 0, max: 100, default: 50 }),
  fadeIn: time('Fade in', 20),
  fadeOut: time('Fade at a stop', 20, 0.02),
} as const satisfies Record<string, NumberParameter>;

export type BehaviourDial = keyof typeof behaviourDials;

/** The numbers of single kinds of behaviours. */
export const playDials = {
  avoid: count({ label: 'Never the last', min: 0, max: 50, default: 1 }),
  gap: time('Pause between', 20),
  rate: hertz({ label: 'Shots a second', min: 0.01, max: 60, default: 4 }),
  uneven: share({ label: 'Uneven', default: 0 }),
  shots: count({ label: 'Shots (0: on and on)', min: 0, max: 1_000, default: 0 }),
  shortest: seconds({ label: 'At least every', min: 0.05, max: 600, default: 2 }),
  longest: seconds({ label: 'At most every', min: 0.05, max: 600, default: 9 }),
  release: time('Fade of the hold', 10, 0.05),
} as const satisfies Record<string, NumberParameter>;

/** The numbers that a child has in its parent. */
export const slotDials = {
  weight: { ...factor({ label: 'Weight', min: 0, max: 100, default: 1 }), scale: 'linear' },
  offset: time('Offset', 10),
} as const satisfies Record<string, NumberParameter>;

/** The numbers of how a behaviour is heard from afar, in metres where nothing else is said. */
export const distanceDials = {
  inner: { ...factor({ label: 'Inner size, m', min: 0.1, max: 1_000, default: 2 }), scale: 'log' },
  outer: { ...factor({ label: 'Outer end, m', min: 0.2, max: 10_000, default: 60 }), scale: 'log' },
  highCut: hertz({ label: 'High cut at the end', min: 100, max: 20_000, default: 20_000 }),
  width: share({ label: 'To the sides', default: 1 }),
  doppler: share({ label: 'Doppler', default: 0 }),
  roomNear: share({ label: 'In the room, near', default: 0 }),
  roomFar: share({ label: 'In the room, at the end', default: 0 }),
} as const satisfies Record<string, NumberParameter>;

/** The lowest level of a drawn fall with distance: it is silence. */
export const lowestDrawn = -60;

/** The cuts of a bus; at its ends a cut is open. */
export const busDials = {
  lowCut: hertz({ label: 'Low cut', min: 20, max: 2_000, default: 20 }),
  highCut: hertz({ label: 'High cut', min: 100, max: 20_000, default: 20_000 }),
} as const satisfies Record<string, NumberParameter>;

/** The room around a bus. */
export const roomDials = {
  decay: seconds({ label: 'Decay', min: 0.1, max: 12, default: 1.2 }),
  high: share({ label: 'Highs', min: 0.1, default: 0.6 }),
  size: { ...factor({ label: 'Size', min: 0.2, max: 3, default: 1 }), scale: 'log' },
  share: share({ label: 'Share', default: 0.2 }),
} as const satisfies Record<string, NumberParameter>;

/** The compressor of a bus. */
export const compressorDials = {
  threshold: decibels({ label: 'From', min: -60, max: 0, default: -18 }),
  ratio: factor({ label: 'Ratio', unit: ':1', min: 1, max: 100, default: 4 }),
  attack: seconds({ label: 'Attack', min: 0.0001, max: 0.5, default: 0.005 }),
  release: seconds({ label: 'Release', min: 0.005, max: 5, default: 0.15 }),
  gain: decibels({ label: 'Gain', min: 0, max: 24, default: 0 }),
} as const satisfies Record<string, NumberParameter>;

/** How fast one walks, in metres a second. */
export const walkSpeed: NumberParameter = { ...factor({ label: 'Metres a second', min: 0.1, max: 100, default: 1.4 }), scale: 'log' };

/** What a game parameter can move, with the range of its curve. */
export const pulledDials = {
  gain: decibels({ label: 'Level', min: -96, max: 24, default: 0 }),
  pitch: semitones({ label: 'Pitch', min: -36, max: 36, default: 0 }),
  highCut: { ...factor({ label: 'High cut, octaves', min: -8, max: 0, default: 0 }), scale: 'linear' },
  chance: { ...share({ label: 'Chance', min: -1, default: 0 }) },
  rate: { ...factor({ label: 'Rate, octaves', min: -6, max: 6, default: 0 }), scale: 'linear' },
} as const satisfies Record<string, NumberParameter>;
