import type { Frames } from '../units';
import { SampleRows } from './sample-rows';

/** Samples are moved to the front again after so many: seldom, and in one piece. */
const slack: Frames = 16_384;

/** The latest samples of several channels, each in one piece, addressed by how many came before them since the beginning. */
export class SampleHistory {
  readonly rows: SampleRows;
  /** The frame at place 0 of the channels, and the one behind the latest. */
  first: Frames;
  end: Frames = 0;

  /** @param keep so many frames before the latest can be read; before the beginning lies silence */
  constructor(
    channelCount: number,
    private readonly keep: Frames,
  ) {
    this.rows = new SampleRows(channelCount, keep + slack);
    this.first = -keep;
  }

  /** Views, see `SampleRows`. */
  get channels(): readonly Float32Array[] {
    return this.rows.channels;
  }

  reset(): void {
    for (const channel of this.channels) channel.fill(0);
    this.first = -this.keep;
    this.end = 0;
  }

  /** Takes the next frames of all channels, at most 16,384. */
  write(channels: readonly Float32Array[], frames: Frames): void {
    const { keep } = this;
    const own = this.channels;
    if (this.end - this.first + frames > keep + slack) {
      const from = this.end - this.first - keep;
      for (const channel of own) channel.copyWithin(0, from, from + keep);
      this.first += from;
    }
    const at = this.end - this.first;
    for (let c = 0; c < own.length; c++) {
      const into = own[c]!;
      const samples = channels[c]!;
      for (let i = 0; i < frames; i++) into[at + i] = samples[i]!;
    }
    this.end += frames;
  }
}
