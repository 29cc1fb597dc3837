import { maxBlock } from '../../dsp/block';
import { Glide } from '../../dsp/glide';
import { InterSampleReader, interSampleReach } from '../../dsp/inter-sample';
import { smoothing } from '../../dsp/filters/simple-filters';
import { decibels, seconds } from '../../project/parameters';
import type { Decibels, Frames, Seconds } from '../../units';
import { decibelsToGain } from '../../units';
import { defineEffect } from '../effect';

const lookahead: Seconds = 0.003;
const glideFrames = 512;
/** What the gain does while it moves can raise a peak between samples a little. */
const margin: Decibels = 0.03;

/** The least of the latest `length` values, in constant time on average: a queue of values that can still become the least. */
class SlidingMinimum {
  private readonly values: Float64Array;
  private readonly times: Int32Array;
  private head = 0;
  private count = 0;
  private time = 0;

  constructor(private readonly length: Frames) {
    this.values = new Float64Array(length + 1);
    this.times = new Int32Array(length + 1);
  }

  reset(): void {
    this.head = this.count = this.time = 0;
  }

  next(value: number): number {
    const size = this.values.length;
    const time = (this.time = (this.time + 1) | 0);
    while (this.count > 0 && this.values[(this.head + this.count - 1) % size]! >= value) this.count--;
    const at = (this.head + this.count++) % size;
    this.values[at] = value;
    this.times[at] = time;
    if (((time - this.times[this.head]!) | 0) >= this.length) {
      this.head = (this.head + 1) % size;
      this.count--;
    }
    return this.values[this.head]!;
  }
}

/** Mean of the latest `length` values. Summed anew once a round, so that rounding does not pile up. */
class SlidingMean {
  private readonly values: Float64Array;
  private at = 0;
  private sum: number;
  private fresh = 0;

  constructor(private readonly length: Frames) {
    this.values = new Float64Array(length).fill(1);
    this.sum = length;
  }

  reset(): void {
    this.values.fill(1);
    this.sum = this.length;
    this.at = this.fresh = 0;
  }

  next(value: number): number {
    this.sum += value - this.values[this.at]!;
    this.values[this.at] = value;
    this.fresh += value;
    if (++this.at === this.length) {
      this.at = 0;
      this.sum = this.fresh;
      this.fresh = 0;
    }
    return this.sum / this.length;
  }
}

/** Frames of smoothing before a peak: the gain is the mean over them, so it reaches what the peak needs exactly in time. */
const smoothed = (sampleRate: number): Frames => Math.round(lookahead * sampleRate);
const lag = (sampleRate: number): Frames => smoothed(sampleRate) + interSampleReach;

/**
 * True-peak limiter: the gain that every peak at or between samples needs (ITU-R BS.1770-5 annex 2, read more finely: see `InterSampleReader`) is held over the
 * look-ahead and averaged over it, so that it arrives smoothly and in time. All channels share one gain.
 */
export const limiter = defineEffect({
  id: 'limiter',
  label: 'Limiter',
  family: 'Dynamics',
  channels: 'linked',
  purpose: 'Keeps every peak below a ceiling, between the samples too, and lets the rest come up.',
  parameters: {
    gain: decibels({ label: 'Gain', min: 0, max: 36, default: 3 }),
    ceiling: decibels({ label: 'Ceiling', min: -24, max: 0, default: -1 }),
    release: seconds({ label: 'Release', min: 0.005, max: 2, default: 0.08 }),
  },
  presets: [
    { name: 'Safety', values: { gain: 0, ceiling: -1 } },
    { name: 'Dense', values: { gain: 9, ceiling: -1, release: 0.15 } },
    { name: 'Pressed flat', values: { gain: 20, ceiling: -1, release: 0.03 } },
  ],
  latency: (_, sampleRate) => lag(sampleRate),
  tail: (_, sampleRate) => lag(sampleRate),
  create: ({ sampleRate, channels }) => {
    const frames = smoothed(sampleRate);
    const total = lag(sampleRate);
    const readers = Array.from({ length: channels }, () => new InterSampleReader());
    const lifted = Array.from({ length: channels }, () => new Float32Array(maxBlock));
    const peaks = Array.from({ length: channels }, () => new Float32Array(maxBlock));
    const lines = Array.from({ length: channels }, () => new Float32Array(total));
    // One frame more than the mean: neighbours of the peak are held down as well.
    const least = new SlidingMinimum(frames + 1);
    const mean = new SlidingMean(frames);
    const input = new Glide(glideFrames);
    const limit = new Glide(glideFrames);
    let recovered = 1;
    let at = 0;
    let deepest = 1;
    return {
      get gainReduction() {
        return 20 * Math.log10(deepest);
      },
      reset: () => {
        for (const reader of readers) reader.reset();
        for (const line of lines) line.fill(0);
        for (const part of [least, mean, input, limit]) part.reset();
        recovered = 1;
        at = 0;
        deepest = 1;
      },
      process(block, { gain, ceiling, release }) {
        input.aim(decibelsToGain(gain));
        limit.aim(decibelsToGain(ceiling - margin));
        const keep = smoothing(release, sampleRate);
        deepest = 1;
        for (let i = 0; i < block.frames; i++) {
          const lift = input.next();
          for (let c = 0; c < channels; c++) lifted[c]![i] = block.channels[c]![i]! * lift;
        }
        for (let c = 0; c < channels; c++) readers[c]!.read(lifted[c]!, 0, block.frames, limit.lowest, peaks[c]!);
        for (let i = 0; i < block.frames; i++) {
          const most = limit.next();
          let peak = 0;
          for (let c = 0; c < channels; c++) if (peaks[c]![i]! > peak) peak = peaks[c]![i]!;
          const needed = peak > most ? most / peak : 1;
          recovered = needed < recovered ? needed : needed + (recovered - needed) * keep;
          const now = mean.next(least.next(recovered));
          if (now < deepest) deepest = now;
          for (let c = 0; c < channels; c++) {
            const samples = block.channels[c]!;
            const line = lines[c]!;
            const late = line[at]!;
            line[at] = lifted[c]![i]!;
            samples[i] = late * now;
          }
          if (++at === total) at = 0;
        }
      },
    };
  },
});
