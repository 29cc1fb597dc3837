import type { ParameterValue } from '../project/parameters';

interface SituationStep {
  readonly effect: string;
  readonly mix?: number;
  readonly values: Readonly<Record<string, ParameterValue>>;
}

/** A ready chain for a listening situation. */
export interface Situation {
  readonly name: string;
  readonly purpose: string;
  readonly chain: readonly SituationStep[];
}

const band = (low: number, high: number): SituationStep => ({
  effect: 'eq',
  values: { band1On: true, band1Frequency: low, band1Slope: '24', band8On: true, band8Frequency: high, band8Slope: '24' },
});

export const situations: readonly Situation[] = [
  {
    name: 'Telephone',
    purpose: 'Small band, pressed and a little coarse.',
    chain: [
      band(320, 3_300),
      { effect: 'compressor', values: { threshold: -30, ratio: 8, attack: 0.002, release: 0.08, autoMakeUp: true } },
      { effect: 'drive', values: { curve: 'warm', drive: 8, output: -8, tone: 4_000 } },
    ],
  },
  {
    name: 'Station radio',
    purpose: 'A voice over a bad link: band, crushed, with hiss riding on it.',
    chain: [
      band(420, 2_900),
      { effect: 'crusher', values: { bits: 7, rate: 9_000, jitter: 0.1 } },
      { effect: 'drive', values: { curve: 'hard', drive: 10, output: -10, tone: 5_000 } },
      { effect: 'grit', values: { amount: -20, frequency: 3_000, release: 0.4 } },
    ],
  },
  {
    name: 'Far off',
    purpose: 'Over the ice: quiet, dull, with the land answering.',
    chain: [
      { effect: 'distance', values: { distance: 320, air: 1.2, level: 0.35 } },
      { effect: 'reverb', mix: 0.3, values: { decay: 3, size: 1.6, preDelay: 0.08, early: 0.1, high: 0.35 } },
    ],
  },
  {
    name: 'Next room',
    purpose: 'Through a wall: no top, boxy, from everywhere.',
    chain: [
      { effect: 'filter', values: { kind: 'low pass', frequency: 480, slope: '24', resonance: 0.7 } },
      { effect: 'eq', values: { band3On: true, band3Frequency: 180, band3Gain: 5, band3Q: 1.4 } },
      { effect: 'reverb', mix: 0.35, values: { decay: 0.5, size: 0.3, early: 0.8, late: 0.5 } },
    ],
  },
  {
    name: 'Under ice',
    purpose: 'Chirping and muffled, as sounds are that travel within the sheet.',
    chain: [
      { effect: 'dispersion', values: { frequency: 700, stages: 48, width: 0.8 } },
      { effect: 'filter', values: { kind: 'low pass', frequency: 1_400, slope: '12', resonance: 1.6 } },
      { effect: 'reverb', mix: 0.45, values: { decay: 2.4, size: 1.2, high: 0.3, modulation: 0.5 } },
    ],
  },
  {
    name: 'Inside the helmet',
    purpose: 'Close, nasal and enclosed.',
    chain: [
      { effect: 'eq', values: { band1On: true, band1Frequency: 140, band4On: true, band4Frequency: 950, band4Gain: 7, band4Q: 1.8 } },
      { effect: 'reverb', mix: 0.25, values: { decay: 0.15, size: 0.1, early: 1, late: 0.3, preDelay: 0 } },
      { effect: 'compressor', values: { threshold: -28, ratio: 4, autoMakeUp: true } },
    ],
  },
  {
    name: 'Worn tape',
    purpose: 'Saturated, wavering and short of top.',
    chain: [
      { effect: 'drive', values: { curve: 'warm', drive: 7, output: -6, tone: 7_500 } },
      { effect: 'chorus', values: { voices: 1, rate: 0.9, depth: 0.0012, delay: 0.004, blend: 1, spread: 0 } },
      { effect: 'grit', values: { amount: -26, frequency: 5_000, width: 0.4, release: 1 } },
    ],
  },
  {
    name: 'Machine voice',
    purpose: 'Turns speech and movement into something built.',
    chain: [
      { effect: 'ring-modulator', mix: 0.6, values: { frequency: 58 } },
      { effect: 'resonator', mix: 0.4, values: { root: 98, chord: 'fifths', decay: 0.4, damping: 4_000 } },
      { effect: 'limiter', values: { gain: 4 } },
    ],
  },
];
