import { DelayTap } from '../../dsp/delay-tap';
import { glides } from '../../dsp/glide';
import { Phase } from '../../dsp/oscillator';
import { seconds, semitones, share } from '../../project/parameters';
import { semitonesToRatio } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;
const longest = 0.1;

/**
 * Two taps that run along a delay line and take turns, each silent where it jumps back: pitch moves by their speed (the classical
 * two-tap shifter). Left goes up, right goes down by `spread`.
 */
export const detune = defineEffect({
  id: 'detune',
  label: 'Detune',
  family: 'Movement',
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
    const lines = Array.from({ length: channels }, () => new DelayTap(Math.ceil(longest * sampleRate)));
    const phases = Array.from({ length: channels }, () => new Phase());
    const now = glides(glideFrames, 'pitch', 'spread', 'window', 'blend');
    return {
      reset: () => {
        for (const part of [...lines, ...phases, ...Object.values(now)]) part.reset();
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
            const line = lines[c]!;
            const sample = samples[i]!;
            line.write(sample);
            const ratio = semitonesToRatio(middle + (c % 2 ? -apart : apart));
            // The delay shrinks by ratio - 1 per frame; a period is one walk along the window.
            const place = phases[c]!.next(((1 - ratio) * sampleRate) / length, sampleRate);
            const other = place < 0.5 ? place + 0.5 : place - 0.5;
            const first = line.read(1 + place * length) * Math.sin(Math.PI * place);
            const second = line.read(1 + other * length) * Math.sin(Math.PI * other);
            samples[i] = sample * Math.cos((copy * Math.PI) / 2) + (first + second) * Math.sin((copy * Math.PI) / 2);
          }
        }
      },
    };
  },
});
