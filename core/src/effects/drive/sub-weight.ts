import { Glide } from '../../dsp/glide';
import { Follower, StateVariableFilter } from '../../dsp/filters/simple-filters';
import { decibels, factor, hertz, seconds } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const glideFrames = 512;
const inaudible = 1e-7;

/**
 * A narrow low band, pushed into saturation and let through by an envelope of its own, added to the sound. Far below Nyquist the
 * saturation needs no oversampling: its harmonics have died out long before.
 */
export const subWeight = defineEffect({
  id: 'sub-weight',
  label: 'Sub weight',
  family: 'Drive',
  channels: 'each',
  purpose: 'Puts a controlled thump under a hit that has none.',
  parameters: {
    frequency: hertz({ label: 'Frequency', min: 25, max: 160, default: 52 }),
    width: factor({ label: 'Width (Q)', min: 0.5, max: 12, default: 2.5 }),
    drive: decibels({ label: 'Drive', min: 0, max: 36, default: 12 }),
    decay: seconds({ label: 'Decay', min: 0.03, max: 3, default: 0.35 }),
    level: decibels({ label: 'Level', min: -36, max: 12, default: -6 }),
  },
  presets: [
    { name: 'Short thump', values: { frequency: 62, decay: 0.12 } },
    { name: 'Slab falls', values: { frequency: 41, width: 3, decay: 0.8, drive: 16 } },
    { name: 'Rumble bed', values: { frequency: 34, width: 1, decay: 2.5, level: -10 } },
  ],
  latency: () => 0,
  tail: ({ decay, width, frequency }, sampleRate) => Math.ceil((decay + (2.2 * width) / frequency) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const parts = Array.from({ length: channels }, () => ({
      band: new StateVariableFilter(),
      smooth: new StateVariableFilter(),
      envelope: new Follower(),
    }));
    const push = new Glide(glideFrames);
    const level = new Glide(glideFrames);
    return {
      reset: () => {
        push.reset();
        level.reset();
        for (const { band, smooth, envelope } of parts) {
          band.reset();
          smooth.reset();
          envelope.reset();
        }
      },
      process(block, values) {
        push.aim(decibelsToGain(values.drive));
        level.aim(decibelsToGain(values.level));
        for (const { band, smooth, envelope } of parts) {
          band.tune(values.frequency, values.width, sampleRate);
          smooth.tune(Math.min(0.45 * sampleRate, values.frequency * 4), Math.SQRT1_2, sampleRate);
          // 60 dB in `decay` seconds.
          envelope.tune(0.002, values.decay / 6.9, sampleRate);
        }
        for (let i = 0; i < block.frames; i++) {
          const drive = push.next();
          const gain = level.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const { band, smooth, envelope } = parts[c]!;
            const sample = samples[i]!;
            const followed = envelope.next(sample) * 4;
            const open = followed > 1 ? 1 : followed < inaudible ? 0 : followed;
            band.next(sample);
            smooth.next(Math.tanh(band.peak * drive) * open);
            samples[i] = sample + smooth.low * gain;
          }
        }
      },
    };
  },
});
