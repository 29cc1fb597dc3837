import { glides } from '../../dsp/glide';
import { StateVariableFilter } from '../../dsp/filters/simple-filters';
import { decibels, hertz, share, toggle } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;

/**
 * Mid and side: their levels, the width, and a frequency below which everything is in the middle. The side is cut there by a Butterworth
 * filter, the middle is not touched, so that a mono sum stays what it was.
 */
export const stereoImage = defineEffect({
  id: 'stereo-image',
  label: 'Stereo image',
  family: 'Image',
  channels: 'pairs',
  purpose: 'Widens or narrows, keeps the low end in the middle, levels mid and side.',
  parameters: {
    width: share({ label: 'Width', max: 2, default: 1.3 }),
    monoBelow: hertz({ label: 'Mono below', min: 20, max: 1_000, default: 120 }),
    mid: decibels({ label: 'Mid', min: -36, max: 12, default: 0 }),
    side: decibels({ label: 'Side', min: -36, max: 12, default: 0 }),
    swap: toggle('Swap sides', false),
  },
  presets: [
    { name: 'Wide, firm low end', values: { width: 1.5, monoBelow: 150 } },
    { name: 'Nearly mono', values: { width: 0.25 } },
    { name: 'Only the sides', values: { mid: -36, width: 1 } },
  ],
  latency: () => 0,
  tail: ({ monoBelow }, sampleRate) => Math.ceil((2.2 / monoBelow) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const filter = new StateVariableFilter();
    const now = glides(glideFrames, 'width', 'mid', 'side', 'swap', 'cut');
    let tuned = 0;
    return {
      reset: () => {
        tuned = 0;
        for (const part of [filter, ...Object.values(now)]) part.reset();
      },
      process(block, { width, monoBelow, mid, side, swap }) {
        if (channels !== 2) return;
        if (monoBelow !== tuned) {
          tuned = monoBelow;
          filter.tune(monoBelow, Math.SQRT1_2, sampleRate);
        }
        now.width.aim(width);
        now.mid.aim(decibelsToGain(mid));
        now.side.aim(decibelsToGain(side));
        now.swap.aim(swap ? -1 : 1);
        now.cut.aim(monoBelow > 20 ? 1 : 0);
        const left = block.channels[0]!;
        const right = block.channels[1]!;
        for (let i = 0; i < block.frames; i++) {
          const middle = ((left[i]! + right[i]!) / 2) * now.mid.next();
          const apart = (left[i]! - right[i]!) / 2;
          filter.next(apart);
          const cut = apart + (filter.high - apart) * now.cut.next();
          const wide = cut * now.width.next() * now.side.next() * now.swap.next();
          left[i] = middle + wide;
          right[i] = middle - wide;
        }
      },
    };
  },
});
