import { Crossover } from '../../dsp/filters/crossover';
import { Glide, glides } from '../../dsp/glide';
import { frameLevel, smoothing } from '../../dsp/filters/simple-filters';
import { decibels, factor, hertz, seconds, share } from '../../project/parameters';
import type { Decibels, Ratio } from '../../units';
import { decibelsToGain } from '../../units';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { defineEffect } from '../effect';

const bandCount = 3;
const glideFrames = 512;
/** Averaging time of the detectors. */
const averaging = 0.01;
const decibelsPerPower = 10 / Math.LN10;
const decibelsPerNeper = 20 / Math.LN10;
/** What lies below is left alone: lifting it would only lift noise. */
const floor: Decibels = -72;

interface Curve {
  readonly above: Decibels;
  readonly downRatio: Ratio;
  readonly below: Decibels;
  readonly upRatio: Ratio;
  /** The most that quiet parts are lifted. */
  readonly most: Decibels;
}

/**
 * Gain of a band at a level: what lies above `above` is pressed towards it, what lies below `below` lifted towards it; from the floor on
 * down the lift goes back, so that silence stays silent.
 */
export function multibandGain(level: Decibels, { above, downRatio, below, upRatio, most }: Curve): Decibels {
  if (level > above) return (above - level) * (1 - 1 / downRatio);
  if (level >= below) return 0;
  const lift = Math.min(most, (below - level) * (1 - 1 / upRatio));
  return level >= floor ? lift : Math.max(0, lift - 2 * (floor - level));
}

/**
 * Compressor of three bands that works downward and upward at once (gain computer after Giannoulis et al. 2012, RMS detectors, bands by
 * Linkwitz–Riley filters). The tilt moves the thresholds of low and high bands against each other, and with them what comes forward.
 */
export const multiband = defineEffect({
  id: 'multiband',
  label: 'Multiband compressor',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Presses loud parts and lifts quiet ones in three bands at once: dense, even, all detail forward.',
  parameters: {
    amount: share({ label: 'Amount', default: 0.6 }),
    above: decibels({ label: 'Press above', min: -60, max: 0, default: -24 }),
    downRatio: factor({ label: 'Press ratio', unit: ':1', min: 1, max: 40, default: 4 }),
    below: decibels({ label: 'Lift below', min: -72, max: 0, default: -36 }),
    upRatio: factor({ label: 'Lift ratio', unit: ':1', min: 1, max: 20, default: 2 }),
    most: decibels({ label: 'Lift at most', min: 0, max: 36, default: 15 }),
    tilt: decibels({ label: 'Tilt to the top', min: -18, max: 18, default: 0 }),
    attack: seconds({ label: 'Attack', min: 0.001, max: 0.5, default: 0.012 }),
    release: seconds({ label: 'Release', min: 0.01, max: 4, default: 0.15 }),
    split1: hertz({ label: 'Low split', min: 40, max: 1_000, default: 150 }),
    split2: hertz({ label: 'High split', min: 600, max: 16_000, default: 2_800 }),
    low: decibels({ label: 'Low', min: -24, max: 24, default: 0 }),
    middle: decibels({ label: 'Middle', min: -24, max: 24, default: 0 }),
    high: decibels({ label: 'High', min: -24, max: 24, default: 0 }),
    output: decibels({ label: 'Output', min: -36, max: 24, default: 0 }),
  },
  presets: [
    { name: 'Everything forward', values: { amount: 1, above: -30, downRatio: 8, below: -30, upRatio: 4, most: 24, release: 0.08 } },
    { name: 'Hold the bottom still', values: { amount: 0.8, above: -26, downRatio: 10, below: -72, upRatio: 1, tilt: -6 } },
    { name: 'Detail in the tail', values: { amount: 0.7, above: 0, downRatio: 1, below: -34, upRatio: 3, most: 20, release: 0.4 } },
  ],
  latency: () => 0,
  tail: ({ split1, release }, sampleRate) => Math.ceil((3 / split1 + release) * sampleRate),
  create: ({ sampleRate, channels }) => {
    const crossover = new Crossover(bandCount, channels, sampleRate);
    const block = (): Block => ({ channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 });
    const parts = Array.from({ length: bandCount }, block);
    const dry = block();
    const bands = Array.from({ length: bandCount }, () => ({ power: 0, gain: 0, level: new Glide(glideFrames) }));
    const glide = glides(glideFrames, 'amount', 'output');
    const keep = smoothing(averaging, sampleRate);
    const splits = [0, 0];
    let deepest = 0;
    return {
      dry,
      get gainReduction() {
        return -deepest;
      },
      reset: () => {
        crossover.reset();
        deepest = 0;
        for (const part of Object.values(glide)) part.reset();
        for (const band of bands) {
          band.power = band.gain = 0;
          band.level.reset();
        }
      },
      process({ channels: samples, frames }, values) {
        splits[0] = values.split1;
        splits[1] = values.split2;
        crossover.process(splits, samples, parts, frames);
        glide.amount.aim(values.amount);
        glide.output.aim(decibelsToGain(values.output));
        const falling = smoothing(values.attack, sampleRate);
        const rising = smoothing(values.release, sampleRate);
        bands[0]!.level.aim(values.low);
        bands[1]!.level.aim(values.middle);
        bands[2]!.level.aim(values.high);
        dry.frames = frames;
        deepest = 0;
        for (let i = 0; i < frames; i++) {
          const amount = glide.amount.next();
          const output = glide.output.next();
          for (let b = 0; b < bandCount; b++) {
            const band = bands[b]!;
            const part = parts[b]!.channels;
            const loudest = frameLevel(part, channels, i);
            band.power = loudest * loudest + (band.power - loudest * loudest) * keep;
            if (band.power < 1e-30) band.power = 0;
            // Tilting up lowers the thresholds of the top and raises those of the bottom, so that the top is lifted more.
            const level = band.power > 0 ? Math.log(band.power) * decibelsPerPower : -160;
            const wanted = multibandGain(level + values.tilt * (1 - b), values) * amount;
            band.gain = wanted + (band.gain - wanted) * (wanted < band.gain ? falling : rising);
            if (band.gain > -1e-6 && band.gain < 1e-6) band.gain = 0;
            if (-band.gain > deepest) deepest = -band.gain;
            const gain = Math.exp((band.gain + band.level.next()) / decibelsPerNeper) * output;
            for (let c = 0; c < channels; c++) {
              const sample = part[c]![i]!;
              dry.channels[c]![i] = (b === 0 ? 0 : dry.channels[c]![i]!) + sample;
              samples[c]![i] = (b === 0 ? 0 : samples[c]![i]!) + sample * gain;
            }
          }
        }
      },
    };
  },
});
