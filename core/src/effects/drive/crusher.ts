import { maxBlock } from '../../dsp/block';
import { Glide } from '../../dsp/glide';
import { cut } from '../../dsp/filters/analogue';
import { matchSections } from '../../dsp/filters/matched-section';
import { passThrough, Section } from '../../dsp/filters/state-variable';
import { createRandom } from '../../dsp/random';
import { factor, hertz, share } from '../../project/parameters';
import type { Frames, Hertz } from '../../units';
import { defineEffect } from '../effect';

const glideFrames: Frames = 512;
const open: Hertz = 20_000;
/** Of the filters, in dB per octave. */
const steepness = 24;
const seed = 1;
/** What lies below is silence, which is not dithered. */
const silence = 1e-7;

/** A low-pass for all channels; at the top of its range it is out of the way. */
class HighCut {
  private readonly sections: readonly (readonly Section[])[];
  private frequency: Hertz = 0;

  constructor(
    channels: number,
    private readonly sampleRate: Hertz,
  ) {
    this.sections = Array.from({ length: channels }, () => Array.from({ length: steepness / 12 + 1 }, () => new Section(glideFrames)));
  }

  reset(): void {
    this.frequency = 0;
    for (const sections of this.sections) for (const section of sections) section.reset();
  }

  aim(frequency: Hertz): void {
    if (frequency === this.frequency) return;
    this.frequency = frequency;
    const coefficients = frequency >= open ? [] : matchSections(cut('high', frequency, steepness, Math.SQRT1_2), this.sampleRate);
    for (const sections of this.sections) sections.forEach((section, i) => section.aim(coefficients[i] ?? passThrough));
  }

  process(channel: number, samples: Float32Array, frames: Frames): void {
    for (const section of this.sections[channel]!) if (!section.idle) section.process(samples, 0, frames);
  }
}

/**
 * Fewer bits and a lower sampling rate, by rounding and by holding samples; the aliases are what it is for. A filter before takes away what would
 * alias, one after takes the edges off. Triangular dither of two steps peak to peak turns what rounding distorts into steady noise (Lipshitz,
 * Wannamaker & Vanderkooy 1992).
 */
export const crusher = defineEffect({
  id: 'crusher',
  label: 'Crusher',
  family: 'Drive',
  channels: 'each',
  purpose: 'Makes a sound coarse like an old sampler or a failing data link.',
  parameters: {
    bits: { ...factor({ label: 'Bits', min: 1, max: 16, default: 8 }), scale: 'linear' },
    rate: hertz({ label: 'Rate', min: 100, max: 48_000, default: 11_025 }),
    jitter: share({ label: 'Jitter', default: 0 }),
    dither: share({ label: 'Dither', default: 0 }),
    before: hertz({ label: 'High cut before', min: 100, max: open, default: open }),
    after: hertz({ label: 'High cut after', min: 100, max: open, default: open }),
  },
  presets: [
    { name: 'Station computer', values: { bits: 8, rate: 11_025 } },
    { name: 'Broken link', values: { bits: 4, rate: 3_200, jitter: 0.6 } },
    { name: 'Gravel', values: { bits: 2.5, rate: 18_000 } },
    { name: 'Old field recorder', values: { bits: 10, rate: 22_050, dither: 1, before: 9_000, after: 10_000 } },
  ],
  latency: () => 0,
  tail: ({ before, after }, sampleRate) => Math.ceil(sampleRate / 100 + (4 * sampleRate) / before + (4 * sampleRate) / after),
  create: ({ sampleRate, channels }) => {
    const held = new Float64Array(channels);
    const steps = new Glide(glideFrames);
    const levels = new Float64Array(maxBlock);
    const before = new HighCut(channels, sampleRate);
    const after = new HighCut(channels, sampleRate);
    let place = 1;
    let random = createRandom(seed);
    /** Jitter from a small generator of its own, that starts anew with every reset (Park & Miller 1988). */
    let state = 1;
    const draw = (): number => {
      state = (state * 48_271) % 2_147_483_647;
      return state / 2_147_483_647;
    };
    return {
      reset: () => {
        held.fill(0);
        for (const part of [steps, before, after]) part.reset();
        random = createRandom(seed);
        place = state = 1;
      },
      process(block, { bits, rate, jitter, dither, before: cutBefore, after: cutAfter }) {
        before.aim(cutBefore);
        after.aim(cutAfter);
        steps.aim(2 ** (bits - 1));
        steps.fill(levels, block.frames);
        const step = Math.min(1, rate / sampleRate);
        for (let c = 0; c < channels; c++) before.process(c, block.channels[c]!, block.frames);
        for (let i = 0; i < block.frames; i++) {
          if (place >= 1) {
            place -= 1;
            if (jitter > 0) place -= jitter * 0.8 * draw();
            for (let c = 0; c < channels; c++) {
              const sample = block.channels[c]![i]!;
              const scaled = sample * levels[i]!;
              // Drawn in any case, so that what comes later does not depend on it.
              const noise = dither > 0 ? (random.next() - random.next()) * dither : 0;
              held[c] = Math.round(sample > silence || sample < -silence ? scaled + noise : scaled) / levels[i]!;
            }
          }
          place += step;
          for (let c = 0; c < channels; c++) block.channels[c]![i] = held[c]!;
        }
        for (let c = 0; c < channels; c++) after.process(c, block.channels[c]!, block.frames);
      },
    };
  },
});
