import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const least = 2;

/** A host of parallel lanes: each gets the whole sound, and what comes out of them is added up. */
export const sideBySide = defineEffect({
  id: 'side-by-side',
  label: 'Side by side',
  family: 'Hosts',
  channels: 'each',
  purpose: 'Runs two to six chains side by side, each with level, pan and delay, and adds them up.',
  host: { least, most: 6, first: 2, gain: -6, branch: 'lane' },
  parameters: {},
  presets: [],
  latency: () => 0,
  tail: () => 0,
  create: ({ channels, branches }) => {
    const input = Array.from({ length: channels }, () => new Float32Array(maxBlock));
    const part = { channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 };
    return {
      reset: () => {
        for (const branch of branches ?? []) branch.reset();
      },
      process({ channels: samples, frames }) {
        if (!branches) return;
        for (let c = 0; c < channels; c++) {
          input[c]!.set(samples[c]!.subarray(0, frames));
          samples[c]!.fill(0, 0, frames);
        }
        part.frames = frames;
        for (let b = 0; b < branches.length; b++) {
          for (let c = 0; c < channels; c++) part.channels[c]!.set(input[c]!);
          branches[b]!.process(part);
          for (let c = 0; c < channels; c++) {
            const output = samples[c]!;
            const own = part.channels[c]!;
            for (let i = 0; i < frames; i++) output[i]! += own[i]!;
          }
        }
      },
    };
  },
});
