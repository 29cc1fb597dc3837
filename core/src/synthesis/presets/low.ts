import type { PatchPreset } from './preset';
import { notesOf, sketchPatch } from './preset';

/** What gives weight: subs and drops. */
export const lowPresets: readonly PatchPreset[] = [
  {
    name: 'Boom',
    making: 'sub',
    role: 'Weight',
    purpose: 'A low push under a hit.',
    patch: sketchPatch({
      parts: {
        low: { kind: 'oscillator', level: -10.5, attack: 0.003, decay: 1.1, sustain: 0, decayBend: -0.45, release: 0.3 },
        knock: { kind: 'oscillator', level: -19.5, ratio: 2, attack: 0.001, decay: 0.09, sustain: 0, release: 0.05 },
      },
      curves: [
        {
          name: 'Falls',
          length: 0.35,
          unit: 'seconds',
          points: [
            [0, 1, -0.6],
            [1, 0],
          ],
          pulls: { 'low.tuning': 14, 'knock.tuning': 20 },
        },
      ],
    }),
    notes: notesOf([0, 1.2, 28, 1]),
    length: 1.3,
  },
  {
    name: 'Shelf thump',
    making: 'sub',
    role: 'Weight',
    purpose: 'Short and dry, for steps and small breaks.',
    patch: sketchPatch({
      parts: {
        low: { kind: 'oscillator', level: -6.5, attack: 0.002, decay: 0.22, sustain: 0, release: 0.05 },
        dust: { kind: 'noise', level: -27.5, slope: -9, apart: 0, attack: 0.001, decay: 0.05, sustain: 0 },
      },
      curves: [
        {
          name: 'Falls',
          length: 0.08,
          unit: 'seconds',
          points: [
            [0, 1, -0.5],
            [1, 0],
          ],
          pulls: { 'low.tuning': 19 },
        },
      ],
    }),
    notes: notesOf([0, 0.25, 31, 1]),
    length: 0.3,
  },
  {
    name: 'Deep water',
    making: 'sub',
    role: 'Bed',
    purpose: 'A floor that breathes below everything else.',
    patch: sketchPatch({
      parts: {
        floor: { kind: 'oscillator', level: -10, attack: 0.8, release: 1.2 },
        fifth: { kind: 'oscillator', level: -22, ratio: 1.5, attack: 1.4, release: 1 },
        silt: { kind: 'noise', level: -28, slope: -12, apart: 1, attack: 1, release: 1.5 },
      },
      curves: [
        {
          name: 'Breath',
          length: 3.2,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, 0],
            [0.5, 1],
          ],
          pulls: { 'floor.level': -5, 'silt.level': 6 },
        },
      ],
    }),
    notes: notesOf([0, 6, 24, 0.9]),
    length: 6,
  },
  {
    name: 'Hollow knock',
    making: 'sub',
    role: 'Weight',
    purpose: 'A low body that is struck softly, with some wood in it.',
    patch: sketchPatch({
      parts: {
        hull: { kind: 'body', level: -10.5, body: 'membrane', ring: 0.7, damping: 1.1, hardness: 0.25, place: 0.4, modes: 14 },
        low: { kind: 'oscillator', level: -19.5, attack: 0.004, decay: 0.5, sustain: 0 },
      },
    }),
    notes: notesOf([0, 0.6, 33, 0.9]),
    length: 0.7,
  },
  {
    name: 'Long fall',
    making: 'drop',
    role: 'Weight',
    purpose: 'Sinks by four octaves along its note.',
    patch: sketchPatch({
      parts: {
        fall: {
          kind: 'oscillator',
          shape: 'triangle',
          level: -10.5,
          attack: 0.01,
          release: 0.25,
          filter: 'low-pass',
          cutoff: 900,
          keyCutoff: 0.4,
        },
        low: { kind: 'oscillator', level: -14.5, ratio: 0.5, attack: 0.3, release: 0.4 },
      },
      curves: [
        {
          name: 'Sinks',
          points: [
            [0, 1, 0.3],
            [1, 0],
          ],
          pulls: { 'fall.tuning': 48, 'low.tuning': 24, 'fall.cutoff': 24 },
        },
      ],
    }),
    notes: notesOf([0, 2.5, 24, 0.9]),
    length: 2.6,
  },
  {
    name: 'Power loss',
    making: 'drop',
    role: 'Motion',
    purpose: 'A machine that runs down and stops.',
    patch: sketchPatch({
      parts: {
        coil: {
          kind: 'oscillator',
          shape: 'saw',
          stack: 3,
          spread: 0.12,
          level: -8.5,
          attack: 0.02,
          release: 0.1,
          filter: 'ladder',
          cutoff: 1_800,
          resonance: 0.35,
        },
        hum: { kind: 'oscillator', shape: 'pulse', width: 0.2, ratio: 0.5, level: -12.5, release: 0.1, filter: 'low-pass', cutoff: 600 },
      },
      curves: [
        {
          name: 'Runs down',
          points: [
            [0, 0, 0.5],
            [1, -1],
          ],
          pulls: { 'coil.tuning': 40, 'hum.tuning': 40, 'coil.cutoff': 36, 'hum.level': 10 },
        },
      ],
    }),
    notes: notesOf([0, 3, 48, 0.9]),
    length: 3.1,
  },
  {
    name: 'Crevasse',
    making: 'drop',
    role: 'Tail',
    purpose: 'Something falls away below, with air around it.',
    patch: sketchPatch({
      parts: {
        air: { kind: 'noise', texture: 'band', width: 0.5, level: -2.5, apart: 0.8, attack: 0.05, release: 0.8 },
        ice: { kind: 'body', body: 'ice', exciter: 'scraped', hardness: 0.2, roughness: 0.8, ring: 0.5, level: -10.5, release: 0.5 },
      },
      curves: [
        {
          name: 'Falls away',
          points: [
            [0, 1, 0.2],
            [1, 0],
          ],
          pulls: { 'air.tuning': 40, 'ice.tuning': 22, 'air.width': 0.2 },
        },
      ],
    }),
    notes: notesOf([0, 2, 40, 0.9]),
    length: 2.2,
  },
  {
    name: 'Calving drop',
    making: 'drop',
    role: 'Weight',
    purpose: 'Four octaves down at once, and on into the ground.',
    patch: sketchPatch({
      parts: {
        drop: { kind: 'drop', fall: 48, time: 0.5, bend: -0.7, sag: 3, weight: 0.15, level: -6, decay: 2.2, release: 0.3 },
      },
    }),
    notes: notesOf([0, 2.2, 28, 1]),
    length: 2.3,
  },
  {
    name: 'Soft sink',
    making: 'drop',
    role: 'Weight',
    purpose: 'An octave, slowly: something settles far away.',
    patch: sketchPatch({
      parts: {
        drop: { kind: 'drop', fall: 12, time: 1.6, bend: 0, weight: 0.05, level: -8, attack: 0.3, decay: 2.5, release: 0.6 },
      },
    }),
    notes: notesOf([0, 2.4, 31, 0.9]),
    length: 2.6,
  },
];
