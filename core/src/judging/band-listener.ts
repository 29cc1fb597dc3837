import { CutoffGlide, StateVariableFilter } from '../dsp/filters/simple-filters';
import type { Block } from '../dsp/block';
import { createBlock, moveBlock } from '../dsp/block';
import type { Frames, Hertz, Ratio } from '../units';

/** A part of the spectrum: around a frequency as wide as Q says, or all below or above it. */
export interface BandRegion {
  readonly part: 'around' | 'below' | 'above';
  readonly frequency: Hertz;
  readonly q: Ratio;
}

/** Two sections in series are as wide as one when each is this much wider. */
const widening: Ratio = Math.sqrt(Math.SQRT2 - 1);

/** Keeps what goes into one step within a part of the spectrum, so that only that can be listened to; the part moves without clicks. */
export class BandListener {
  private readonly filters: readonly (readonly StateVariableFilter[])[];
  private readonly kept: Block;
  private readonly cutoff = new CutoffGlide();
  private region: BandRegion;
  private tuned: Hertz = 1_000;
  private stale = true;

  constructor(
    private readonly sampleRate: Hertz,
    region: BandRegion,
    channels: number,
  ) {
    this.filters = Array.from({ length: channels }, () => [new StateVariableFilter(), new StateVariableFilter()]);
    this.kept = createBlock(channels);
    this.region = region;
    this.cutoff.aim(region.frequency);
  }

  tune(region: BandRegion): void {
    if (region.part !== this.region.part || region.q !== this.region.q) this.stale = true;
    this.region = region;
    this.cutoff.aim(region.frequency);
  }

  hearBefore(block: Block): void {
    const { part, q } = this.region;
    for (let i = 0; i < block.frames; i++) {
      const retuned = this.cutoff.next();
      if (retuned > 0 || this.stale) this.retune(retuned, part === 'around' ? q * widening : Math.SQRT1_2);
      for (let c = 0; c < this.filters.length; c++) {
        let sample = block.channels[c]![i]!;
        for (const filter of this.filters[c]!) {
          filter.next(sample);
          sample = part === 'around' ? filter.peak : part === 'below' ? filter.low : filter.high;
        }
        this.kept.channels[c]![i] = sample;
      }
    }
    this.kept.frames = block.frames;
  }

  hearAfter(): void {
    // What comes out of the step is not listened to.
  }

  private retune(frequency: Hertz, q: Ratio): void {
    if (frequency > 0) this.tuned = frequency;
    this.stale = false;
    for (const pair of this.filters) for (const filter of pair) filter.tune(this.tuned, q, this.sampleRate);
  }

  /** Puts the latest of it in the place of what is heard; silence where the step heard none. */
  replace(heard: readonly Float32Array[], frames: Frames): void {
    moveBlock(this.kept, heard, frames);
  }
}
