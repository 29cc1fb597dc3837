import type { Decibels, Frames, Hertz } from '@tangled-choir/core';
import { CorrelationMeter, LoudnessMeter, TruePeakMeter } from '@tangled-choir/core';

/** How loud what was heard is, since it began. */
export interface LevelReading {
  readonly momentary: Decibels;
  readonly shortTerm: Decibels;
  readonly integrated: Decibels;
  readonly truePeak: Decibels;
  /** What left and right have in common; nothing while one of them is silent. */
  readonly correlation: number | undefined;
}

/** Measures all that is heard since it began: loudness, true peak, and what the sides have in common. */
export class OutputLevels {
  readonly loudness: LoudnessMeter;
  private readonly peaks: readonly TruePeakMeter[];
  private readonly correlation: CorrelationMeter;

  constructor(sampleRate: Hertz, channels: number) {
    this.loudness = new LoudnessMeter(sampleRate, channels);
    this.peaks = Array.from({ length: channels }, () => new TruePeakMeter());
    this.correlation = new CorrelationMeter(sampleRate);
  }

  process(channels: readonly Float32Array[], frames: Frames): void {
    this.correlation.process(channels[0]!, channels[1] ?? channels[0]!, frames);
    this.loudness.process(channels, 0, frames);
    this.peaks.forEach((meter, c) => meter.process(channels[c]!, 0, frames));
  }

  read(): LevelReading {
    const peak = Math.max(...this.peaks.map((meter) => meter.peak));
    const { momentary, shortTerm, integrated } = this.loudness;
    return {
      momentary,
      shortTerm,
      integrated,
      truePeak: peak > 0 ? 20 * Math.log10(peak) : -Infinity,
      correlation: this.correlation.value,
    };
  }
}
