import { Glide } from '../../dsp/glide';
import { noteLength, seconds, share } from '../../project/parameters';
import { defineEffect } from '../effect';

const longest = 2;
const glideFrames = 512;

/** Two heads that read stretches of the past backwards and take turns, each faded in and out: their gains add up to one. */
export const reverseDelay = defineEffect({
  id: 'reverse-delay',
  label: 'Reverse delay',
  family: 'Time and space',
  channels: 'each',
  purpose: 'Answers with the sound turned round: sucked in, dreamlike.',
  parameters: {
    length: { ...seconds({ label: 'Length', min: 0.05, max: longest, default: 0.5 }), counted: 'note' },
    note: noteLength('Length in'),
    feedback: share({ label: 'Feedback', max: 0.9, default: 0.2 }),
    blend: share({ label: 'Reversed', default: 0.6 }),
  },
  presets: [
    { name: 'Sucked in', values: { length: 0.6, blend: 0.8, feedback: 0 } },
    { name: 'Dream', values: { length: 1.2, feedback: 0.5 } },
    { name: 'Stutter back', values: { length: 0.09, blend: 0.9, feedback: 0.3 } },
  ],
  latency: () => 0,
  tail: ({ length, feedback }, sampleRate) =>
    Math.ceil(2 * length * (1 + (feedback > 0.001 ? Math.log(1e-3) / Math.log(feedback) : 0)) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const size = 2 ** Math.ceil(Math.log2(2 * longest * sampleRate + 2));
    const mask = size - 1;
    const mostFrames = Math.round(longest * sampleRate);
    const lines = Array.from({ length: channels }, () => new Float64Array(size));
    const feedbackNow = new Glide(glideFrames);
    const blendNow = new Glide(glideFrames);
    let position = 0;
    // Two heads; the second begins when the first is half through. Each keeps the length that it began with, so that nothing jumps.
    let [first, second, firstLength, secondLength] = [0, 0, 0, 0];
    return {
      reset: () => {
        for (const line of lines) line.fill(0);
        feedbackNow.reset();
        blendNow.reset();
        position = 0;
        firstLength = 0;
      },
      process(block, { length, feedback, blend }) {
        const frames = Math.round(length * sampleRate);
        const half = frames >> 1;
        if (firstLength === 0) [first, second, firstLength, secondLength] = [0, half, frames, frames];
        feedbackNow.aim(feedback);
        blendNow.aim(blend);
        for (let i = 0; i < block.frames; i++) {
          const back = feedbackNow.next();
          const share = blendNow.next();
          // Read forwards in time, a head goes back through what was written: its delay grows by two frames each frame.
          const fade = 0.5 - 0.5 * Math.cos((2 * Math.PI * first) / firstLength);
          const otherFade = 0.5 - 0.5 * Math.cos((2 * Math.PI * second) / secondLength);
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const line = lines[c]!;
            const sample = samples[i]!;
            const turned = line[(position - 1 - 2 * first) & mask]! * fade + line[(position - 1 - 2 * second) & mask]! * otherFade;
            const into = sample + turned * back;
            line[position & mask] = Math.abs(into) < 1e-20 ? 0 : into;
            samples[i] = sample * (1 - share) + turned * share;
          }
          position = (position + 1) & mask;
          if (++first >= firstLength) [first, firstLength] = [0, frames];
          if (++second >= secondLength) [second, secondLength] = [0, Math.min(mostFrames, firstLength - first + frames - half)];
        }
      },
    };
  },
});
