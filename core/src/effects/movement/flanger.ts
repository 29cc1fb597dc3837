import { DelayTap } from '../../dsp/delay-tap';
import { glides } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { factor, hertz, seconds, share } from '../../project/parameters';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const glideFrames = 1_024;
const longest = 0.025;

/** A short swinging delay with feedback, added to the sound: a comb whose teeth wander. */
export const flanger = defineEffect({
  id: 'flanger',
  label: 'Flanger',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Sweeps a comb through the sound, from jet to tube.',
  parameters: {
    rate: hertz({ label: 'Rate', min: 0.02, max: 10, default: 0.25 }),
    delay: seconds({ label: 'Delay', min: 0.0003, max: 0.01, default: 0.002 }),
    depth: share({ label: 'Depth', default: 0.8 }),
    feedback: { ...factor({ label: 'Feedback', min: -0.95, max: 0.95, default: 0.5 }), scale: 'linear' },
    spread: share({ label: 'Spread', default: 0.5 }),
  },
  presets: [
    { name: 'Passing over', values: { rate: 0.06, delay: 0.004, feedback: 0.7 } },
    { name: 'In a pipe', values: { rate: 0.05, depth: 0.1, delay: 0.006, feedback: 0.9 } },
    { name: 'Hollow turn', values: { rate: 0.4, feedback: -0.8 } },
  ],
  picture: ({ rate, delay, depth, spread }) => {
    const x = linearAxis('s', 0, 1 / rate);
    const side = (n: number) =>
      curveAlong(
        x,
        160,
        n === 0 ? 'main' : 'other side',
        (time) => delay * (1 + depth * 0.95 * Math.sin(2 * Math.PI * (time * rate + n * 0.5 * spread))),
      );
    return { title: 'Delay over one round: left, right', x, y: linearAxis('s', 0, delay * 2), curves: [side(1), side(0)] };
  },
  latency: () => 0,
  tail: ({ delay, feedback }, sampleRate) =>
    Math.ceil(delay * 2 * (1 + Math.log(1e-3) / Math.log(Math.max(0.01, Math.abs(feedback)))) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const lines = Array.from({ length: channels }, () => new DelayTap(Math.ceil(longest * sampleRate)));
    const phase = new Phase();
    const now = glides(glideFrames, 'rate', 'delay', 'depth', 'feedback', 'spread');
    return {
      reset: () => {
        for (const part of [...lines, phase, ...Object.values(now)]) part.reset();
      },
      process(block, { rate, delay, depth, feedback, spread }) {
        now.rate.aim(rate);
        now.delay.aim(delay * sampleRate);
        now.depth.aim(depth);
        now.feedback.aim(feedback);
        now.spread.aim(spread);
        for (let i = 0; i < block.frames; i++) {
          const place = phase.next(now.rate.next(), sampleRate);
          const middle = now.delay.next();
          const swing = now.depth.next();
          const back = now.feedback.next();
          const apart = now.spread.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const line = lines[c]!;
            const sample = samples[i]!;
            const delayed = line.read(
              Math.max(1, middle * (1 + swing * 0.95 * Math.sin(2 * Math.PI * (place + (c % 2) * 0.5 * apart))) - 1),
            );
            const into = sample + delayed * back;
            line.write(Math.abs(into) < 1e-20 ? 0 : into);
            samples[i] = (sample + delayed) * 0.7;
          }
        }
      },
    };
  },
});
