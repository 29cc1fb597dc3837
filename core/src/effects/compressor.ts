import { cut } from '../dsp/analogue';
import { Glide } from '../dsp/glide';
import { matchSections } from '../dsp/matched-section';
import { Section } from '../dsp/state-variable';
import { choice, decibels, factor, hertz, seconds, toggle } from '../project/parameters';
import type { Decibels, Frames, Ratio, Seconds } from '../units';
import { defineEffect, maxBlock } from './effect';

const longestLookahead: Seconds = 0.02;
const glideFrames: Frames = 512;
/** Averaging time of the RMS detector. */
const rmsTime: Seconds = 0.01;
/** The natural logarithm is what processors compute fastest. */
const decibelsPerNeper = 20 / Math.LN10;
/** Below this level the detector reads silence. */
const quietest: Decibels = -160;

/** Output level of the static curve for an input level, with a quadratic knee `knee` dB wide (Giannoulis et al. 2012, eq. 4). */
export function compressorCurve(input: Decibels, threshold: Decibels, ratio: Ratio, knee: Decibels): Decibels {
  const over = input - threshold;
  if (2 * over <= -knee) return input;
  if (2 * over < knee) return input + ((1 / ratio - 1) * (over + knee / 2) ** 2) / (2 * knee);
  return threshold + over / ratio;
}

/** Automatic make-up: half of the reduction that full scale would get. */
export function automaticMakeUp(threshold: Decibels, ratio: Ratio, knee: Decibels): Decibels {
  return -compressorCurve(0, threshold, ratio, knee) / 2;
}

/**
 * Feed-forward compressor in the decibel domain with a smooth branching detector (Giannoulis, Massberg & Reiss, "Digital Dynamic
 * Range Compressor Design", JAES 2012). Attack and release are the times to 63 % of a change. All channels share one gain.
 */
export const compressor = defineEffect({
  id: 'compressor',
  label: 'Compressor',
  purpose: 'Evens out level: turns down what passes the threshold, so that the rest can come up.',
  parameters: {
    threshold: decibels({ label: 'Threshold', min: -60, max: 0, default: -24 }),
    ratio: factor({ label: 'Ratio', unit: ':1', min: 1, max: 40, default: 3 }),
    knee: decibels({ label: 'Knee', min: 0, max: 36, default: 6 }),
    attack: seconds({ label: 'Attack', min: 0.0001, max: 0.5, default: 0.005 }),
    release: seconds({ label: 'Release', min: 0.005, max: 4, default: 0.12 }),
    lookahead: { ...seconds({ label: 'Look-ahead', min: 0, max: longestLookahead, default: 0 }), scale: 'linear' },
    detector: choice('Detector', ['peak', 'RMS'], 'peak'),
    keyLowCut: hertz({ label: 'Key low cut', min: 20, max: 2_000, default: 20 }),
    autoMakeUp: toggle('Automatic make-up', false),
    makeUp: decibels({ label: 'Make-up', min: -12, max: 36, default: 0 }),
  },
  latency: ({ lookahead }, sampleRate) => Math.round(lookahead * sampleRate),
  tail: ({ lookahead }, sampleRate) => Math.round(lookahead * sampleRate),
  create: ({ sampleRate, channels }) => {
    const makeUp = new Glide(glideFrames);
    const threshold = new Glide(glideFrames);
    const inverseRatio = new Glide(glideFrames);
    const keyCut = Array.from({ length: channels }, () => [new Section(glideFrames), new Section(glideFrames)]);
    const key = Array.from({ length: channels }, () => new Float32Array(maxBlock));
    const delayLength = Math.ceil(longestLookahead * sampleRate) + 1;
    const delay = Array.from({ length: channels }, () => new Float32Array(delayLength));
    const rmsFactor = Math.exp(-1 / (rmsTime * sampleRate));
    let write = 0;
    let reduction = 0;
    let meanSquare = 0;
    let deepest = 0;
    let keyCutFrequency = 0;
    return {
      get gainReduction() {
        return -deepest;
      },
      reset: () => {
        write = reduction = meanSquare = deepest = keyCutFrequency = 0;
        for (const line of delay) line.fill(0);
        for (const glide of [makeUp, threshold, inverseRatio]) glide.reset();
        for (const sections of keyCut) for (const section of sections) section.reset();
      },
      process(block, values) {
        const frames = block.frames;
        if (values.keyLowCut !== keyCutFrequency) {
          keyCutFrequency = values.keyLowCut;
          const sections = matchSections(cut('low', keyCutFrequency, 12, Math.SQRT1_2), sampleRate);
          for (const perChannel of keyCut) perChannel.forEach((section, i) => section.aim(sections[i]!));
        }
        makeUp.aim(values.makeUp + (values.autoMakeUp ? automaticMakeUp(values.threshold, values.ratio, values.knee) : 0));
        threshold.aim(values.threshold);
        inverseRatio.aim(1 / values.ratio);
        for (let c = 0; c < channels; c++) {
          key[c]!.set(block.channels[c]!.subarray(0, frames));
          if (keyCutFrequency > 20) for (const section of keyCut[c]!) section.process(key[c]!, 0, frames);
        }
        const rms = values.detector === 'RMS';
        const attack = Math.exp(-1 / (values.attack * sampleRate));
        const release = Math.exp(-1 / (values.release * sampleRate));
        const lag = Math.round(values.lookahead * sampleRate);
        const knee = values.knee;
        deepest = 0;
        for (let i = 0; i < frames; i++) {
          let level = 0;
          for (let c = 0; c < channels; c++) level = Math.max(level, Math.abs(key[c]![i]!));
          if (rms) {
            meanSquare = rmsFactor * meanSquare + (1 - rmsFactor) * level * level;
            level = Math.sqrt(meanSquare);
          }
          const input = level > 1e-8 ? Math.log(level) * decibelsPerNeper : quietest;
          const over = input - threshold.next();
          const slope = 1 - inverseRatio.next();
          let wanted = 0;
          if (2 * over >= knee) wanted = over * slope;
          else if (2 * over > -knee) wanted = (slope * (over + knee / 2) ** 2) / (2 * knee);
          const smoothing = wanted > reduction ? attack : release;
          reduction = smoothing * reduction + (1 - smoothing) * wanted;
          if (reduction < 1e-9) reduction = 0;
          if (reduction > deepest) deepest = reduction;
          const gain = Math.exp((makeUp.next() - reduction) / decibelsPerNeper);
          const read = write - lag < 0 ? write - lag + delayLength : write - lag;
          for (let c = 0; c < channels; c++) {
            const line = delay[c]!;
            line[write] = block.channels[c]![i]!;
            block.channels[c]![i] = line[read]! * gain;
          }
          if (++write === delayLength) write = 0;
        }
      },
    };
  },
});
