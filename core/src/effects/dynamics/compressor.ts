import { cut } from '../../dsp/filters/analogue';
import { Glide } from '../../dsp/glide';
import { matchSections } from '../../dsp/filters/matched-section';
import { Section } from '../../dsp/filters/state-variable';
import { choice, decibels, factor, hertz, reference, seconds, toggle } from '../../project/parameters';
import type { Decibels, Frames, Ratio, Seconds } from '../../units';
import type { Block } from '../../dsp/block';
import { maxBlock } from '../../dsp/block';
import { GainComputer } from '../../dsp/gain-computer';
import { automaticMakeUp, decibelsPerNeper, levelOf, liftOf, pressOf } from '../../dsp/gain-curves';
import { defineEffect } from '../effect';

const longestLookahead: Seconds = 0.02;
const glideFrames: Frames = 512;
/** Averaging time of the RMS detector. */
const rmsTime: Seconds = 0.01;

interface Settings {
  readonly attack: Seconds;
  readonly release: Seconds;
  readonly knee: Decibels;
  readonly direction: string;
  readonly most: Decibels;
}

/**
 * Feed-forward compressor in the decibel domain with a smooth branching detector (Giannoulis, Massberg & Reiss, "Digital Dynamic
 * Range Compressor Design", JAES 2012). Attack and release are the times to 63 % of a change. All channels share one gain.
 */
