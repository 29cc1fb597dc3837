import { Follower, frameLevel, smoothing } from '../../dsp/filters/simple-filters';
import { decibels, seconds } from '../../project/parameters';
import { defineEffect } from '../effect';
import type { EffectPicture } from '../effect-picture';
import { pictureOfHit } from '../effect-picture';

const decibelsPerNeper = 20 / Math.LN10;
/** Added to both followers: nothing below it counts as a transient. */
const quiet = 1e-5;
const fastAttack = 0.0006;
const slowAttack = 0.025;
const fastRelease = 0.03;
const gainTime = 0.0008;

/**
 * Turns attacks and what follows them up or down, whatever their level: the ratio of a quick and a slow envelope follower tells where a
 * sound rises (its attack) and where it falls (its sustain). All channels share one gain.
 */
export const transientShaper = defineEffect({
  id: 'transient-shaper',
  label: 'Transient shaper',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Gives a hit more snap or less, a longer or a shorter body, at any level.',
  parameters: {
    attack: decibels({ label: 'Attack', min: -24, max: 24, default: 6 }),
    sustain: decibels({ label: 'Sustain', min: -24, max: 24, default: 0 }),
    length: seconds({ label: 'Length', min: 0.05, max: 1.5, default: 0.3 }),
    output: decibels({ label: 'Output', min: -24, max: 24, default: 0 }),
  },
  presets: [
    { name: 'Snap', values: { attack: 10, sustain: -3 } },
    { name: 'Dry and short', values: { attack: 2, sustain: -14, length: 0.5 } },
    { name: 'Soft shoe', values: { attack: -12, sustain: 4 } },
  ],
  picture: (values): EffectPicture => pictureOfHit((context) => transientShaper.create(context), values, 'A hit, before and after'),
  latency: () => 0,
  tail: () => 0,
  create: ({ sampleRate, channels }) => {
    const quick = new Follower();
    const slow = new Follower();
    const short = new Follower();
    const long = new Follower();
    quick.tune(fastAttack, fastRelease, sampleRate);
    slow.tune(slowAttack, fastRelease, sampleRate);
    short.tune(fastAttack, fastRelease, sampleRate);
    const keep = smoothing(gainTime, sampleRate);
    let gain = 0;
    return {
      reset: () => {
        for (const follower of [quick, slow, short, long]) follower.reset();
        gain = 0;
      },
      process(block, { attack, sustain, length, output }) {
        long.tune(fastAttack, length, sampleRate);
        for (let i = 0; i < block.frames; i++) {
          const level = frameLevel(block.channels, channels, i);
          const rise = Math.log((quick.next(level) + quiet) / (slow.next(level) + quiet));
          const fall = Math.log((long.next(level) + quiet) / (short.next(level) + quiet));
          // Both saturate, so that the dials say how far it can go at most.
          const wanted = attack * (rise > 0 ? Math.tanh(rise) : 0) + sustain * (fall > 0 ? Math.tanh(fall) : 0) + output;
          gain = wanted + (gain - wanted) * keep;
          const factor = Math.exp(gain / decibelsPerNeper);
          for (let c = 0; c < channels; c++) block.channels[c]![i]! *= factor;
        }
      },
    };
  },
});
