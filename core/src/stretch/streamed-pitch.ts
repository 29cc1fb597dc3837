import type { Block } from '../dsp/block';
import { hannWindow } from '../dsp/fft';
import { SampleHistory } from '../dsp/sample-history';
import { PlaceReader, readReach } from '../dsp/place-reader';
import { SampleRows } from '../dsp/sample-rows';
import type { Frames, Ratio } from '../units';
import { LockedFrames } from './locked-frames';

const size: Frames = 4_096;
const half = size / 2;
const overlap = 4;
/** Three octaves to either side. */
const least: Ratio = 1 / 8;
const most: Ratio = 8;
/** Of what is read faster, so much of its band is kept, so that nothing folds back. */
const keptBand = 0.94;
/** Ratios are whole numbers of these, so that places add up alike however they are added. */
const grain = 2 ** -30;
/** Weights of frames below this are the very ends of windows. */
const leastWeight = 1e-6;

/** By how many frames what comes out lags behind what goes in, whatever the pitch. */
export const streamedPitchLatency: Frames = size + (readReach + 2) / least;

/**
 * Moves the pitch of sound as it comes: frames of a phase vocoder (see `LockedFrames`) make it longer or shorter, and it is read faster or
 * slower by as much. Frames that will be read slowly are put out narrower, so that none needs more of what is still to come than its own
 * length; what they add up to is divided by the sum of their windows. Where the pitch is not moved, the output is the input.
 */
export class StreamedPitch {
  private readonly frames: LockedFrames;
  private readonly input: SampleHistory;
  private readonly window = hannWindow(size);
  private readonly reader = new PlaceReader();
  /** The window that frames are put out under, its product with the one that they are read under, and how far it reaches. */
  private readonly shape = new Float64Array(size);
  private readonly product = new Float64Array(size);
  private shapeReach = NaN;
  /** Sums of frames under their windows, and of the windows, in the place of what is `origin` frames behind the beginning. */
  private readonly sums: SampleRows;
  private readonly weights = new Float32Array(4 * size);
  private origin = 0;
  /** Where it is read next, and the middle of the next frame. */
  private place = 0;
  private next = 0;
  /** Up to where sums have been divided by their weights. */
  private ready = 0;
  private now: Frames = 0;

  constructor(channelCount: number) {
    this.frames = new LockedFrames(size, channelCount, new Float64Array(size).fill(1));
    this.input = new SampleHistory(channelCount, streamedPitchLatency + 2 * size);
    this.sums = new SampleRows(channelCount, 4 * size);
    this.reset();
  }

  reset(): void {
    this.frames.reset();
    this.input.reset();
    for (const sums of this.sums.channels) sums.fill(0);
    this.weights.fill(0);
    this.origin = -half;
    this.place = readReach;
    this.ready = -half;
    this.next = 0;
    this.now = 0;
  }

  /** @param ratios by how much the pitch is moved at each frame of the block, from 1/8 to 8 */
  process(block: Block, ratios: Float64Array): void {
    this.input.write(block.channels, block.frames);
    for (let i = 0, end = 0; i < block.frames; i = end) {
      while (end < block.frames && ratios[end] === ratios[i]) end++;
      const ratio = Math.round(Math.max(least, Math.min(most, ratios[i]!)) / grain) * grain;
      for (let done = i; done < end;) done += this.read(ratio, end - done, block, done);
    }
  }

  /** Puts out some frames of the block, as many as there are before a frame of the vocoder is due; returns how many. */
  private read(ratio: Ratio, wanted: Frames, block: Block, from: Frames): Frames {
    // Frames that are read slowly are put out narrower: they last as long as all others.
    const reach = half * Math.min(1, ratio);
    while (this.next - reach < this.place + readReach + 1) this.putFrame(ratio, reach);
    const due = Math.floor((this.next - reach - readReach - 1 - this.place) / ratio) + 1;
    const frames = Math.min(wanted, due);
    this.divide(Math.floor(this.place + (frames - 1) * ratio) + readReach + 1);
    this.reader.read(this.sums, this.place - this.origin, ratio, frames, block.channels, from);
    this.place += frames * ratio;
    this.now += frames;
    return frames;
  }

  private putFrame(ratio: Ratio, reach: Frames): void {
    const { input, frames, weights } = this;
    if (this.next + half - this.origin >= weights.length) this.moveOn();
    const hop = Math.max(1, Math.round((size / overlap) * Math.min(1, ratio)));
    const heardAt = this.now + (this.next - this.place) / ratio;
    const upTo = ratio > 1 ? Math.floor((half * keptBand) / ratio) : half + 1;
    frames.next(input.channels, Math.round(heardAt) - streamedPitchLatency - input.first, hop, upTo);
    this.shapeTo(reach);
    const { shape, product } = this;
    const start = this.next - half - this.origin;
    const from = Math.max(Math.ceil(half - reach), this.ready - this.origin - start, 0);
    const to = Math.min(size, Math.floor(half + reach));
    const sums = this.sums.channels;
    for (let c = 0; c < sums.length; c += 2) {
      const heard = frames.samplesOf(c / 2);
      for (let side = 0; side < 2 && c + side < sums.length; side++) {
        const into = sums[c + side]!;
        for (let i = from, sample = from + side * size; i < to; i++, sample++) into[start + i]! += heard[sample]! * shape[i]!;
      }
    }
    for (let i = from; i < to; i++) weights[start + i]! += product[i]!;
    this.next += hop;
  }

  private shapeTo(reach: number): void {
    if (reach === this.shapeReach) return;
    this.shapeReach = reach;
    const { window, shape, product } = this;
    const step = half / reach;
    for (let i = Math.ceil(half - reach); i < Math.floor(half + reach); i++) {
      shape[i] = window[(half + (i - half) * step) | 0]!;
      product[i] = window[i]! * shape[i]!;
    }
  }

  /** Divides what no frame will add to any more by its weight. */
  private divide(to: Frames): void {
    const { weights, origin } = this;
    const sums = this.sums.channels;
    for (let at = this.ready - origin; at < to - origin; at++) {
      const weight = weights[at]!;
      const factor = weight > leastWeight ? 1 / weight : 0;
      for (let c = 0; c < sums.length; c++) sums[c]![at]! *= factor;
    }
    this.ready = Math.max(this.ready, to);
  }

  /** Forgets what has been read. */
  private moveOn(): void {
    const gone = Math.floor(this.place) - readReach - 2 - this.origin;
    for (const values of [...this.sums.channels, this.weights]) {
      values.copyWithin(0, gone);
      values.fill(0, values.length - gone);
    }
    this.origin += gone;
  }
}
