import { Glide } from '../../dsp/glide';
import { OnePole } from '../../dsp/filters/simple-filters';
import { decibels, toggle } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;
const lowestKept = 5;

/** Gain and polarity of each side, and a first-order high-pass at 5 Hz against DC. */
export const trim = defineEffect({
  id: 'trim',
  label: 'Trim',
  family: 'Image',
  channels: 'pairs',
  purpose: 'Sets level, polarity and balance, and takes away DC if asked to.',
  parameters: {
    gain: decibels({ label: 'Gain', min: -60, max: 36, default: 0 }),
    balance: decibels({ label: 'Right against left', min: -24, max: 24, default: 0 }),
    flipLeft: toggle('Flip left', false),
    flipRight: toggle('Flip right', false),
    blockDc: toggle('Block DC', false),
  },
  presets: [
    { name: 'Down 6 dB', values: { gain: -6 } },
    { name: 'Without DC', values: { blockDc: true } },
    { name: 'Flip both', values: { flipLeft: true, flipRight: true } },
    { name: 'Flip one side', values: { flipRight: true } },
  ],
  latency: () => 0,
  tail: (_, sampleRate) => Math.ceil(0.25 * sampleRate),
  create: ({ sampleRate, channels }) => {
    const blockers = Array.from({ length: channels }, () => new OnePole());
    for (const blocker of blockers) blocker.tune(lowestKept, sampleRate);
    const gains = Array.from({ length: 2 }, () => new Glide(glideFrames));
    const blocking = new Glide(glideFrames);
    return {
      reset: () => {
        for (const part of [...blockers, ...gains, blocking]) part.reset();
      },
      process(block, { gain, balance, flipLeft, flipRight, blockDc }) {
        gains[0]!.aim(decibelsToGain(gain - balance / 2) * (flipLeft ? -1 : 1));
        gains[1]!.aim(decibelsToGain(gain + balance / 2) * (flipRight ? -1 : 1));
        blocking.aim(blockDc ? 1 : 0);
        for (let i = 0; i < block.frames; i++) {
          const left = gains[0]!.next();
          const right = gains[1]!.next();
          const share = blocking.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const sample = samples[i]!;
            const high = blockers[c]!.high(sample);
            samples[i] = (sample + (high - sample) * share) * (c % 2 ? right : left);
          }
        }
      },
    };
  },
});
