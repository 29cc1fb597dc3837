import type { Frames, Hertz } from '../units';
import { convertPart, rateSteps, resampledLength } from './resample';

/** Outputs that are worth a conversion of their own; its weights are made anew each time. */
const leastOutputs: Frames = 4_096;

/**
 * Converts a recording that comes piece by piece to another sampling rate, with the samples that `convertSampleRate` gives for the whole.
 */
export class RateConverter {
  /** Inputs that are still needed, and where the first of them lies in the recording. */
  private held: Float32Array[];
  private heldFrom: Frames = 0;
  private given: Frames = 0;
  private readonly steps;

  /** Rates above 0 Hz, or RangeError. */
  constructor(
    private readonly from: Hertz,
    private readonly to: Hertz,
    channelCount: number,
  ) {
    this.steps = rateSteps(from, to);
    this.held = Array.from({ length: channelCount }, () => new Float32Array(0));
  }

  /** Takes the next piece, of any length, and returns what is known by now. */
  push(piece: readonly Float32Array[]): Float32Array[] {
    this.held = this.held.map((held, c) => joined(held, piece[c]!));
    const { step, period, reach } = this.steps;
    const known = Math.floor((this.inputEnd - reach) / step) - this.given;
    return this.give(known < leastOutputs ? 0 : known - (known % period));
  }

  /** The rest, once there are no more pieces. */
  finish(): Float32Array[] {
    return this.give(resampledLength(this.inputEnd, this.steps.step) - this.given);
  }

  private get inputEnd(): Frames {
    return this.heldFrom + (this.held[0]?.length ?? 0);
  }

  private give(count: Frames): Float32Array[] {
    const { step, reach } = this.steps;
    const place = this.given * step;
    // Whole periods were given so far, so a ratio of small numbers is at a whole frame again.
    const start = Math.abs(place - Math.round(place)) < 1e-6 ? Math.round(place) : place;
    const output = convertPart({ sampleRate: this.from, channels: this.held }, this.to, start - this.heldFrom, count).channels;
    this.given += count;
    const needed = Math.max(0, Math.floor(this.given * step) - reach - this.heldFrom);
    if (needed > 0) {
      this.held = this.held.map((held) => held.slice(needed));
      this.heldFrom += needed;
    }
    return [...output];
  }
}

function joined(a: Float32Array, b: Float32Array): Float32Array {
  const both = new Float32Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}
