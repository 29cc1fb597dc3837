import { Glide } from '../../dsp/glide';
import { Oversampler } from '../../dsp/oversampler';
import { drawnCurve } from '../../dsp/drawn-curve';
import { Emphasis } from '../../dsp/filters/emphasis';
import type { ShaperCurve, ShaperFunction } from '../../dsp/shaper-curves';
import { CurveShaper, isShaperCurve, shapedValue, shaperCurves } from '../../dsp/shaper-curves';
import { CutoffGlide, OnePole } from '../../dsp/filters/simple-filters';
import type { CurveParameter } from '../../project/parameters';
import { choice, decibels, hertz, readCurve, share } from '../../project/parameters';
import { decibelsToGain } from '../../units';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';
import { curveAlong, linearAxis } from '../effect-picture';

const glideFrames = 512;
const drawnPoints = 33;

/** What comes out at even places of what goes in, from −100 to 100 %; until it is drawn, what goes in. */
const drawn: CurveParameter = {
  kind: 'curve',
  label: 'Drawn: what comes out from −100 to 100 %',
  unit: '',
  points: drawnPoints,
  min: -100,
  max: 100,
  first: Array.from({ length: drawnPoints }, (_, i) => -100 + (200 * i) / (drawnPoints - 1)),
  default: '',
};

/** Nothing below a tenth, then at once; the ends bend back. */
const looseContact = Array.from({ length: drawnPoints }, (_, i) => {
  const place = (2 * i) / (drawnPoints - 1) - 1;
  const size = Math.abs(place);
  return Math.round(1_000 * Math.sign(place) * (size < 0.13 ? 0 : 0.3 + 0.7 * Math.sin(size * 2))) / 10;
}).join(' ');

function shaperOf(curve: string, drawing: string): ShaperCurve | ShaperFunction {
  if (isShaperCurve(curve)) return curve;
  const heights = (drawing.trim() === '' ? undefined : readCurve(drawn, drawing)) ?? drawn.first ?? [];
  return drawnCurve(heights.map((height) => height / 100));
}

/** Static curves at eight times the rate with antiderivative antialiasing (see `CurveShaper`): aliases stay below -80 dB. */
export const drive = defineEffect({
  id: 'drive',
  label: 'Drive',
  family: 'Drive',
  channels: 'each',
  purpose: 'Thickens and roughens: adds harmonics by pushing the sound into a curve.',
  parameters: {
    drawn: { ...drawn, fixed: true, needs: { of: 'curve', values: ['drawn'] } },
    curve: choice('Curve', [...shaperCurves, 'drawn'], 'soft'),
    drive: decibels({ label: 'Drive', min: -12, max: 48, default: 12 }),
    bias: share({ label: 'Bias', min: -1, max: 1, default: 0 }),
    emphasis: decibels({ label: 'Drive the highs more', min: -24, max: 24, default: 0 }),
    emphasisAt: hertz({ label: 'Highs from', min: 100, max: 10_000, default: 2_000 }),
    tone: hertz({ label: 'Tone', min: 500, max: 20_000, default: 20_000 }),
    output: decibels({ label: 'Output', min: -36, max: 12, default: -6 }),
  },
  presets: [
    { name: 'Warm weight', values: { curve: 'warm', drive: 9, tone: 6_000 } },
    { name: 'Broken speaker', values: { curve: 'hard', drive: 30, tone: 3_500, output: -12 } },
    { name: 'Folded metal', values: { curve: 'fold', drive: 18, output: -9 } },
    { name: 'Starved circuit', values: { curve: 'soft', drive: 18, bias: 0.7, output: -4 } },
    { name: 'Sizzle, not mud', values: { curve: 'soft', drive: 12, emphasis: 15, emphasisAt: 2_500 } },
    { name: 'Loose contact', values: { curve: 'drawn', drive: 6, drawn: looseContact } },
    { name: 'Octave bite', values: { curve: 'rectify', drive: 6, output: -6 } },
  ],
  picture: ({ curve, drive, bias, output, drawn: drawing }) => {
    const x = linearAxis('', -1, 1);
    const shaper = shaperOf(curve, drawing);
    const value = (input: number): number => shapedValue(shaper, input + bias) - shapedValue(shaper, bias);
    const shaped = (input: number): number => value(input * decibelsToGain(drive)) * decibelsToGain(output);
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
    const input = new Glide(glideFrames);
    const output = new Glide(glideFrames);
    const cutoff = new CutoffGlide();
    const emphasis = new Emphasis(channels, sampleRate);
    let shaperNow: ShaperCurve | ShaperFunction = 'soft';
    const chosen = { curve: '', drawing: '' };
    const choose = (curve: string, drawing: string): void => {
      if (curve === chosen.curve && (isShaperCurve(curve) || drawing === chosen.drawing)) return;
      chosen.curve = curve;
      chosen.drawing = drawing;
      shaperNow = shaperOf(curve, drawing);
    };
    return {
      reset: () => {
        emphasis.reset();
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
        choose(values.curve, values.drawn);
        for (const { shaper } of parts) {
          shaper.use(shaperNow);
          shaper.lean(values.bias);
        }
        emphasis.aim(values.emphasis, values.emphasisAt, block.frames);
        input.fill(gains, block.frames);
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          emphasis.before(c, samples, block.frames);
          for (let i = 0; i < block.frames; i++) samples[i]! *= gains[i]!;
          parts[c]!.oversampler.process(samples, block.frames, parts[c]!.shaper);
          emphasis.after(c, samples, block.frames);
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
        for (let c = 0; c < channels; c++) {
          const { tone, constant } = parts[c]!;
          OnePole.band(tone, constant, block.channels[c]!, gains, tuned, block.frames);
        }
      },
    };
  },
});
