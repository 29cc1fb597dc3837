import { YinDetector } from '../analysis/pitch';
import type { Block } from '../dsp/block';
import { createBlock } from '../dsp/block';
import { SampleHistory } from '../dsp/sample-history';
import type { Note } from '../tuning';
import { frequencyToNote } from '../tuning';
import type { Frames, Hertz } from '../units';

const certain = 0.75;

/** The pitch of sound as it comes, of all channels together, at a moment that lies far enough back to be heard from both sides. */
export class PitchFollower {
  private readonly detector: YinDetector;
  private readonly history: SampleHistory;
  private readonly together: Block = createBlock(1);

  /** @param lag by how many frames the moment lies behind the one that is asked for, at least half of what the detector reads: 1300 at 48 kHz */
  constructor(
    sampleRate: Hertz,
    private readonly lag: Frames,
  ) {
    this.detector = new YinDetector(sampleRate);
    this.history = new SampleHistory(1, lag + this.detector.length + 2_048);
  }

  reset(): void {
    this.history.reset();
  }

  write({ channels, frames }: Block): void {
    const mono = this.together.channels[0]!;
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      for (let c = 0; c < channels.length; c++) sum += channels[c]![i]!;
      mono[i] = sum;
    }
    this.history.write(this.together.channels, frames);
  }

  /** The pitch `lag` frames before a frame that has been written; undefined where there is none. */
  noteAt(frame: Frames): Note | undefined {
    const { history, detector, lag } = this;
    const start = frame - lag - (detector.length >> 1) - history.first;
    const { frequency, confidence } = detector.detect(history.channels[0]!, start);
    return frequency !== undefined && confidence >= certain ? frequencyToNote(frequency) : undefined;
  }
}
