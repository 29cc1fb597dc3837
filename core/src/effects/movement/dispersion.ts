import { count, factor, hertz } from '../../project/parameters';
import { defineEffect } from '../effect';

const mostStages = 96;

/** A chain of equal second-order all-passes: level stays, but every frequency comes at a time of its own (a click becomes a chirp). */
export const dispersion = defineEffect({
  id: 'dispersion',
  label: 'Dispersion',
  family: 'Movement',
  purpose: 'Smears a click into a chirp, as ice and long wires do.',
  parameters: {
    frequency: { ...hertz({ label: 'Frequency', min: 60, max: 12_000, default: 900 }), fixed: true },
    width: { ...factor({ label: 'Width (Q)', min: 0.3, max: 8, default: 1 }), fixed: true },
    stages: { ...count({ label: 'Stages', min: 2, max: mostStages, default: 32 }), fixed: true },
  },
  presets: [
    { name: 'Lake ice', values: { frequency: 600, stages: 64, width: 0.7 } },
    { name: 'Taut cable', values: { frequency: 2_200, stages: 48, width: 1.5 } },
    { name: 'Rounded', values: { frequency: 180, stages: 10, width: 0.6 } },
  ],
  latency: () => 0,
  // Each stage delays its own frequency by 2 Q / (π f); its ringing comes on top.
  tail: ({ frequency, width, stages }, sampleRate) => Math.ceil(((stages * 1.3 + 8) * Math.max(1, width) * sampleRate) / frequency),
  create: ({ sampleRate, channels }) => {
    const states = Array.from({ length: channels }, () => new Float64Array(2 * mostStages));
    return {
      reset: () => {
        for (const state of states) state.fill(0);
      },
      process(block, { frequency, width, stages }) {
        const g = Math.tan(Math.PI * Math.min(0.49, frequency / sampleRate));
        const k = 1 / width;
        const a1 = 1 / (1 + g * (g + k));
        const a2 = g * a1;
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const state = states[c]!;
          for (let s = 0; s < stages; s++) {
            let first = state[2 * s]!;
            let second = state[2 * s + 1]!;
            for (let i = 0; i < block.frames; i++) {
              const input = samples[i]!;
              const band = a1 * first + a2 * (input - second);
              const low = second + g * band;
              first = 2 * band - first;
              second = 2 * low - second;
              samples[i] = input - 2 * k * band;
            }
            state[2 * s] = Math.abs(first) < 1e-25 ? 0 : first;
            state[2 * s + 1] = Math.abs(second) < 1e-25 ? 0 : second;
          }
        }
      },
    };
  },
});
