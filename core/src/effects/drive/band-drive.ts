import { DelayLine } from '../../dsp/delay-line';
import { Glide } from '../../dsp/glide';
import { Oversampler } from '../../dsp/oversampler';
import { CurveShaper, isShaperCurve, shaperCurves } from '../../dsp/shaper-curves';
import { CutoffGlide, StateVariableFilter } from '../../dsp/filters/simple-filters';
import { choice, decibels, factor, hertz } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const glideFrames = 512;
const lag = Oversampler.latency;

/** Drives one band and leaves the rest as it is: the band is taken out by a band-pass, shaped, and put back. */
export const bandDrive = defineEffect({
  id: 'band-drive',
  label: 'Band drive',
  family: 'Drive',
  channels: 'each',
  purpose: 'Roughens only one band, so that weight stays clean while the middle bites.',
  parameters: {
    frequency: hertz({ label: 'Frequency', min: 30, max: 16_000, default: 1_800 }),
    width: factor({ label: 'Width (Q)', min: 0.2, max: 8, default: 0.7 }),
    curve: choice('Curve', shaperCurves, 'soft'),
    drive: decibels({ label: 'Drive', min: 0, max: 48, default: 18 }),
    level: decibels({ label: 'Band level', min: -36, max: 12, default: -6 }),
  },
  presets: [
    { name: 'Biting middle', values: { frequency: 1_800, drive: 20 } },
    { name: 'Growling low', values: { frequency: 180, curve: 'warm', drive: 22 } },
    { name: 'Ice on top', values: { frequency: 7_500, curve: 'hard', drive: 16, level: -10 } },
  ],
  latency: () => lag,
  // What rings on is driven, too, and is heard for longer.
  tail: ({ width, frequency, drive }, sampleRate) =>
    2 * lag + Math.ceil(((2.2 * Math.max(1, width) * (1 + drive / 60)) / frequency) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const parts = Array.from({ length: channels }, () => ({
      band: new StateVariableFilter(),
      oversampler: new Oversampler(),
      shaper: new CurveShaper(),
      driven: new Float32Array(maxBlock),
    }));
    const levels = new Float64Array(maxBlock);
    /** Delays what is not driven as much as driving does. */
    const rest = new DelayLine(lag, channels);
    const input = new Glide(glideFrames);
    const output = new Glide(glideFrames);
    const cutoff = new CutoffGlide();
    const quality = new Glide(glideFrames);
    let qualityNow = 0;
    let frequencyNow = 0;
    return {
      reset: () => {
        input.reset();
        output.reset();
        cutoff.reset();
        quality.reset();
        qualityNow = 0;
        rest.reset();
        for (const { band, oversampler, shaper } of parts) {
          band.reset();
          oversampler.reset();
          shaper.reset();
        }
      },
      process(block, { frequency, width, curve, drive, level }) {
        input.aim(decibelsToGain(drive));
        output.aim(decibelsToGain(level));
        cutoff.aim(frequency);
        quality.aim(width);
        for (const { shaper } of parts) if (isShaperCurve(curve)) shaper.use(curve);
        for (let i = 0; i < block.frames; i++) {
          const push = input.next();
          const retuned = cutoff.next();
          const narrow = quality.next();
          if (retuned > 0 || narrow !== qualityNow) {
            if (retuned > 0) frequencyNow = retuned;
            qualityNow = narrow;
            for (const { band } of parts) band.tune(frequencyNow, narrow, sampleRate);
          }
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const { band, driven } = parts[c]!;
            band.next(samples[i]!);
            const inBand = band.peak;
            samples[i]! -= inBand;
            driven[i] = inBand * push;
          }
        }
        output.fill(levels, block.frames);
        for (let c = 0; c < channels; c++) {
          const { oversampler, shaper, driven } = parts[c]!;
          oversampler.process(driven, block.frames, shaper);
        }
        rest.process(block);
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const { driven } = parts[c]!;
          for (let i = 0; i < block.frames; i++) samples[i]! += driven[i]! * levels[i]!;
        }
      },
    };
  },
});
