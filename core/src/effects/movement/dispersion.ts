import { SectionCascade } from '../../dsp/filters/section-cascade';
import { passThrough } from '../../dsp/filters/state-variable';
import { count, factor, hertz } from '../../project/parameters';
import type { Frames } from '../../units';
import { defineEffect } from '../effect';

const mostStages = 96;
const glideFrames: Frames = 512;

/** A chain of equal second-order all-passes: level stays, but every frequency comes at a time of its own (a click becomes a chirp). */
export const dispersion = defineEffect({
  id: 'dispersion',
  label: 'Dispersion',
  family: 'Movement',
  channels: 'each',
  purpose: 'Smears a click into a chirp, as ice and long wires do.',
  parameters: {
    frequency: hertz({ label: 'Frequency', min: 60, max: 12_000, default: 900 }),
    width: factor({ label: 'Width (Q)', min: 0.3, max: 8, default: 1 }),
    stages: count({ label: 'Stages', min: 2, max: mostStages, default: 32 }),
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
    const cascades = Array.from({ length: channels }, () => new SectionCascade(mostStages, glideFrames));
    const aimed = { frequency: 0, width: 0, stages: 0 };
    return {
      reset: () => {
        aimed.stages = 0;
        for (const cascade of cascades) cascade.reset();
      },
      process(block, { frequency, width, stages }) {
        if (frequency !== aimed.frequency || width !== aimed.width || stages !== aimed.stages) {
          Object.assign(aimed, { frequency, width, stages });
          const k = 1 / width;
          const g = Math.tan(Math.PI * Math.min(0.49, frequency / sampleRate));
          // The input less twice its damped band is an all-pass, also while the coefficients of a stage move to others.
          const stage = { g, k, m0: 1, m1: -2 * k, m2: 0 };
          const whole = Math.round(stages);
          for (const cascade of cascades) for (let s = 0; s < mostStages; s++) cascade.aim(s, s < whole ? stage : passThrough);
        }
        for (let c = 0; c < channels; c++) cascades[c]!.process(block.channels[c]!, block.frames);
      },
    };
  },
});