export const compressor = defineEffect({
  id: 'compressor',
  label: 'Compressor',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Evens out level: turns down what passes the threshold, so that the rest can come up, or lifts what lies below it.',
  parameters: {
    direction: choice('Direction', ['downward', 'upward'], 'downward'),
    threshold: decibels({ label: 'Threshold', min: -60, max: 0, default: -24 }),
    ratio: factor({ label: 'Ratio', unit: ':1', min: 1, max: 40, default: 3 }),
    knee: decibels({ label: 'Knee', min: 0, max: 36, default: 6 }),
    attack: seconds({ label: 'Attack', min: 0.0001, max: 0.5, default: 0.005 }),
    release: seconds({ label: 'Release', min: 0.005, max: 4, default: 0.12 }),
    lookahead: { ...seconds({ label: 'Look-ahead', min: 0, max: longestLookahead, default: 0 }), scale: 'linear', fixed: true },
    detector: choice('Detector', ['peak', 'RMS'], 'peak'),
    key: reference('Key', 'layer', 'its own sound'),
    keyLowCut: hertz({ label: 'Key low cut', min: 20, max: 2_000, default: 20 }),
    most: { ...decibels({ label: 'Lift at most', min: 0, max: 36, default: 12 }), needs: { of: 'direction', values: ['upward'] } },
    autoMakeUp: { ...toggle('Automatic make-up', false), needs: { of: 'direction', values: ['downward'] } },
    makeUp: decibels({ label: 'Make-up', min: -12, max: 36, default: 0 }),
  },
  presets: [
    { name: 'Even out a bed', values: { threshold: -32, ratio: 2.5, knee: 18, attack: 0.03, release: 0.4, detector: 'RMS' } },
    { name: 'Let the hit through', values: { threshold: -26, ratio: 6, knee: 3, attack: 0.03, release: 0.15 } },
    { name: 'Squeeze hard', values: { threshold: -40, ratio: 12, knee: 6, attack: 0.001, release: 0.08, autoMakeUp: true } },
    {
      name: 'Detail comes up',
      values: { direction: 'upward', threshold: -30, ratio: 3, knee: 12, attack: 0.01, release: 0.25, detector: 'RMS' },
    },
  ],
  latency: ({ lookahead }, sampleRate) => Math.round(lookahead * sampleRate),
  tail: ({ lookahead }, sampleRate) => Math.round(lookahead * sampleRate),
  create: ({ sampleRate, channels, keys }) => {
    const external = keys?.['key'];
    const makeUp = new Glide(glideFrames);
    const threshold = new Glide(glideFrames);
    const inverseRatio = new Glide(glideFrames);
    const keyCut = Array.from({ length: channels }, () => [new Section(glideFrames), new Section(glideFrames)]);
    const key = Array.from({ length: channels }, () => new Float32Array(maxBlock));
    const delayLength = Math.ceil(longestLookahead * sampleRate) + 1;
    const delay = Array.from({ length: channels }, () => new Float32Array(delayLength));
    const rmsFactor = Math.exp(-1 / (rmsTime * sampleRate));
    const computer = new GainComputer();
    const listened: Float32Array[] = [];
    let write = 0;
    let meanSquare = 0;
    let keyCutFrequency = 0;
    /** Level of the loudest channel of the key, sample by sample. Locals, because captured numbers would be boxed at every change. */
    const measureKey = (heard: readonly Float32Array[], frames: Frames, rms: boolean): void => {
      listened.length = Math.min(channels, heard.length);
      for (let c = 0; c < listened.length; c++) listened[c] = heard[c]!;
      computer.measure(listened, frames);
      if (!rms) return;
      const levels = computer.values;
      let square = meanSquare;
      for (let i = 0; i < frames; i++) {
        square = rmsFactor * square + (1 - rmsFactor) * levels[i]! ** 2;
        levels[i] = Math.sqrt(square);
      }
      meanSquare = square;
    };
    const computeGains = (frames: Frames, { attack: attackTime, release: releaseTime, knee, direction, most }: Settings): void => {
      const attack = Math.exp(-1 / (attackTime * sampleRate));
      const release = Math.exp(-1 / (releaseTime * sampleRate));
      const isUpward = direction === 'upward';
      if (isUpward || threshold.moving || inverseRatio.moving || makeUp.moving) {
        computeMoving(frames, { attack, release, knee, isUpward, most });
        return;
      }
      computer.press(frames, {
        threshold: threshold.current,
        slope: 1 - inverseRatio.current,
        knee,
        attack,
        release,
        lift: makeUp.current,
      });
    };
    /** What is lifted, or moves. */
    const computeMoving = (
      frames: Frames,
      { attack, release, knee, isUpward, most }: { attack: Ratio; release: Ratio; knee: Decibels; isUpward: boolean; most: Decibels },
    ): void => {
      const gains = computer.values;
      let now = computer.reduction;
      let deepest = 0;
      for (let i = 0; i < frames; i++) {
        const limit = threshold.next();
        const slope = 1 - inverseRatio.next();
        const lift = makeUp.next();
        const level = levelOf(gains[i]!);
        const wanted = isUpward ? -liftOf(level, limit, slope, knee, most) : pressOf(level, limit, slope, knee);
        const keeps = wanted > now ? attack : release;
        now = keeps * now + (1 - keeps) * wanted;
        if (now > deepest) deepest = now;
        gains[i] = Math.exp((lift - now) / decibelsPerNeper);
      }
      computer.reduction = Math.abs(now) < 1e-6 ? 0 : now;
      computer.deepest = deepest;
    };
    const applyGains = (block: Block, lag: Frames): void => {
      const gains = computer.values;
      const start = write;
      for (let c = 0; c < channels; c++) {
        const samples = block.channels[c]!;
        if (lag === 0) {
          for (let i = 0; i < block.frames; i++) samples[i]! *= gains[i]!;
          continue;
        }
        const line = delay[c]!;
        let at = start;
        for (let i = 0; i < block.frames; i++) {
          line[at] = samples[i]!;
          samples[i] = line[at - lag < 0 ? at - lag + delayLength : at - lag]! * gains[i]!;
          if (++at === delayLength) at = 0;
        }
        write = at;
      }
    };
    return {
      get gainReduction() {
        return -computer.deepest;
      },
      reset: () => {
        write = meanSquare = keyCutFrequency = 0;
        computer.reset();
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
        makeUp.aim(
          values.makeUp +
            (values.autoMakeUp && values.direction === 'downward' ? automaticMakeUp(values.threshold, values.ratio, values.knee) : 0),
        );
        threshold.aim(values.threshold);
        inverseRatio.aim(1 / values.ratio);
        const heard = external?.channels ?? block.channels;
        const filtered = keyCutFrequency > 20;
        if (filtered) {
          for (let c = 0; c < channels; c++) {
            const own = heard[c % heard.length]!;
            key[c]!.set(frames === own.length ? own : own.subarray(0, frames));
            for (const section of keyCut[c]!) section.process(key[c]!, 0, frames);
          }
        }
        measureKey(filtered ? key : heard, frames, values.detector === 'RMS');
        computeGains(frames, values);
        applyGains(block, Math.round(values.lookahead * sampleRate));
      },
    };
  },
});
