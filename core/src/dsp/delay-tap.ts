import type { Frames, Ratio } from '../units';

/**
 * A delay line that can be read anywhere between its samples, with third-order Lagrange interpolation (Laakso et al., "Splitting the
 * Unit Delay", 1996). Write a sample, then read what was written `delay` frames before it.
 */
export class DelayTap {
  protected line: Float32Array;
  protected readonly mask: number;
  protected position = 0;

  /** @param longest the longest delay that will be read, in frames */
  constructor(longest: Frames) {
    this.line = new Float32Array(2 ** Math.ceil(Math.log2(longest + 4)));
    this.mask = this.line.length - 1;
  }

  reset(): void {
    this.line.fill(0);
    this.position = 0;
  }

  write(sample: number): void {
    this.position = (this.position + 1) & this.mask;
    this.line[this.position] = sample;
  }

  /** What was written `delay` whole frames ago; 0 is the latest sample. */
  at(delay: Frames): number {
    return this.line[(this.position - delay) & this.mask]!;
  }

  /** What was written `delay` frames ago, at least 1, whole or not. */
  read(delay: Frames): number {
    const { line, mask } = this;
    const whole = delay | 0;
    const t = delay - whole;
    const at = this.position - whole;
    const before = line[(at + 1) & mask]!;
    const here = line[at & mask]!;
    const after = line[(at - 1) & mask]!;
    const last = line[(at - 2) & mask]!;
    const t1 = t + 1;
    const t2 = t - 1;
    const t3 = t - 2;
    return (-before * t * t2 * t3) / 6 + (here * t1 * t2 * t3) / 2 - (after * t1 * t * t3) / 2 + (last * t1 * t * t2) / 6;
  }

  /** Writes several samples at once. */
  writeAll(samples: Float64Array, frames: Frames): void {
    const { line, mask } = this;
    let { position } = this;
    for (let i = 0; i < frames; i++) {
      position = (position + 1) & mask;
      const sample = samples[i]!;
      line[position] = Math.abs(sample) < 1e-20 ? 0 : sample;
    }
    this.position = position;
  }

  /** Adds what was written `delay` whole frames before each of the latest `frames`, turned by a gain. */
  addAt(delay: Frames, gain: Ratio, into: Float32Array, frames: Frames): void {
    const { line, mask } = this;
    const first = (this.position - delay - frames + 1) & mask;
    const whole = Math.min(frames, line.length - first);
    for (let i = 0; i < whole; i++) into[i]! += line[first + i]! * gain;
    for (let i = whole; i < frames; i++) into[i]! += line[i - whole]! * gain;
  }

  /** The same for several taps at once, three or a multiple of three, summed up before they are rounded. */
  addTaps(delays: readonly Frames[], gains: readonly Ratio[], into: Float32Array, frames: Frames): void {
    const { line, mask } = this;
    const first = this.position - frames + 1;
    for (let tap = 0; tap < delays.length; tap += 3) {
      const a = first - delays[tap]!;
      const b = first - delays[tap + 1]!;
      const c = first - delays[tap + 2]!;
      const gainA = gains[tap]!;
      const gainB = gains[tap + 1]!;
      const gainC = gains[tap + 2]!;
      for (let i = 0; i < frames; i++)
        into[i]! += line[(a + i) & mask]! * gainA + line[(b + i) & mask]! * gainB + line[(c + i) & mask]! * gainC;
    }
  }

  /** The same for samples as they come, with no loop around the line: such a line needs no care for denormal numbers. */
  writeBlock(samples: Float32Array): void {
    const start = (this.position + 1) & this.mask;
    const whole = Math.min(samples.length, this.line.length - start);
    if (whole === samples.length) this.line.set(samples, start);
    else {
      this.line.set(samples.subarray(0, whole), start);
      this.line.set(samples.subarray(whole), 0);
    }
    this.position = (this.position + samples.length) & this.mask;
  }
}
