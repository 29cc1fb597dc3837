import type { Block } from '../dsp/block';
import { SampleHistory } from '../dsp/sample-history';
import type { Frames, Hertz } from '../units';
import { FormantFrames } from './formants';

const { size, hop } = FormantFrames;

/** By how many frames what comes out lags behind what goes in. */
export const streamedFormantsLatency: Frames = size;

/** Moves the formants of sound as it comes, frame by frame (see `FormantFrames`). */
export class StreamedFormants {
  private readonly frames: FormantFrames;
  private readonly input: SampleHistory;
  /** What frames have added up to so far, from the next frame that comes out on. */
  private readonly sums: readonly Float32Array[];
  private place: Frames = 0;

  /** @param pitch of the sound, where it has one */
  constructor(channelCount: number, sampleRate: Hertz, pitch?: Hertz) {
    this.frames = new FormantFrames(channelCount, sampleRate, pitch);
    this.input = new SampleHistory(channelCount, 2 * size);
    this.sums = Array.from({ length: channelCount }, () => new Float32Array(size));
  }

  reset(): void {
    this.input.reset();
    for (const sums of this.sums) sums.fill(0);
    this.place = 0;
  }

  /** @param ratios by how much formants move up at each frame of the block */
  process({ channels, frames }: Block, ratios: Float64Array): void {
    const { input, sums } = this;
    const start = input.end;
    input.write(channels, frames);
    for (let i = 0; i < frames; i++) {
      // What lies a frame back is whole now: the last frame that holds it has been added.
      if (this.place === hop) {
        for (const sum of sums) {
          sum.copyWithin(0, hop);
          sum.fill(0, size - hop);
        }
        this.place = 0;
      }
      if (this.place === 0) this.frames.add(input.channels, start + i - size - input.first, ratios[i]!, sums, 0);
      for (let c = 0; c < sums.length; c++) channels[c]![i] = sums[c]![this.place]!;
      this.place++;
    }
  }
}
