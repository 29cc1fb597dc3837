import type { PatchPreset } from './preset';
import { notesOf, sketchPatch } from './preset';

/** What runs and what sparks: motors and electricity. */
export const machinePresets: readonly PatchPreset[] = [
  {
    name: 'Ice drill',
    making: 'motor',
    role: 'Body',
    purpose: 'A drill under load; pull its pitch down to let it bite.',
    patch: sketchPatch({
      parts: {
        gear: {
          kind: 'oscillator',
          shape: 'saw',
          stack: 3,
          spread: 0.08,
          level: -0.5,
          attack: 0.15,
          release: 0.3,
          filter: 'ladder',
          cutoff: 2_400,
          resonance: 0.3,
          drive: 9,
        },
        teeth: { kind: 'oscillator', shape: 'pulse', ratio: 7, width: 0.2, level: -12.5, attack: 0.2, release: 0.25 },
        bite: {
          kind: 'noise',
          texture: 'crackle',
          density: 240,
          uneven: 0.4,
          slope: 0,
          level: -6.5,
          attack: 0.2,
          release: 0.2,
          filter: 'band-pass',
          cutoff: 3_000,
          resonance: 0.3,
        },
      },
      curves: [
        {
          name: 'Load',
          length: 0.9,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, 0],
            [0.3, -1],
            [0.7, 0.3],
          ],
          pulls: { 'gear.tuning': 2, 'teeth.tuning': 2, 'bite.level': -8 },
        },
      ],
    }),
    notes: notesOf([0, 3, 38, 0.9]),
    length: 3.2,
  },
  {
    name: 'Winch',
    making: 'motor',
    role: 'Motion',
    purpose: 'A cable drum that turns slowly, tooth by tooth.',
    patch: sketchPatch({
      parts: {
        drum: {
          kind: 'body',
          body: 'tube',
          exciter: 'scraped',
          hardness: 0.08,
          roughness: 0.15,
          ring: 0.18,
          damping: 0.8,
          level: 4.5,
          attack: 0.1,
          release: 0.2,
        },
        motor: { kind: 'oscillator', shape: 'saw', level: -15.5, ratio: 2, attack: 0.4, release: 0.4, filter: 'low-pass', cutoff: 500 },
      },
    }),
    notes: notesOf([0, 3, 43, 0.8]),
    length: 3.2,
  },
  {
    name: 'Station hum',
    making: 'motor',
    role: 'Bed',
    purpose: 'Mains and fans behind a wall.',
    patch: sketchPatch({
      parts: {
        mains: { kind: 'oscillator', follows: false, frequency: 50, level: -8, attack: 0.5, release: 0.6 },
        buzz: {
          kind: 'oscillator',
          shape: 'pulse',
          width: 0.12,
          follows: false,
          frequency: 100,
          level: -20,
          attack: 0.6,
          release: 0.5,
          filter: 'low-pass',
          cutoff: 900,
        },
        fan: { kind: 'noise', slope: -7, level: -14, apart: 0.6, attack: 0.8, release: 0.8 },
      },
    }),
    notes: notesOf([0, 5, 60, 0.8]),
    length: 5,
  },
  {
    name: 'Small servo',
    making: 'motor',
    role: 'Motion',
    purpose: 'A joint that moves from here to there.',
    patch: sketchPatch({
      parts: {
        servo: {
          kind: 'oscillator',
          shape: 'pulse',
          width: 0.35,
          level: -4,
          attack: 0.02,
          release: 0.06,
          filter: 'band-pass',
          cutoff: 1_900,
          resonance: 0.35,
          keyCutoff: 0.5,
        },
        gears: { kind: 'noise', texture: 'smooth', ratio: 2, level: -6, apart: 0, attack: 0.02, release: 0.05 },
      },
      curves: [
        {
          name: 'Turns',
          points: [
            [0, 0, -0.4],
            [0.3, 1],
            [0.75, 1, 0.3],
            [1, 0],
          ],
          pulls: { 'servo.tuning': 9, 'gears.tuning': 9 },
        },
      ],
    }),
    notes: notesOf([0, 0.6, 57, 0.8]),
    length: 0.7,
  },
  {
    name: 'Spark gap',
    making: 'electric',
    role: 'Grit',
    purpose: 'Crackle that jumps a gap again and again.',
    patch: sketchPatch({
      parts: {
        spark: {
          kind: 'noise',
          texture: 'crackle',
          density: 60,
          uneven: 0.7,
          slope: 2,
          apart: 0.7,
          level: -9,
          attack: 0.002,
          release: 0.05,
        },
        snap: { kind: 'noise', texture: 'dust', density: 9, uneven: 0.2, slope: 0, apart: 0.6, level: -15, release: 0.05 },
      },
      curves: [
        {
          name: 'Comes and goes',
          length: 0.7,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, 1, 0.4],
            [0.4, -1],
            [0.6, -1, -0.4],
          ],
          pulls: { 'spark.density': 70, 'spark.level': 8 },
        },
      ],
    }),
    notes: notesOf([0, 2, 60, 0.9]),
    length: 2.1,
  },
  {
    name: 'Arc',
    making: 'electric',
    role: 'Body',
    purpose: 'A steady arc with its hum.',
    patch: sketchPatch({
      parts: {
        arc: {
          kind: 'oscillator',
          shape: 'saw',
          follows: false,
          frequency: 100,
          level: -9.5,
          attack: 0.01,
          release: 0.08,
          filter: 'high-pass',
          cutoff: 700,
        },
        hiss: { kind: 'noise', slope: 3, level: -17.5, apart: 0.4, attack: 0.01, release: 0.06 },
        flutter: { kind: 'noise', texture: 'smooth', follows: false, frequency: 22, level: -96, apart: 0 },
      },
      from: { arc: { flutter: 4 } },
    }),
    notes: notesOf([0, 1.5, 60, 0.9]),
    length: 1.6,
  },
  {
    name: 'Relay',
    making: 'electric',
    role: 'Strike',
    purpose: 'A switch that falls, with its spring.',
    patch: sketchPatch({
      parts: {
        click: { kind: 'body', body: 'bar', level: -0.5, ring: 0.05, damping: 0.5, hardness: 1, modes: 18, scatter: 0.2, release: 0.1 },
        spring: { kind: 'body', body: 'string', level: -20.5, ratio: 0.5, ring: 0.18, damping: 0.8, hardness: 0.9, release: 0.1 },
      },
    }),
    notes: notesOf([0, 0.1, 93, 0.9], [0.045, 0.1, 90, 0.5]),
    length: 0.3,
  },
  {
    name: 'Charging',
    making: 'electric',
    role: 'Motion',
    purpose: 'Energy gathers until it is full.',
    patch: sketchPatch({
      parts: {
        coil: { kind: 'oscillator', shape: 'saw', synced: true, sync: 1, level: -13.5, attack: 0.1, release: 0.05 },
        air: { kind: 'noise', texture: 'band', width: 0.3, ratio: 4, level: -15.5, apart: 0.8, attack: 0.3, release: 0.08 },
      },
      curves: [
        {
          name: 'Fills',
          points: [
            [0, 0, 0.35],
            [1, 1],
          ],
          pulls: { 'coil.sync': 400, 'coil.tuning': 12, 'air.tuning': 24, 'coil.level': 6 },
        },
      ],
    }),
    notes: notesOf([0, 2, 45, 0.9]),
    length: 2.1,
  },
  {
    name: 'Data chatter',
    making: 'electric',
    role: 'Grit',
    purpose: 'Instruments that talk to each other.',
    patch: sketchPatch({
      parts: {
        bits: { kind: 'oscillator', shape: 'pulse', width: 0.5, level: -9.5, attack: 0.002, release: 0.01 },
        turns: { kind: 'noise', texture: 'smooth', follows: false, frequency: 34, apart: 0, level: -96 },
      },
      from: { bits: { turns: 30 } },
    }),
    notes: notesOf([0, 0.06, 88], [0.09, 0.05, 95], [0.16, 0.1, 83], [0.3, 0.04, 91], [0.36, 0.12, 86]),
    length: 0.6,
  },
];
