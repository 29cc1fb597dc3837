import { smoothing } from '../../dsp/filters/simple-filters';
import { seconds, share } from '../../project/parameters';
import { defineEffect } from '../effect';

/**
 * Follows where the weight of the image lies (the angle of the first principal axis of left and right, over `time`) and turns the image
 * so that it lies in the middle. A turn keeps the energy of every moment.
 */
export const centring = defineEffect({
  id: 'centring',
  label: 'Centring',
  family: 'Image',
  channels: 'pairs',
  purpose: 'Moves the weight of a lopsided recording into the middle.',
  parameters: {
    amount: share({ label: 'Amount', default: 1 }),
    time: seconds({ label: 'Over', min: 0.05, max: 10, default: 1 }),
  },
  presets: [
    { name: 'Steady', values: { time: 3 } },
    { name: 'Quick', values: { time: 0.2 } },
    { name: 'Half way', values: { amount: 0.5 } },
  ],
  latency: () => 0,
  tail: () => 0,
  create: ({ sampleRate, channels }) => {
    let leftPower = 0;
    let rightPower = 0;
    let product = 0;
    let angle = 0;
    const settle = smoothing(0.02, sampleRate);
    return {
      reset: () => {
        leftPower = rightPower = product = angle = 0;
      },
      process(block, { amount, time }) {
        if (channels !== 2) return;
        const keep = smoothing(time, sampleRate);
        const left = block.channels[0]!;
        const right = block.channels[1]!;
        for (let i = 0; i < block.frames; i++) {
          const l = left[i]!;
          const r = right[i]!;
          leftPower = l * l + (leftPower - l * l) * keep;
          rightPower = r * r + (rightPower - r * r) * keep;
          product = l * r + (product - l * r) * keep;
          // The axis at 45 degrees is the middle; silence and a round image have none.
          const lean = leftPower + rightPower < 1e-12 ? 0 : 0.5 * Math.atan2(leftPower - rightPower, 2 * Math.abs(product) + 1e-12);
          angle = lean + (angle - lean) * settle;
          const turn = angle * amount;
          const cosine = Math.cos(turn);
          const sine = Math.sin(turn) * (product < 0 ? -1 : 1);
          left[i] = l * cosine - r * sine;
          right[i] = l * sine + r * cosine;
        }
      },
    };
  },
});
