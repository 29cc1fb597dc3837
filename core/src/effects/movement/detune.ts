import { glides } from '../../dsp/glide';
import { TwoTapShifter } from '../../dsp/two-tap-shifter';
import { seconds, semitones, share } from '../../project/parameters';
import { semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;
const longest = 0.1;

/** Copies at another pitch (see `TwoTapShifter`). Left goes up, right goes down by `spread`. */
export const detune = defineEffect({
  id: 'detune',
  label: 'Detune',
  family: 'Movement',
  channels: 'pairs',
  purpose: 'Moves pitch a little, up on one side and down on the other, for width and unease.',
  parameters: {
    pitch: semitones({ label: 'Pitch', min: -12, max: 12, default: 0 }),
    spread: semitones({ label: 'Spread', min: 0, max: 2, default: 0.12 }),
    window: seconds({ label: 'Window', min: 0.01, max: 0.08, default: 0.04 }),
    blend: share({ label: 'Copy', default: 0.5 }),
  },
  presets: [
    { name: 'Wider', values: { spread: 0.08 } },
    { name: 'Uneasy', values: { spread: 0.5, blend: 0.6 } },
    { name: 'Shadow below', values: { pitch: -12, spread: 0.05, blend: 0.5, window: 0.06 } },
  ],
  latency: () => 0,
  tail: ({ window }, sampleRate) => Math.ceil((window + 0.005) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const shifters = Array.from({ length: channels }, () => new TwoTapShifter(Math.ceil(longest * sampleRate), sampleRate));
    const now = glides(glideFrames, 'pitch', 'spread', 'window', 'blend');
    return {
      reset: () => {
        for (const part of [...shifters, ...Object.values(now)]) part.reset();
      },
      process(block, { pitch, spread, window, blend }) {
        now.pitch.aim(pitch);
        now.spread.aim(spread);
        now.window.aim(window * sampleRate);
        now.blend.aim(blend);
        for (let i = 0; i < block.frames; i++) {
          const middle = now.pitch.next();
          const apart = now.spread.next();
          const length = now.window.next();
          const copy = now.blend.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const sample = samples[i]!;
            const shifted = shifters[c]!.next(sample, semitonesToRatio(middle + (c % 2 ? -apart : apart)), length);
            samples[i] = sample * Math.cos((copy * Math.PI) / 2) + shifted * Math.sin((copy * Math.PI) / 2);
          }
        }
      },
    };
  },
});
