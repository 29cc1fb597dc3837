import { Glide } from '../../dsp/glide';
import { factor, hertz, share } from '../../project/parameters';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** Fewer bits and a lower sampling rate, by rounding and by holding samples; the aliases are what it is for. */
export const crusher = defineEffect({
  id: 'crusher',
  label: 'Crusher',
  family: 'Drive',
  channels: 'each',
  purpose: 'Makes a sound coarse like an old sampler or a failing data link.',
  parameters: {
    bits: { ...factor({ label: 'Bits', min: 1, max: 16, default: 8 }), scale: 'linear' },
    rate: hertz({ label: 'Rate', min: 100, max: 48_000, default: 11_025 }),
    jitter: share({ label: 'Jitter', default: 0 }),
  },
  presets: [
    { name: 'Station computer', values: { bits: 8, rate: 11_025 } },
    { name: 'Broken link', values: { bits: 4, rate: 3_200, jitter: 0.6 } },
    { name: 'Gravel', values: { bits: 2.5, rate: 18_000 } },
  ],
  latency: () => 0,
  tail: (_, sampleRate) => Math.ceil(sampleRate / 100),
  create: ({ sampleRate, channels }) => {
    const held = new Float64Array(channels);
    const steps = new Glide(glideFrames);
    let place = 1;
    let state = 1;
    /** Jitter from a small generator of its own, that starts anew with every reset (Park & Miller 1988). */
    const draw = (): number => {
      state = (state * 48_271) % 2_147_483_647;
      return state / 2_147_483_647;
    };
    return {
      reset: () => {
        held.fill(0);
        steps.reset();
        place = state = 1;
      },
      process(block, { bits, rate, jitter }) {
        steps.aim(2 ** (bits - 1));
        const step = Math.min(1, rate / sampleRate);
        for (let i = 0; i < block.frames; i++) {
          const levels = steps.next();
          if (place >= 1) {
            place -= 1;
            if (jitter > 0) place -= jitter * 0.8 * draw();
            for (let c = 0; c < channels; c++) held[c] = Math.round(block.channels[c]![i]! * levels) / levels;
          }
          place += step;
          for (let c = 0; c < channels; c++) block.channels[c]![i] = held[c]!;
        }
      },
    };
  },
});
