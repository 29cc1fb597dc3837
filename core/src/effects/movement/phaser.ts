import { glides } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { choice, factor, hertz, share } from '../../project/parameters';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis, logAxis } from '../effect-picture';

const glideFrames = 1_024;
const mostStages = 12;

/** A row of first-order all-passes whose corner swings, added to the sound: half as many notches as stages (Hartmann 1978). */
export const phaser = defineEffect({
  id: 'phaser',
  label: 'Phaser',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Moves soft notches through the sound.',
  parameters: {
    stages: choice('Stages', ['2', '4', '6', '8', '12'], '6'),
    rate: hertz({ label: 'Rate', min: 0.02, max: 10, default: 0.3 }),
    centre: hertz({ label: 'Centre', min: 80, max: 8_000, default: 900 }),
    range: { ...factor({ label: 'Range in octaves', min: 0, max: 4, default: 1.5 }), scale: 'linear' },
    feedback: { ...factor({ label: 'Feedback', min: -0.9, max: 0.9, default: 0.3 }), scale: 'linear' },
    spread: share({ label: 'Spread', default: 0.3 }),
  },
  presets: [
    { name: 'Slow water', values: { rate: 0.08, stages: '8' } },
    { name: 'Engine turn', values: { rate: 1.8, centre: 500, range: 1, feedback: 0.6 } },
    { name: 'Vocal', values: { stages: '4', centre: 1_100, range: 0.8, feedback: 0.8, rate: 0.4 } },
  ],
  picture: ({ stages, rate, centre, range, spread }) => {
    const x = linearAxis('s', 0, 1 / rate);
    const count = Number(stages);
    // A row of n first-order all-passes turns the phase by half a circle where tan((2k + 1)π / 2n) times its corner lies: a notch with the sound itself.
    const notch = (k: number, side: number) =>
      curveAlong(x, 120, side === 0 ? 'main' : 'other side', (time) => {
        const corner = centre * 2 ** (range * Math.sin(2 * Math.PI * (time * rate + side * 0.5 * spread)));
        return Math.max(20, Math.min(20_000, corner * Math.tan(((2 * k + 1) * Math.PI) / (2 * count))));
      });
    const notches = Array.from({ length: count / 2 }, (_, k) => k);
    return {
      title: 'Notches over one round: left, right',
      x,
      y: logAxis('Hz', 20, 20_000),
      curves: [...notches.map((k) => notch(k, 1)), ...notches.map((k) => notch(k, 0))],
    };
  },
  latency: () => 0,
  tail: ({ feedback }, sampleRate) => Math.ceil((0.02 + 0.3 * Math.abs(feedback)) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const states = Array.from({ length: channels }, () => new Float64Array(mostStages));
    const back = new Float64Array(channels);
    const phase = new Phase();
    const now = glides(glideFrames, 'rate', 'centre', 'range', 'feedback', 'spread', 'stages');
    let running = 0;
    return {
      reset: () => {
        for (const state of states) state.fill(0);
        back.fill(0);
        running = 0;
        for (const part of [phase, ...Object.values(now)]) part.reset();
      },
      process(block, { stages, rate, centre, range, feedback, spread }) {
        now.rate.aim(rate);
        now.centre.aim(Math.log2(centre));
        now.range.aim(range);
        now.feedback.aim(feedback);
        now.spread.aim(spread);
        now.stages.aim(Number(stages));
        for (let i = 0; i < block.frames; i++) {
          const place = phase.next(now.rate.next(), sampleRate);
          const middle = now.centre.next();
          const reach = now.range.next();
          const kept = now.feedback.next();
          const apart = now.spread.next();
          const depth = now.stages.next();
          const count = Math.ceil(depth);
          // Stages that have rested begin anew.
          for (; running < count; running++) for (let c = 0; c < channels; c++) states[c]![running] = 0;
          running = count;
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const state = states[c]!;
            const octave = middle + reach * Math.sin(2 * Math.PI * (place + (c % 2) * 0.5 * apart));
            const g = Math.tan(Math.PI * Math.min(0.48, 2 ** octave / sampleRate));
            const gain = g / (1 + g);
            const sample = samples[i]!;
            let x = sample + back[c]! * kept;
            let output = x;
            for (let s = 0; s < count; s++) {
              const v = (x - state[s]!) * gain;
              const low = v + state[s]!;
              state[s] = Math.abs(low + v) < 1e-30 ? 0 : low + v;
              x = 2 * low - x;
              // On the way from one number of stages to another, the last one is only partly there.
              output = s + 1 <= depth ? x : output + (x - output) * (depth - s);
            }
            back[c] = Math.abs(output) < 1e-30 ? 0 : output;
            samples[i] = (sample + output) * 0.6;
          }
        }
      },
    };
  },
});
