import type { PatchPreset } from './preset';
import { notesOf, sketchPatch } from './preset';

/** What rings above: shines, chimes and beacons. */
export const brightPresets: readonly PatchPreset[] = [
  {
    name: 'Aurora shimmer',
    making: 'shine',
    role: 'Air',
    purpose: 'High, slow light with a slight beat.',
    patch: sketchPatch({
      parts: {
        veil: { kind: 'oscillator', level: -13, stack: 7, spread: 0.09, stackWidth: 1, attack: 1.2, release: 1.8 },
        glint: { kind: 'oscillator', level: -21, ratio: 3.01, stack: 5, spread: 0.14, stackWidth: 1, attack: 2, release: 1.5 },
        frost: { kind: 'noise', texture: 'band', width: 0.12, ratio: 6, level: -25, apart: 1, attack: 1.5, release: 1.5 },
      },
      curves: [
        {
          name: 'Drifts',
          length: 4.1,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, -1],
            [0.45, 1],
          ],
          pulls: { 'glint.level': 7, 'veil.pan': 0.25 },
        },
      ],
    }),
    notes: notesOf([0, 5, 74, 0.8], [0.6, 4.4, 81, 0.6]),
    length: 5.2,
  },
  {
    name: 'Rime',
    making: 'shine',
    role: 'Air',
    purpose: 'A breath of glass on top of an attack.',
    patch: sketchPatch({
      parts: {
        glass: { kind: 'body', body: 'glass', level: 1, ring: 1.6, damping: 0.3, hardness: 0.95, scatter: 0.15, modes: 12, release: 0.8 },
        air: { kind: 'noise', level: -21, slope: 4, attack: 0.001, decay: 0.25, sustain: 0 },
      },
    }),
    notes: notesOf([0, 1.2, 88, 0.7]),
    length: 1.4,
  },
  {
    name: 'Star dust',
    making: 'shine',
    role: 'Air',
    purpose: 'Single sparks, high and wide.',
    patch: sketchPatch({
      parts: {
        sparks: {
          kind: 'noise',
          texture: 'dust',
          density: 14,
          uneven: 0.7,
          slope: 3,
          apart: 1,
          level: 12,
          attack: 0.3,
          release: 1,
          filter: 'band-pass',
          cutoff: 7_200,
          resonance: 0.75,
        },
      },
      curves: [
        {
          name: 'Turns',
          length: 1.7,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, -1],
            [0.5, 1],
          ],
          pulls: { 'sparks.cutoff': 9 },
        },
      ],
    }),
    notes: notesOf([0, 3, 72, 0.9]),
    length: 3.2,
  },
  {
    name: 'Halo',
    making: 'shine',
    role: 'Air',
    purpose: 'A soft chord that opens and closes.',
    patch: sketchPatch({
      parts: {
        ring: { kind: 'oscillator', level: -14, attack: 0.9, release: 1.4, stack: 3, spread: 0.06, stackWidth: 0.9 },
        turn: { kind: 'oscillator', level: -96, ratio: 1.003, attack: 0.9, release: 1.4 },
      },
      from: { ring: { turn: 1.4 } },
      curves: [
        {
          name: 'Opens',
          points: [
            [0, 0],
            [0.5, 1],
            [1, 0],
          ],
          pulls: { 'ring.level': 4 },
        },
      ],
    }),
    notes: notesOf([0, 4, 69, 0.7], [0, 4, 76, 0.6], [0, 4, 81, 0.6]),
    length: 4.2,
  },
  {
    name: 'Signal chime',
    making: 'chime',
    role: 'Strike',
    purpose: 'Two notes for something that is ready.',
    patch: sketchPatch({
      parts: {
        tone: { kind: 'oscillator', level: -6, attack: 0.002, decay: 1.2, sustain: 0, release: 0.6 },
        strike: { kind: 'oscillator', ratio: 3.5, level: -96, attack: 0.001, decay: 0.25, sustain: 0, release: 0.2 },
      },
      from: { tone: { strike: 2.2 } },
    }),
    notes: notesOf([0, 0.9, 76, 0.8], [0.22, 1.2, 81, 0.8]),
    length: 1.5,
  },
  {
    name: 'Ice bells',
    making: 'chime',
    role: 'Strike',
    purpose: 'Cold bells with a scatter of their own.',
    patch: sketchPatch({
      parts: {
        bell: { kind: 'body', body: 'bell', level: -6, ring: 2.4, damping: 0.6, hardness: 0.8, scatter: 0.06, release: 1.2 },
        ice: { kind: 'body', body: 'ice', level: -18, ring: 0.25, damping: 0.8, hardness: 1, ratio: 1.5, modes: 24 },
      },
    }),
    notes: notesOf([0, 1.5, 79, 0.8], [0.3, 1.5, 84, 0.6], [0.6, 1.5, 86, 0.7]),
    length: 2.2,
  },
  {
    name: 'Glass rim',
    making: 'chime',
    role: 'Body',
    purpose: 'A glass that is rubbed until it sings.',
    patch: sketchPatch({
      parts: {
        rim: {
          kind: 'body',
          body: 'glass',
          exciter: 'blown',
          level: 0.5,
          ring: 1.2,
          damping: 0.5,
          hardness: 0.5,
          roughness: 0.3,
          modes: 6,
          attack: 0.5,
          release: 0.8,
        },
      },
    }),
    notes: notesOf([0, 2.5, 74, 0.8]),
    length: 2.7,
  },
  {
    name: 'Small bar',
    making: 'chime',
    role: 'Strike',
    purpose: 'A dry metal bar; good for counting and for rows of notes.',
    patch: sketchPatch({
      parts: { bar: { kind: 'body', body: 'bar', level: 5.5, ring: 0.9, damping: 0.9, hardness: 0.7, place: 0.2, modes: 8, release: 0.5 } },
    }),
    notes: notesOf([0, 0.5, 84, 0.8]),
    length: 0.7,
  },
  {
    name: 'Beacon',
    making: 'beacon',
    role: 'Motion',
    purpose: 'A mast that calls every second.',
    patch: sketchPatch({
      parts: {
        call: { kind: 'oscillator', level: -5.5, attack: 0.01, decay: 0.16, sustain: 0.35, release: 0.18 },
        edge: { kind: 'oscillator', shape: 'triangle', ratio: 2, level: -18.5, attack: 0.005, decay: 0.08, sustain: 0, release: 0.1 },
      },
    }),
    notes: notesOf([0, 0.2, 81, 0.9], [1, 0.2, 81, 0.9], [2, 0.2, 81, 0.9]),
    length: 3,
  },
  {
    name: 'Two-tone alarm',
    making: 'beacon',
    role: 'Motion',
    purpose: 'Goes to and fro between two heights until it is stopped.',
    patch: sketchPatch({
      parts: {
        horn: {
          kind: 'oscillator',
          shape: 'pulse',
          width: 0.3,
          level: -9.5,
          attack: 0.008,
          release: 0.05,
          filter: 'low-pass',
          cutoff: 3_200,
        },
      },
      curves: [
        {
          name: 'To and fro',
          length: 0.8,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, 0],
            [0.499, 0],
            [0.5, 1],
            [1, 1],
          ],
          pulls: { 'horn.tuning': 5 },
        },
      ],
    }),
    notes: notesOf([0, 3.2, 69, 0.8]),
    length: 3.2,
  },
  {
    name: 'Sonar',
    making: 'beacon',
    role: 'Strike',
    purpose: 'One ping that rings on below the ice.',
    patch: sketchPatch({
      parts: {
        ping: { kind: 'oscillator', level: -6, attack: 0.004, decay: 2.6, sustain: 0, decayBend: -0.7, release: 0.8 },
        sheet: { kind: 'body', body: 'plate', level: -20, ring: 2.5, damping: 0.4, hardness: 0.5, modes: 30, release: 1 },
      },
    }),
    notes: notesOf([0, 2.4, 86, 0.8]),
    length: 2.6,
  },
  {
    name: 'Frost organ',
    making: 'shine',
    role: 'Air',
    purpose: 'Open harmonics that turn into each other as long as the note is held.',
    patch: sketchPatch({
      parts: {
        pipe: {
          kind: 'table',
          firstHarmonics: '100 0 60 0 0 0 0 40',
          lastHarmonics: '40 80 0 0 70 0 0 0 50 0 0 30',
          level: -14,
          attack: 0.35,
          release: 1.2,
        },
      },
      curves: [
        {
          name: 'Turns',
          length: 3,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, 0],
            [0.5, 1],
            [1, 0],
          ],
          pulls: { 'pipe.position': 1 },
        },
      ],
    }),
    notes: notesOf([0, 3, 72, 0.8], [0, 3, 79, 0.7]),
    length: 3.2,
  },
];
