import { tilt } from '../../dsp/filters/analogue';
import { matchSections } from '../../dsp/filters/matched-section';
import { Section } from '../../dsp/filters/state-variable';
import { decibels, hertz } from '../../project/parameters';
import { defineEffect } from '../effect';

const glideFrames = 512;

/** First-order tilt around a pivot, within 0.1 dB of the analogue one (see `matchSections`). */
export const tiltEq = defineEffect({
  id: 'tilt',
  label: 'Tilt',
  family: 'EQ and filters',
  channels: 'each',
  purpose: 'Makes a sound darker or brighter as a whole, with one dial.',
  parameters: {
    tilt: decibels({ label: 'Tilt', min: -24, max: 24, default: 4 }),
    pivot: hertz({ label: 'Pivot', min: 100, max: 8_000, default: 900 }),
  },
  presets: [
    { name: 'A little brighter', values: { tilt: 3 } },
    { name: 'Behind a curtain', values: { tilt: -10, pivot: 700 } },
    { name: 'Thin and bright', values: { tilt: 14, pivot: 1_400 } },
  ],
  latency: () => 0,
  tail: (_, sampleRate) => Math.ceil(0.03 * sampleRate),
  create: ({ sampleRate, channels }) => {
    const sections = Array.from({ length: channels }, () => [new Section(glideFrames), new Section(glideFrames)]);
    let tiltNow = NaN;
    let pivotNow = NaN;
    return {
      reset: () => {
        tiltNow = pivotNow = NaN;
        for (const pair of sections) for (const section of pair) section.reset();
      },
      process(block, values) {
        if (values.tilt !== tiltNow || values.pivot !== pivotNow) {
          tiltNow = values.tilt;
          pivotNow = values.pivot;
          const designed = matchSections([tilt(pivotNow, tiltNow)], sampleRate);
          for (const pair of sections) pair.forEach((section, i) => section.aim(designed[i]!));
        }
        for (let c = 0; c < channels; c++) for (const section of sections[c]!) section.process(block.channels[c]!, 0, block.frames);
      },
    };
  },
});
