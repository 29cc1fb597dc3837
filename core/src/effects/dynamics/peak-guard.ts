import { maxBlock } from '../../dsp/block';
import type { Glide } from '../../dsp/glide';
import { InterSampleReader, interSampleReach } from '../../dsp/inter-sample';
import type { Decibels, Frames, Hertz, Ratio, Seconds } from '../../units';

/** What the gain does while it moves can raise a peak between samples a little: ceilings are aimed at so much lower. */
export const guardMargin: Decibels = 0.03;

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

/**
 * Keeps every peak at or between samples (ITU-R BS.1770-5 annex 2, read more finely: see `InterSampleReader`) below a height: the gain that each of them needs is held over a look-ahead and
 * averaged over it, so that it arrives smoothly and in time. All channels share one gain.
 */
export class PeakGuard {
  private readonly readers: readonly InterSampleReader[];
  private readonly peaks: readonly Float32Array[];
  private readonly lines: readonly Float32Array[];
  private readonly least: SlidingMinimum;
  private readonly mean: SlidingMean;
  private readonly lag: Frames;
  private recovered = 1;
  private at = 0;
  /** The lowest gain in the latest block. */
  deepest: Ratio = 1;

  constructor(
    private readonly channels: number,
    lookahead: Seconds,
    sampleRate: Hertz,
  ) {
    const smoothed = smoothedFrames(lookahead, sampleRate);
    this.lag = PeakGuard.latency(lookahead, sampleRate);
    this.readers = Array.from({ length: channels }, () => new InterSampleReader());
    this.peaks = Array.from({ length: channels }, () => new Float32Array(maxBlock));
    this.lines = Array.from({ length: channels }, () => new Float32Array(this.lag));
    // One frame more than the mean: neighbours of the peak are held down as well.
    this.least = new SlidingMinimum(smoothed + 1);
    this.mean = new SlidingMean(smoothed);
  }

  static latency(lookahead: Seconds, sampleRate: Hertz): Frames {
    return smoothedFrames(lookahead, sampleRate) + interSampleReach;
  }

  reset(): void {
    for (const reader of this.readers) reader.reset();
    for (const line of this.lines) line.fill(0);
    this.least.reset();
    this.mean.reset();
    this.recovered = this.deepest = 1;
    this.at = 0;
  }

  /**
   * Works on the first `frames` samples of each channel in place.
   * @param limit the height, linear
   * @param keep how much of its way back the gain keeps in a frame
   */
  process(samples: readonly Float32Array[], frames: Frames, limit: Glide, keep: Ratio): void {
    const { channels, readers, peaks, lines, least, mean, lag } = this;
    for (let c = 0; c < channels; c++) readers[c]!.read(samples[c]!, 0, frames, limit.lowest, peaks[c]!);
    let { recovered, at } = this;
    let deepest = 1;
    for (let i = 0; i < frames; i++) {
      const most = limit.next();
      let peak = 0;
      for (let c = 0; c < channels; c++) if (peaks[c]![i]! > peak) peak = peaks[c]![i]!;
      const needed = peak > most ? most / peak : 1;
      recovered = needed < recovered ? needed : needed + (recovered - needed) * keep;
      const now = mean.next(least.next(recovered));
      if (now < deepest) deepest = now;
      for (let c = 0; c < channels; c++) {
        const line = lines[c]!;
        const late = line[at]!;
        line[at] = samples[c]![i]!;
        samples[c]![i] = late * now;
      }
      if (++at === lag) at = 0;
    }
    this.recovered = recovered;
    this.at = at;
    this.deepest = deepest;
  }
}

/** Frames of smoothing before a peak: the gain is the mean over them, so it reaches what the peak needs exactly in time. */
function smoothedFrames(lookahead: Seconds, sampleRate: Hertz): Frames {
  return Math.round(lookahead * sampleRate);
}
