import type { Audio } from '../audio/audio';
import type { Behaviour, ConductData, GameMove, Play } from '../conduct/conduct-data';

const thud: Play = { kind: 'one', sound: 'thud', from: 'original', avoid: 0, loops: false };

/** A behaviour that changes nothing about what it plays. */
export function testBehaviour(id: string, play: Partial<Play> | Play = {}, more: Partial<Behaviour> = {}): Behaviour {
  return {
    id,
    name: id,
    play: 'kind' in play ? (play as Play) : thud,
    gain: 0,
    gainSpread: 0,
    pitch: 0,
    pitchSpread: 0,
    highCut: 20_000,
    highCutSpread: 0,
    delay: 0,
    delaySpread: 0,
    chance: 1,
    coolDown: 0,
    voices: 32,
    givesWay: 'oldest',
    priority: 50,
    fadeIn: 0,
    fadeOut: 0,
    slot: { weight: 1, offset: 0, stage: 'hold', curve: [] },
    pulls: [],
    ...more,
  };
}

/** Behaviours over three sounds: a thud of 0.2 s, steps with five siblings, and a hum that loops; and a wind from 0 to 40. */
export function testConduct(behaviours: readonly Behaviour[]): ConductData {
  const family = [1, 2, 3, 4, 5].map((n) => ({ asset: `steps/${n}`, frames: 4_800 * n }));
  return {
    seed: 7,
    sampleRate: 48_000,
    voices: 64,
    parameters: [{ id: 'wind', name: 'Wind', low: 0, high: 40, start: 0, smoothing: 0 }],
    buses: [],
    moods: [],
    groups: [],
    behaviours,
    takes: {
      thud: { original: { asset: 'thud/original', frames: 9_600 }, family: [] },
      steps: { original: { asset: 'steps/original', frames: 4_800 }, family },
      hum: { original: { asset: 'hum/original', frames: 60_000, loop: { from: 4_800, to: 52_800 } }, family: [] },
    },
  };
}

const second = 48_000;

export const trigger = (behaviour: string): GameMove => ({ do: 'trigger', behaviour });

export const recording = (...channels: Float32Array[]): Audio => ({ sampleRate: second, channels });

/** Some frames of a tone that begins at 0. */
export function tone(frames: number, hertz: number, level = 0.5): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => level * Math.sin((2 * Math.PI * hertz * i) / second));
}

/** As long as a thud: a wave that is nowhere the same. */
export const unlike = Float32Array.from({ length: 9_600 }, (_, i) => Math.cos(i * i * 0.37) * 0.5);

export const loudest = (samples: Float32Array): number => samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
