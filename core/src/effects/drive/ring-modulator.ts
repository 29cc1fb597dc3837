import { Glide } from '../../dsp/glide';
import { jumpCorrection, Phase, shapeAt } from '../../dsp/oscillator';
import { choice, hertz, share } from '../../project/parameters';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** Multiplies the sound by a tone, which replaces every partial by its sum and its difference with the tone. */
export const ringModulator = defineEffect({
  id: 'ring-modulator',
  label: 'Ring modulator',
  family: 'Drive',
  channels: 'each',
  purpose: 'Turns pitched sounds metallic and voices inhuman.',
  parameters: {
    frequency: hertz({ label: 'Frequency', min: 0.1, max: 12_000, default: 180 }),
    shape: choice('Shape', ['sine', 'triangle', 'square'], 'sine'),
    depth: share({ label: 'Depth', default: 1 }),
  },
  presets: [
    { name: 'Robot voice', values: { frequency: 62, shape: 'sine' } },
    { name: 'Struck metal', values: { frequency: 730, shape: 'sine' } },
    { name: 'Alarm', values: { frequency: 9, shape: 'square', depth: 0.9 } },
  ],
  latency: () => 0,
  tail: () => 0,
  create: ({ sampleRate, channels }) => {
    const phase = new Phase();
    const depthNow = new Glide(glideFrames);
    const pitch = new Glide(glideFrames);
    return {
      reset: () => {
        phase.reset();
        depthNow.reset();
        pitch.reset();
      },
      process(block, { frequency, shape, depth }) {
        depthNow.aim(depth);
        pitch.aim(frequency);
        for (let i = 0; i < block.frames; i++) {
          const hz = pitch.next();
          const amount = depthNow.next();
          const place = phase.next(hz, sampleRate);
          let tone = shapeAt(shape, place);
          if (shape === 'square') {
            const step = hz / sampleRate;
            tone += jumpCorrection(place, step) - jumpCorrection((place + 0.5) % 1, step);
          }
          const gain = 1 - amount + amount * tone;
          for (let c = 0; c < channels; c++) block.channels[c]![i]! *= gain;
        }
      },
    };
  },
});
