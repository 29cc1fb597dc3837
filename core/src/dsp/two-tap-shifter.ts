import type { Frames, Hertz, Ratio } from '../units';
import { DelayTap } from './delay-tap';
import { Phase } from './oscillator';

/**
 * Two taps that run along a delay line and take turns, each silent where it jumps back: pitch moves by their speed (the classical
 * two-tap shifter). Its level stays even for sounds that are not periodic in the window.
 */
export class TwoTapShifter {
  private readonly line: DelayTap;
  private readonly phase = new Phase();

  /** @param longest the longest window */
  constructor(
    longest: Frames,
    private readonly sampleRate: Hertz,
  ) {
    this.line = new DelayTap(longest + 1);
  }

  reset(): void {
    this.line.reset();
    this.phase.reset();
  }

  /** @param length frames of the window that the taps walk along */
  next(sample: number, ratio: Ratio, length: Frames): number {
    const { line, phase, sampleRate } = this;
    line.write(sample);
    // The delay shrinks by ratio - 1 per frame; a period is one walk along the window.
    const place = phase.next(((1 - ratio) * sampleRate) / length, sampleRate);
    const other = place < 0.5 ? place + 0.5 : place - 0.5;
    // Half a walk apart, one's sine is the other's cosine.
    const gain = Math.sin(Math.PI * place);
    return line.read(1 + place * length) * gain + line.read(1 + other * length) * Math.sqrt(Math.max(0, 1 - gain * gain));
  }
}
