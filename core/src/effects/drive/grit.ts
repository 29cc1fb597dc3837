import { Glide } from '../../dsp/glide';
import type { Random } from '../../dsp/random';
import { createRandom } from '../../dsp/random';
import { Follower, StateVariableFilter } from '../../dsp/filters/simple-filters';
import { count, decibels, factor, hertz, seconds } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** Adds noise that rides on the level of the sound: seeded, filtered, as loud as the sound is at every moment. */
export const grit = defineEffect({
  id: 'grit',
  label: 'Grit',
  family: 'Drive',
  channels: 'pairs',
  purpose: 'Lays dust and tearing over a sound that is too clean.',
  parameters: {
    amount: decibels({ label: 'Amount', min: -48, max: 12, default: -8 }),
    frequency: hertz({ label: 'Colour', min: 80, max: 16_000, default: 3_200 }),
    width: factor({ label: 'Width (Q)', min: 0.2, max: 12, default: 0.6 }),
    attack: seconds({ label: 'Attack', min: 0.0002, max: 0.2, default: 0.001 }),
    release: seconds({ label: 'Release', min: 0.005, max: 2, default: 0.08 }),
    seed: count({ label: 'Seed', min: 1, max: 9_999, default: 1 }),
  },
  presets: [
    { name: 'Snow dust', values: { frequency: 6_500, amount: -10 } },
    { name: 'Tearing', values: { frequency: 1_400, width: 1.5, amount: -3, attack: 0.0005, release: 0.03 } },
    { name: 'Hull rust', values: { frequency: 420, width: 2.5, amount: 0, release: 0.2 } },
  ],
  latency: () => 0,
  tail: ({ release }, sampleRate) => Math.ceil(7 * release * sampleRate),
  create: ({ sampleRate, channels }) => {
    const parts = Array.from({ length: channels }, () => ({ follower: new Follower(), colour: new StateVariableFilter() }));
    const amountNow = new Glide(glideFrames);
    let random: Random = createRandom(1);
    let seedNow = 1;
    let fresh = true;
    return {
      reset: () => {
        fresh = true;
        amountNow.reset();
        for (const { follower, colour } of parts) {
          follower.reset();
          colour.reset();
        }
      },
      process(block, { amount, frequency, width, attack, release, seed }) {
        if (fresh || seed !== seedNow) {
          fresh = false;
          seedNow = seed;
          random = createRandom(seed);
        }
        // Narrow bands hold less of the noise, so they are brought up.
        amountNow.aim(decibelsToGain(amount) * 2.5 * Math.sqrt(width));
        for (const { follower, colour } of parts) {
          follower.tune(attack, release, sampleRate);
          colour.tune(frequency, width, sampleRate);
        }
        for (let i = 0; i < block.frames; i++) {
          const level = amountNow.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const { follower, colour } = parts[c]!;
            const sample = samples[i]!;
            const envelope = follower.next(sample);
            colour.next(2 * random.next() - 1);
            samples[i] = sample + colour.peak * envelope * level;
          }
        }
      },
    };
  },
});
