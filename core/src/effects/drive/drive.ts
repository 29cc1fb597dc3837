import { Glide } from '../../dsp/glide';
import { Oversampler } from '../../dsp/oversampler';
import { CurveShaper, isShaperCurve, shapedValue, shaperCurves } from '../../dsp/shaper-curves';
import { CutoffGlide, OnePole } from '../../dsp/filters/simple-filters';
import { choice, decibels, hertz } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const glideFrames = 512;

/** Static curves at eight times the rate with antiderivative antialiasing (see `CurveShaper`): aliases stay below -80 dB. */
export const drive = defineEffect({
  id: 'drive',
  label: 'Drive',
  family: 'Drive',
  channels: 'each',
  purpose: 'Thickens and roughens: adds harmonics by pushing the sound into a curve.',
  parameters: {
    curve: choice('Curve', shaperCurves, 'soft'),
    drive: decibels({ label: 'Drive', min: -12, max: 48, default: 12 }),
    tone: hertz({ label: 'Tone', min: 500, max: 20_000, default: 20_000 }),
    output: decibels({ label: 'Output', min: -36, max: 12, default: -6 }),
  },
  presets: [
    { name: 'Warm weight', values: { curve: 'warm', drive: 9, tone: 6_000 } },
    { name: 'Broken speaker', values: { curve: 'hard', drive: 30, tone: 3_500, output: -12 } },
    { name: 'Folded metal', values: { curve: 'fold', drive: 18, output: -9 } },
    { name: 'Octave bite', values: { curve: 'rectify', drive: 6, output: -6 } },
  ],
  picture: ({ curve, drive, output }) => {
    const x = linearAxis('', -1, 1);
    const shaped = (input: number): number =>
      isShaperCurve(curve) ? shapedValue(curve, input * decibelsToGain(drive)) * decibelsToGain(output) : 0;
    return {
      title: 'What comes out for what goes in',
      x,
      y: linearAxis('', -1.2, 1.2),
      curves: [curveAlong(x, 1, 'before', (input) => input), curveAlong(x, 240, 'main', shaped)],
    };
  },
  latency: () => Oversampler.latency,
  tail: (_, sampleRate) => 2 * Oversampler.latency + Math.ceil(0.16 * sampleRate),
  create: ({ sampleRate, channels }) => {
    const parts = Array.from({ length: channels }, () => ({
      oversampler: new Oversampler(),
      shaper: new CurveShaper(),
      tone: new OnePole(),
      // Curves that are not even leave a constant behind.
      constant: new OnePole(),
    }));
    for (const { constant } of parts) constant.tune(8, sampleRate);
    const gains = new Float64Array(maxBlock);
    const filtered = new Float64Array(maxBlock);
    const input = new Glide(glideFrames);
    const output = new Glide(glideFrames);
    const cutoff = new CutoffGlide();
    return {
      reset: () => {
        input.reset();
        output.reset();
        cutoff.reset();
        for (const { oversampler, shaper, tone, constant } of parts) {
          oversampler.reset();
          shaper.reset();
          tone.reset();
          constant.reset();
        }
      },
      process(block, values) {
        input.aim(decibelsToGain(values.drive));
        output.aim(decibelsToGain(values.output));
        cutoff.aim(values.tone);
        for (const { shaper } of parts) if (isShaperCurve(values.curve)) shaper.use(values.curve);
        input.fill(gains, block.frames);
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          for (let i = 0; i < block.frames; i++) samples[i]! *= gains[i]!;
          parts[c]!.oversampler.process(samples, block.frames, parts[c]!.shaper);
        }
        output.fill(gains, block.frames);
        let tuned = 0;
        for (; tuned < block.frames && cutoff.moving; tuned++) {
          const retuned = cutoff.next();
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const { tone, constant } = parts[c]!;
            // At the top of its range the tone is out of the way.
            if (retuned > 0) tone.tune(retuned >= 19_999 ? sampleRate : retuned, sampleRate);
            samples[tuned] = constant.high(tone.low(samples[tuned]!)) * gains[tuned]!;
          }
        }
        const rest = block.frames - tuned;
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const { tone, constant } = parts[c]!;
          for (let i = 0, n = tuned; i < rest; i++, n++) filtered[i] = samples[n]!;
          tone.lowAll(filtered, rest);
          constant.highAll(filtered, rest);
          for (let i = 0, n = tuned; i < rest; i++, n++) samples[n] = filtered[i]! * gains[n]!;
        }
      },
    };
  },
});
