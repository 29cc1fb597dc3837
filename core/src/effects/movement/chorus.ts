import { DelayTap } from '../../dsp/delay-tap';
import { glides } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { count, hertz, seconds, share } from '../../project/parameters';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const glideFrames = 1_024;
const mostVoices = 6;
const longest = 0.08;

/** Several copies whose delays swing around a middle, each at a phase of its own; the sides swing against each other. */
export const chorus = defineEffect({
  id: 'chorus',
  label: 'Chorus',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Makes one source into several that do not quite agree.',
  parameters: {
    voices: count({ label: 'Voices', min: 1, max: mostVoices, default: 3 }),
    rate: hertz({ label: 'Rate', min: 0.02, max: 8, default: 0.6 }),
    depth: { ...seconds({ label: 'Depth', min: 0, max: 0.015, default: 0.003 }), scale: 'linear' },
    delay: { ...seconds({ label: 'Delay', min: 0.002, max: 0.05, default: 0.014 }), scale: 'linear' },
    spread: share({ label: 'Spread', default: 1 }),
    blend: share({ label: 'Copies', default: 0.5 }),
  },
  presets: [
    { name: 'Slow shimmer', values: { rate: 0.15, depth: 0.006, voices: 4 } },
    { name: 'Wide body', values: { rate: 0.4, depth: 0.002, delay: 0.02, blend: 0.4 } },
    { name: 'Seasick', values: { rate: 2.5, depth: 0.008, voices: 2, blend: 0.7 } },
  ],
  picture: ({ voices, rate, depth, delay, spread }) => {
    const x = linearAxis('s', 0, 1 / rate);
    const middle = Math.max(delay, depth + 0.001);
    const copy = (v: number, side: number) =>
      curveAlong(x, 120, side === 0 ? 'main' : 'other side', (time) => {
        const angle = 2 * Math.PI * (time * rate + v / voices + side * 0.5 * spread);
        return middle * (1 + 0.13 * v) + depth * Math.sin(angle);
      });
    const numbers = Array.from({ length: Math.round(voices) }, (_, v) => v);
    return {
      title: 'Delay of the copies over one round: left, right',
      x,
      y: linearAxis('s', 0, middle * (1 + 0.13 * (voices - 1)) + depth * 1.2),
      curves: [...numbers.map((v) => copy(v, 1)), ...numbers.map((v) => copy(v, 0))],
    };
  },
  latency: () => 0,
  tail: (_, sampleRate) => Math.ceil(longest * sampleRate),
  create: ({ sampleRate, channels }) => {
    const lines = Array.from({ length: channels }, () => new DelayTap(Math.ceil(longest * sampleRate)));
    const phase = new Phase();
    const now = glides(glideFrames, 'depth', 'delay', 'blend', 'spread', 'rate');
    return {
      reset: () => {
        for (const part of [...lines, phase, ...Object.values(now)]) part.reset();
      },
      process(block, { voices, rate, depth, delay, spread, blend }) {
        now.rate.aim(rate);
        now.depth.aim(depth * sampleRate);
        now.delay.aim(Math.max(delay, depth + 0.001) * sampleRate);
        now.blend.aim(blend);
        now.spread.aim(spread);
        const level = 1 / Math.sqrt(voices);
        for (let i = 0; i < block.frames; i++) {
          const place = phase.next(now.rate.next(), sampleRate);
          const swing = now.depth.next();
          const middle = now.delay.next();
          const copies = now.blend.next();
          const apart = now.spread.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const line = lines[c]!;
            const sample = samples[i]!;
            line.write(sample);
            let sum = 0;
            for (let v = 0; v < voices; v++) {
              const angle = 2 * Math.PI * (place + v / voices + (c % 2) * 0.5 * apart);
              sum += line.read(middle * (1 + 0.13 * v) + swing * Math.sin(angle));
            }
            samples[i] = sample * (1 - copies * 0.5) + sum * level * copies;
          }
        }
      },
    };
  },
});
