import { SpectralFrame } from '../../dsp/spectral-frames';
import type { Block } from '../../dsp/block';
import type { Decibels, Hertz } from '../../units';

const size = 4096;

/** Keeps the latest samples of a running block stream (as the mean of its channels) and turns them into a spectrum on request. */
export class SpectrumTap {
  private readonly ring = new Float32Array(size);
  private position = 0;
  private readonly frame = new SpectralFrame(size);

  constructor(private readonly sampleRate: Hertz) {}

  write(block: Block): void {
    const share = 1 / block.channels.length;
    for (let i = 0; i < block.frames; i++) {
      let sum = 0;
      for (const channel of block.channels) sum += channel[i]!;
      this.ring[this.position] = sum * share;
      this.position = (this.position + 1) % size;
    }
  }

  /**
   * Levels in dBFS at frequencies in equal ratios from `low` to `high`: a full-scale sine reads 0 dB. Each point takes the largest bin of
   * its band, so that no partial falls between points.
   */
  levels(into: Float32Array, low: Hertz, high: Hertz): void {
    this.frame.takeRing(this.ring, this.position);
    const step = Math.log(high / low) / into.length;
    for (let point = 0; point < into.length; point++) {
      const lowEdge = (low * Math.exp(step * point) * size) / this.sampleRate;
      const highEdge = (low * Math.exp(step * (point + 1)) * size) / this.sampleRate;
      let power = 0;
      if (highEdge - lowEdge < 1) {
        // Narrower than a bin: between two bins the level runs straight.
        const place = Math.max(1, (lowEdge + highEdge) / 2);
        const bin = Math.min(size / 2 - 1, Math.floor(place));
        power = this.frame.power(bin) + (this.frame.power(bin + 1) - this.frame.power(bin)) * (place - bin);
      } else {
        const to = Math.min(size / 2, Math.ceil(highEdge));
        for (let bin = Math.max(1, Math.floor(lowEdge)); bin <= to; bin++) power = Math.max(power, this.frame.power(bin));
      }
      // The window halves a sine's amplitude, the transform gives half of it per side.
      into[point] = toDecibels(power * (4 / size) ** 2);
    }
  }
}

function toDecibels(power: number): Decibels {
  return power > 1e-16 ? 10 * Math.log10(power) : -160;
}
