import { Glide } from '../../dsp/glide';
import { smoothing } from '../../dsp/filters/simple-filters';
import { decibels, seconds } from '../../project/parameters';
import type { Seconds } from '../../units';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';
import { guardMargin, PeakGuard } from './peak-guard';

const lookahead: Seconds = 0.003;
const glideFrames = 512;

/** True-peak limiter (see `PeakGuard`). All channels share one gain. */
export const limiter = defineEffect({
  id: 'limiter',
  label: 'Limiter',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Keeps every peak below a ceiling, between the samples too, and lets the rest come up.',
  parameters: {
    gain: decibels({ label: 'Gain', min: 0, max: 36, default: 3 }),
    ceiling: decibels({ label: 'Ceiling', min: -24, max: 0, default: -1 }),
    release: seconds({ label: 'Release', min: 0.005, max: 2, default: 0.08 }),
  },
  presets: [
    { name: 'Safety', values: { gain: 0, ceiling: -1 } },
    { name: 'Dense', values: { gain: 9, ceiling: -1, release: 0.15 } },
    { name: 'Pressed flat', values: { gain: 20, ceiling: -1, release: 0.03 } },
  ],
  latency: (_, sampleRate) => PeakGuard.latency(lookahead, sampleRate),
  tail: (_, sampleRate) => PeakGuard.latency(lookahead, sampleRate),
  create: ({ sampleRate, channels }) => {
    const guard = new PeakGuard(channels, lookahead, sampleRate);
    const input = new Glide(glideFrames);
    const limit = new Glide(glideFrames);
    return {
      get gainReduction() {
        return 20 * Math.log10(guard.deepest);
      },
      reset: () => {
        for (const part of [guard, input, limit]) part.reset();
      },
      process(block, { gain, ceiling, release }) {
        input.aim(decibelsToGain(gain));
        limit.aim(decibelsToGain(ceiling - guardMargin));
        for (let i = 0; i < block.frames; i++) {
          const lift = input.next();
          for (let c = 0; c < channels; c++) block.channels[c]![i]! *= lift;
        }
        guard.process(block.channels, block.frames, limit, smoothing(release, sampleRate));
      },
    };
  },
});
