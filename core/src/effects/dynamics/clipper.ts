import { Glide } from '../../dsp/glide';
import { Oversampler } from '../../dsp/oversampler';
import { CurveShaper } from '../../dsp/shaper-curves';
import { smoothing } from '../../dsp/filters/simple-filters';
import { choice, decibels, toggle } from '../../project/parameters';
import type { Seconds } from '../../units';
import { decibelsToGain } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';
import { guardMargin, PeakGuard } from './peak-guard';

const glideFrames = 512;

/** What holds the ceiling looks so far ahead, and lets go so quickly. */
const lookahead: Seconds = 0.003;
const release: Seconds = 0.02;

/**
 * Cuts peaks off at a level, without aliases (see `CurveShaper`): what a limiter does with gain, a clipper does with harmonics. As the harmonics beyond half the rate are taken away, what is left can
 * rise above the ceiling again, noise by 4 dB; a guard for these peaks can hold it (see `PeakGuard`).
 */
export const clipper = defineEffect({
  id: 'clipper',
  label: 'Clipper',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Shaves peaks off so that a hit can be louder; short overs are not heard as distortion.',
  parameters: {
    gain: decibels({ label: 'Gain', min: 0, max: 36, default: 6 }),
    ceiling: decibels({ label: 'Ceiling', min: -36, max: 0, default: -1 }),
    edge: choice('Edge', ['hard', 'soft'], 'hard'),
    hold: { ...toggle('Hold the ceiling', false), builds: true, fixed: true },
  },
  presets: [
    { name: 'Shave the peaks', values: { gain: 4 } },
    { name: 'Loud hit', values: { gain: 10, edge: 'soft' } },
    { name: 'Blown up', values: { gain: 24, ceiling: -3 } },
  ],
  latency: ({ hold }, sampleRate) => Oversampler.latency + (hold ? PeakGuard.latency(lookahead, sampleRate) : 0),
  tail: ({ hold }, sampleRate) => 2 * Oversampler.latency + (hold ? PeakGuard.latency(lookahead, sampleRate) : 0),
  create: ({ channels, sampleRate, values }) => {
    const guard = values.hold ? new PeakGuard(channels, lookahead, sampleRate) : undefined;
    const height = new Glide(glideFrames);
    const keep = smoothing(release, sampleRate);
    const parts = Array.from({ length: channels }, () => ({ oversampler: new Oversampler(), shaper: new CurveShaper() }));
    const pushes = new Float64Array(maxBlock);
    const levels = new Float64Array(maxBlock);
    const input = new Glide(glideFrames);
    const limit = new Glide(glideFrames);
    return {
      reset: () => {
        input.reset();
        limit.reset();
        height.reset();
        guard?.reset();
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
        height.aim(decibelsToGain(ceiling - guardMargin));
        guard?.process(block.channels, block.frames, height, keep);
      },
    };
  },
});
