import type { Hertz } from '../units';

/** After so many frames what rounding has added to the length of the pointer is taken off it. */
const trimmedEvery = 1_024;

/**
 * Sine and cosine of a slow oscillation, frame by frame: a pointer that is turned by a constant angle (the coupled form of a digital oscillator), so
 * that no frame needs a sine of its own. Its frequency may change from frame to frame; that costs one.
 */
export class Turn {
  /** Of the frame that `next` went on from. */
  sine = 0;
  cosine = 1;
  private nextSine = 0;
  private nextCosine = 1;
  private advance = NaN;
  private stepSine = 0;
  private stepCosine = 1;
  private frames = 0;

  reset(): void {
    this.nextSine = 0;
    this.nextCosine = 1;
    this.frames = 0;
  }

  /** Goes on by one frame. */
  next(frequency: Hertz, sampleRate: Hertz): void {
    const advance = frequency / sampleRate;
    if (advance !== this.advance) {
      this.advance = advance;
      this.stepSine = Math.sin(2 * Math.PI * advance);
      this.stepCosine = Math.cos(2 * Math.PI * advance);
    }
    const sine = (this.sine = this.nextSine);
    const cosine = (this.cosine = this.nextCosine);
    this.nextSine = sine * this.stepCosine + cosine * this.stepSine;
    this.nextCosine = cosine * this.stepCosine - sine * this.stepSine;
    if (++this.frames < trimmedEvery) return;
    this.frames = 0;
    const length = Math.hypot(this.nextSine, this.nextCosine);
    this.nextSine /= length;
    this.nextCosine /= length;
  }
}
