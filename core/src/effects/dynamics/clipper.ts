import { Glide } from '../../dsp/glide';
import { Oversampler } from '../../dsp/oversampler';
import { CurveShaper } from '../../dsp/shaper-curves';
import { choice, decibels } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** Cuts peaks off at a level, without aliases (see `CurveShaper`): what a limiter does with gain, a clipper does with harmonics. */
export const clipper = defineEffect({
  id: 'clipper',
  label: 'Clipper',
  family: 'Dynamics',
  channels: 'each',
  purpose: 'Shaves peaks off so that a hit can be louder; short overs are not heard as distortion.',
  parameters: {
    gain: decibels({ label: 'Gain', min: 0, max: 36, default: 6 }),
    ceiling: decibels({ label: 'Ceiling', min: -36, max: 0, default: -1 }),
    edge: choice('Edge', ['hard', 'soft'], 'hard'),
  },
  presets: [
    { name: 'Shave the peaks', values: { gain: 4 } },
    { name: 'Loud hit', values: { gain: 10, edge: 'soft' } },
    { name: 'Blown up', values: { gain: 24, ceiling: -3 } },
  ],
  latency: () => Oversampler.latency,
  tail: () => 2 * Oversampler.latency,
  create: ({ channels }) => {
    const parts = Array.from({ length: channels }, () => ({ oversampler: new Oversampler(), shaper: new CurveShaper() }));
    const pushes = new Float64Array(maxBlock);
    const levels = new Float64Array(maxBlock);
    const input = new Glide(glideFrames);
    const limit = new Glide(glideFrames);
    return {
      reset: () => {
        input.reset();
        limit.reset();
        for (const { oversampler, shaper } of parts) {
          oversampler.reset();
          shaper.reset();
        }
      },
      process(block, { gain, ceiling, edge }) {
        input.aim(decibelsToGain(gain - ceiling));
        limit.aim(decibelsToGain(ceiling));
        for (const { shaper } of parts) shaper.use(edge === 'soft' ? 'soft' : 'hard');
        input.fill(pushes, block.frames);
        limit.fill(levels, block.frames);
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const { oversampler, shaper } = parts[c]!;
          for (let i = 0; i < block.frames; i++) samples[i]! *= pushes[i]!;
          oversampler.process(samples, block.frames, shaper);
          for (let i = 0; i < block.frames; i++) samples[i]! *= levels[i]!;
        }
      },
    };
  },
});
