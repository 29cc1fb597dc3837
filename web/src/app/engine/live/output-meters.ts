import type { Frames } from '@tangled-choir/core';
import { SpectrumHistory, SpectrumTap, StereoField } from '@tangled-choir/core';
import type { OutputReading } from '../protocol';
import { spectrumHigh, spectrumLow, spectrumPoints } from '../protocol';

/** Looks at all that is heard since it began: its spectrum now, on average and at most, and where it lies between the sides. */
export class OutputMeters {
  private readonly tap: SpectrumTap;
  private readonly history = new SpectrumHistory(spectrumPoints);
  private readonly field: StereoField;

  constructor(sampleRate: number) {
    this.tap = new SpectrumTap(sampleRate);
    this.field = new StereoField(sampleRate);
  }

  process(channels: readonly Float32Array[], frames: Frames): void {
    this.tap.write({ channels, frames });
    // The field is that between the front pair.
    this.field.process(channels[0]!, channels[1] ?? channels[0]!, frames);
  }

  read(range: number): OutputReading {
    const spectrum = new Float32Array(spectrumPoints);
    this.tap.levels(spectrum, spectrumLow, spectrumHigh);
    this.history.add(spectrum);
    return { spectrum, average: this.history.average, peak: this.history.peak, field: this.field.read(), range };
  }
}
