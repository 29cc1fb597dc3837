import { Crossover } from '../../dsp/filters/crossover';
import { hertz } from '../../project/parameters';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const least = 2;
const shortestTail = 64;
const split = (number: number, preset: number) => hertz({ label: `Split ${number}`, min: 20, max: 20_000, default: preset });

/**
 * A multiband host: a crossover whose bands each run through a chain and a fader and are added up again. With nothing in the chains the
 * sum is an all-pass, so a mix is taken with the bare bands and not with the input.
 */
export const bands = defineEffect({
  id: 'bands',
  label: 'Bands',
  family: 'Hosts',
  channels: 'each',
  purpose: 'Splits the sound into two to six bands, each with a chain and a fader of its own.',
  host: { least, most: 6, first: 3, gain: 0, branch: 'band' },
  parameters: {
    split1: split(1, 160),
    split2: split(2, 2_200),
    split3: split(3, 5_000),
    split4: split(4, 8_500),
    split5: split(5, 12_500),
  },
  presets: [
    { name: 'Weight, body, air', values: { split1: 160, split2: 2_200 } },
    { name: 'Only the bottom apart', values: { split1: 90, split2: 320 } },
    { name: 'Speech in the middle', values: { split1: 300, split2: 3_400 } },
  ],
  latency: () => 0,
  // Near half the rate, filters ring for some frames whatever their frequency.
  tail: ({ split1 }, sampleRate) => Math.max(shortestTail, Math.ceil((3 / split1) * sampleRate)),
  create: ({ sampleRate, channels, branches }) => {
    const count = branches?.length ?? least;
    const crossover = new Crossover(count, channels, sampleRate);
    const block = (): Block => ({ channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 });
    const parts = Array.from({ length: count }, block);
    const dry = block();
    const splits = [0, 0, 0, 0, 0];
    return {
      dry,
      reset: () => {
        crossover.reset();
        for (const branch of branches ?? []) branch.reset();
      },
      process({ channels: samples, frames }, { split1, split2, split3, split4, split5 }) {
        splits[0] = split1;
        splits[1] = split2;
        splits[2] = split3;
        splits[3] = split4;
        splits[4] = split5;
        crossover.process(splits, samples, parts, frames);
        dry.frames = frames;
        sum(parts, dry.channels, frames);
        for (let b = 0; b < count; b++) {
          parts[b]!.frames = frames;
          branches?.[b]?.process(parts[b]!);
        }
        sum(parts, samples, frames);
      },
    };
  },
});

function sum(parts: readonly Block[], into: readonly Float32Array[], frames: number): void {
  for (let c = 0; c < into.length; c++) {
    const output = into[c]!;
    for (let p = 0; p < parts.length; p++) {
      const part = parts[p]!.channels[c]!;
      if (p === 0) for (let i = 0; i < frames; i++) output[i] = part[i]!;
      else for (let i = 0; i < frames; i++) output[i]! += part[i]!;
    }
  }
}
