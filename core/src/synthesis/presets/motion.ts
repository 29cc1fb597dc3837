import type { PatchPreset } from './preset';
import { notesOf, sketchPatch } from './preset';

/** What leads somewhere: risers and sweeps; and what nearly speaks. */
export const motionPresets: readonly PatchPreset[] = [
  {
    name: 'Riser',
    making: 'riser',
    role: 'Motion',
    purpose: 'Rises along its note and ends with it.',
    patch: sketchPatch({
      parts: {
        air: { kind: 'noise', texture: 'band', width: 0.5, ratio: 2, level: -11.5, apart: 0.9, attack: 0.2, release: 0.01 },
        tone: {
          kind: 'oscillator',
          shape: 'saw',
          stack: 5,
          spread: 0.2,
          level: -19.5,
          attack: 0.5,
          release: 0.01,
          filter: 'low-pass',
          cutoff: 900,
        },
      },
      curves: [
        {
          name: 'Rises',
          points: [
            [0, 0, 0.3],
            [1, 1],
          ],
          pulls: { 'air.tuning': 40, 'tone.tuning': 24, 'tone.cutoff': 40, 'air.level': 8, 'tone.level': 8 },
        },
      ],
    }),
    notes: notesOf([0, 3, 45, 0.9]),
    length: 3.1,
  },
  {
    name: 'Gathering grains',
    making: 'riser',
    role: 'Grit',
    purpose: 'Single grains that grow into a stream, up to the hit.',
    patch: sketchPatch({
      parts: {
        grains: {
          kind: 'noise',
          texture: 'dust',
          density: 6,
          uneven: 0.4,
          slope: 0,
          apart: 1,
          level: 12,
          release: 0.01,
          filter: 'band-pass',
          cutoff: 1_400,
          resonance: 0.5,
        },
      },
      curves: [
        {
          name: 'Gathers',
          points: [
            [0, 0, 0.4],
            [1, 1],
          ],
          pulls: { 'grains.density': 90, 'grains.cutoff': 26, 'grains.level': 6 },
        },
      ],
    }),
    notes: notesOf([0, 2.5, 60, 0.9]),
    length: 2.6,
  },
  {
    name: 'Tightening rope',
    making: 'riser',
    role: 'Motion',
    purpose: 'Something is pulled until it must give.',
    patch: sketchPatch({
      parts: {
        rope: {
          kind: 'body',
          body: 'string',
          exciter: 'scraped',
          level: -11.5,
          hardness: 0.12,
          roughness: 0.6,
          ring: 0.25,
          damping: 0.7,
          attack: 0.3,
          release: 0.02,
        },
      },
      curves: [
        {
          name: 'Tightens',
          points: [
            [0, 0, 0.5],
            [1, 1],
          ],
          pulls: { 'rope.tuning': 17, 'rope.level': 7, 'rope.hardness': 0.4 },
        },
      ],
    }),
    notes: notesOf([0, 2.2, 45, 0.9]),
    length: 2.3,
  },
  {
    name: 'Pulse beam',
    making: 'sweep',
    role: 'Strike',
    purpose: 'A short beam, straight down.',
    patch: sketchPatch({
      parts: {
        beam: { kind: 'oscillator', shape: 'saw', level: -3.5, attack: 0.001, decay: 0.35, sustain: 0, release: 0.1 },
        ring: { kind: 'oscillator', ratio: 1.41, level: -96, decay: 0.3, sustain: 0 },
      },
      from: { beam: { ring: 2.5 } },
      curves: [
        {
          name: 'Dives',
          length: 0.3,
          unit: 'seconds',
          points: [
            [0, 1, -0.7],
            [1, 0],
          ],
          pulls: { 'beam.tuning': 48, 'ring.tuning': 40 },
        },
      ],
    }),
    notes: notesOf([0, 0.4, 45, 0.9]),
    length: 0.5,
  },
  {
    name: 'Scanner',
    making: 'sweep',
    role: 'Motion',
    purpose: 'Goes over something, up and down.',
    patch: sketchPatch({
      parts: {
        eye: {
          kind: 'oscillator',
          shape: 'pulse',
          width: 0.15,
          level: -9.5,
          attack: 0.05,
          release: 0.2,
          filter: 'band-pass',
          cutoff: 1_200,
          resonance: 0.6,
        },
        glow: { kind: 'oscillator', level: -7.5, ratio: 2, attack: 0.1, release: 0.2 },
      },
      curves: [
        {
          name: 'Over and back',
          length: 1.2,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, -1],
            [0.5, 1],
          ],
          pulls: { 'eye.cutoff': 22, 'glow.tuning': 5, 'eye.width': 0.1 },
        },
      ],
    }),
    notes: notesOf([0, 2.4, 57, 0.8]),
    length: 2.6,
  },
  {
    name: 'Tear',
    making: 'sweep',
    role: 'Strike',
    purpose: 'A fast rip from low to high.',
    patch: sketchPatch({
      parts: {
        rip: {
          kind: 'oscillator',
          shape: 'saw',
          synced: true,
          sync: 2,
          level: -9.5,
          attack: 0.004,
          release: 0.03,
          filter: 'high-pass',
          cutoff: 300,
        },
      },
      curves: [
        {
          name: 'Rips',
          points: [
            [0, 0, 0.2],
            [1, 1],
          ],
          pulls: { 'rip.sync': 350, 'rip.tuning': 14, 'rip.cutoff': 24 },
        },
      ],
    }),
    notes: notesOf([0, 0.35, 43, 0.9]),
    length: 0.45,
  },
  {
    name: 'Ice voice',
    making: 'voice-like',
    role: 'Body',
    purpose: 'Nearly a voice from below the ice.',
    patch: sketchPatch({
      parts: {
        throat: {
          kind: 'oscillator',
          shape: 'saw',
          level: 8.5,
          attack: 0.3,
          release: 0.5,
          filter: 'band-pass',
          cutoff: 620,
          resonance: 0.62,
        },
        mouth: {
          kind: 'oscillator',
          shape: 'saw',
          level: 6.5,
          attack: 0.35,
          release: 0.45,
          filter: 'band-pass',
          cutoff: 1_250,
          resonance: 0.7,
        },
        breath: { kind: 'noise', slope: -2, level: -11.5, attack: 0.2, release: 0.6 },
      },
      curves: [
        {
          name: 'Vowel',
          points: [
            [0, 0],
            [0.35, 1],
            [0.8, -0.6],
            [1, 0],
          ],
          pulls: { 'throat.cutoff': 5, 'mouth.cutoff': -7 },
        },
        {
          name: 'Unsteady',
          length: 0.19,
          unit: 'seconds',
          rounds: true,
          points: [
            [0, -1],
            [0.5, 1],
          ],
          pulls: { 'throat.tuning': 0.25, 'mouth.tuning': 0.25 },
        },
      ],
    }),
    notes: notesOf([0, 2.4, 45, 0.8]),
    length: 2.6,
  },
  {
    name: 'Whale call',
    making: 'voice-like',
    role: 'Motion',
    purpose: 'A long call that bends twice.',
    patch: sketchPatch({
      parts: {
        call: { kind: 'oscillator', level: -7, attack: 0.3, release: 0.6 },
        edge: { kind: 'oscillator', ratio: 1, level: -96, attack: 0.6, release: 0.4 },
      },
      from: { call: { edge: 1.3 } },
      curves: [
        {
          name: 'Bends',
          points: [
            [0, 0, -0.2],
            [0.3, 1, 0.2],
            [0.65, 0.2],
            [0.9, 0.8],
            [1, -0.4],
          ],
          pulls: { 'call.tuning': 9, 'edge.tuning': 9 },
        },
      ],
    }),
    notes: notesOf([0, 3, 57, 0.8]),
    length: 3.2,
  },
  {
    name: 'Chirps',
    making: 'voice-like',
    role: 'Grit',
    purpose: 'A small animal that is not there.',
    patch: sketchPatch({
      parts: { beak: { kind: 'oscillator', level: -6, attack: 0.006, release: 0.02 } },
      curves: [
        {
          name: 'Chirp',
          points: [
            [0, -1],
            [0.3, 1],
            [1, -0.4],
          ],
          pulls: { 'beak.tuning': 7 },
        },
      ],
    }),
    notes: notesOf([0, 0.07, 93], [0.12, 0.06, 96], [0.3, 0.08, 91], [0.4, 0.05, 98]),
    length: 0.55,
  },
  {
    name: 'Floe lifts',
    making: 'riser',
    role: 'Motion',
    purpose: 'Tone, air and grains together, up to the moment at which it gives.',
    patch: sketchPatch({
      parts: {
        lift: {
          kind: 'sweep',
          rise: 31,
          bend: 0.35,
          swell: 36,
          tone: -16,
          air: -2,
          above: 5,
          width: 0.45,
          grains: -8,
          sparse: 3,
          dense: 90,
          level: -2,
        },
      },
    }),
    notes: notesOf([0, 3, 57, 0.9]),
    length: 3.05,
  },
  {
    name: 'Sinking whistle',
    making: 'sweep',
    role: 'Motion',
    purpose: 'A thin tone that falls two octaves and is gone.',
    patch: sketchPatch({
      parts: {
        fall: {
          kind: 'sweep',
          rise: -24,
          bend: -0.3,
          swell: 0,
          shape: 'triangle',
          tone: -6,
          air: -18,
          above: 2,
          width: 0.2,
          level: -8,
          attack: 0.03,
          decay: 1.4,
          sustain: 0,
        },
      },
    }),
    notes: notesOf([0, 1.4, 69, 0.9]),
    length: 1.5,
  },
];
