import { DelayTap } from '../../dsp/delay-tap';
import { Glide } from '../../dsp/glide';
import { decibels, seconds } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 2_048;
const longest = 0.04;

/** Delays one side by up to 40 ms: the ear hears the sound from the side that comes first (Haas 1951), without a change of level. */
export const haas = defineEffect({
  id: 'haas',
  label: 'Haas',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Moves a sound aside, or makes it wide, by time alone.',
  parameters: {
    delay: { ...seconds({ label: 'Right later by', min: -longest, max: longest, default: 0.012 }), scale: 'linear' },
    level: decibels({ label: 'Later side', min: -12, max: 6, default: 0 }),
  },
  presets: [
    { name: 'Wide', values: { delay: 0.014 } },
    { name: 'From the left', values: { delay: 0.004, level: -3 } },
    { name: 'From the right', values: { delay: -0.004, level: -3 } },
  ],
  latency: () => 0,
  tail: ({ delay }, sampleRate) => Math.ceil(Math.abs(delay) * sampleRate) + 2,
  create: ({ sampleRate, channels }) => {
    const lines = Array.from({ length: channels }, () => new DelayTap(Math.ceil(longest * sampleRate) + 4));
    // A single channel has no other side to be early for.
    const paired = channels - (channels % 2);
    const delays = Array.from({ length: 2 }, () => new Glide(glideFrames));
    const gains = Array.from({ length: 2 }, () => new Glide(glideFrames));
    return {
      reset: () => {
        for (const part of [...lines, ...delays, ...gains]) part.reset();
      },
      process(block, { delay, level }) {
        const late = Math.abs(delay) * sampleRate;
        const later = delay >= 0 ? 1 : 0;
        delays.forEach((glide, side) => glide.aim(side === later ? late : 0));
        gains.forEach((glide, side) => glide.aim(side === later && delay !== 0 ? decibelsToGain(level) : 1));
        for (let i = 0; i < block.frames; i++) {
          const left = delays[0]!.next();
          const right = delays[1]!.next();
          const leftGain = gains[0]!.next();
          const rightGain = gains[1]!.next();
          for (let c = 0; c < paired; c++) {
            const line = lines[c]!;
            const samples = block.channels[c]!;
            line.write(samples[i]!);
            const by = c % 2 ? right : left;
            const moved = by >= 1 ? line.read(by) : line.at(0) + (line.at(1) - line.at(0)) * by;
            samples[i] = moved * (c % 2 ? rightGain : leftGain);
          }
        }
      },
    };
  },
});
