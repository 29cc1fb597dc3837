import { Glide } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { CutoffGlide } from '../../dsp/filters/simple-filters';
import { SteepLowPass } from '../../dsp/filters/steep-low-pass';
import { Quadrature } from '../../dsp/filters/quadrature';
import { choice, share } from '../../project/parameters';
import type { NumberParameter } from '../../project/parameters';
import type { Hertz } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;

const shiftParameter: NumberParameter = {
  kind: 'number',
  label: 'Shift',
  unit: 'Hz',
  min: -5_000,
  max: 5_000,
  default: 120,
  scale: 'linear',
};

/** By so much further up, as a warped frequency, a low-pass of eighth order has fallen by 60 dB. */
const guardRatio = 10 ** (60 / 160);

/** The cut-off above which nothing is left that a shift upwards would fold back at half the rate. */
function guardCutoff(shift: Hertz, sampleRate: Hertz): Hertz {
  const highest = Math.max(0.05, Math.min(0.4999, 0.5 - shift / sampleRate));
  return (sampleRate / Math.PI) * Math.atan(Math.tan(Math.PI * highest) / guardRatio);
}

/**
 * Single-sideband modulation: moves every partial by the same number of Hertz, the other sideband below -60 dB (see `Quadrature`). What would be moved beyond half the rate is taken
 * away before; what is moved below 0 Hz comes back from there, as with every such modulation.
 */
export const frequencyShifter = defineEffect({
  id: 'frequency-shifter',
  label: 'Frequency shifter',
  family: 'Drive',
  channels: 'pairs',
  purpose: 'Moves all partials by the same Hertz, so that harmony turns into clang; slow shifts drift like a bad radio.',
  parameters: {
    shift: shiftParameter,
    side: choice('Side', ['up', 'down on the right', 'both'], 'up'),
    feedback: share({ label: 'Feedback', max: 0.9, default: 0 }),
  },
  presets: [
    { name: 'Drifting radio', values: { shift: 3, side: 'down on the right' } },
    { name: 'Clanging', values: { shift: 320 } },
    { name: 'Barber pole', values: { shift: 14, feedback: 0.8 } },
  ],
  latency: () => 0,
  tail: ({ feedback }, sampleRate) => Math.ceil((0.2 + 4 * feedback) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const guards = Array.from({ length: channels }, () => new SteepLowPass());
    const cutoff = new CutoffGlide();
    const pairs = Array.from({ length: channels }, () => new Quadrature());
    const back = new Float64Array(channels);
    const phase = new Phase();
    const shiftNow = new Glide(glideFrames);
    const feedbackNow = new Glide(glideFrames);
    // The second product is taken off for up, added for down, left out for both; on the left and on the right.
    const seconds = [new Glide(glideFrames), new Glide(glideFrames)] as const;
    return {
      reset: () => {
        for (const pair of pairs) pair.reset();
        for (const guard of guards) guard.reset();
        cutoff.reset();
        back.fill(0);
        phase.reset();
        shiftNow.reset();
        feedbackNow.reset();
        for (const glide of seconds) glide.reset();
      },
      process(block, { shift, side, feedback }) {
        shiftNow.aim(shift);
        feedbackNow.aim(feedback);
        seconds[0].aim(side === 'both' ? 0 : -1);
        seconds[1].aim(side === 'both' ? 0 : side === 'up' ? -1 : 1);
        cutoff.aim(guardCutoff(side === 'up' ? Math.max(0, shift) : Math.abs(shift), sampleRate));
        for (let i = 0; i < block.frames; i++) {
          const retuned = cutoff.moving ? cutoff.next() : 0;
          if (retuned > 0) for (let c = 0; c < channels; c++) guards[c]!.tune(retuned, sampleRate);
          const angle = 2 * Math.PI * phase.next(shiftNow.next(), sampleRate);
          const cosine = Math.cos(angle);
          const sine = Math.sin(angle);
          const kept = feedbackNow.next();
          const left = seconds[0].next();
          const right = seconds[1].next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const pair = pairs[c]!;
            pair.next(guards[c]!.next(samples[i]! + back[c]! * kept));
            const output = pair.real * cosine + pair.imaginary * sine * (c % 2 ? right : left);
            back[c] = Math.abs(output) < 1e-20 ? 0 : Math.tanh(output);
            samples[i] = output;
          }
        }
      },
    };
  },
});
