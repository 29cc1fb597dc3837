import type { Block } from './block';
import type { Frames } from '../units';
import { hannWindow, RealFft } from './fft';

/** Anything that samples can be read from; what lies outside of it is silence. */
export type Samples = Float32Array | Float64Array;

/**
 * One windowed short-time spectrum at a time: the window, the transform and their memory, which everything that looks at or works in
 * overlapping frames shares. Reading a frame allocates nothing.
 */
export class SpectralFrame {
  /** The spectrum of the frame that was taken last, `bins` values each. */
  readonly re: Float64Array;
  readonly im: Float64Array;
  readonly bins: number;
  /** The windowed samples of that frame. */
  readonly samples: Float64Array;
  private readonly fft: RealFft;

  /**
   * @param size samples of a frame, a power of two
   * @param window weights of the samples; Hann, periodic, unless another is given
   */
  constructor(
    readonly size: number,
    private readonly window: Float64Array = hannWindow(size),
  ) {
    this.fft = new RealFft(size);
    this.bins = this.fft.bins;
    this.samples = new Float64Array(size);
    this.re = new Float64Array(this.bins);
    this.im = new Float64Array(this.bins);
  }

  /** Takes the frame that begins at `start`. */
  take(samples: Samples, start: number): void {
    const { samples: frame, window, size } = this;
    for (let i = 0; i < size; i++) frame[i] = (samples[start + i] ?? 0) * window[i]!;
    this.transform();
  }

  /** Takes the frame of the mean of channels that begins at `start`. */
  takeMean(channels: readonly Samples[], start: number): void {
    const { samples: frame, window, size } = this;
    for (let i = 0; i < size; i++) {
      let sum = 0;
      for (let c = 0; c < channels.length; c++) sum += channels[c]![start + i] ?? 0;
      frame[i] = (sum / channels.length) * window[i]!;
    }
    this.transform();
  }

  /** Takes a whole ring of `size` samples whose oldest lies at `oldest`. */
  takeRing(ring: Samples, oldest: number): void {
    const { samples: frame, window, size } = this;
    for (let i = 0; i < size; i++) frame[i] = ring[(oldest + i) % size]! * window[i]!;
    this.transform();
  }

  /** Power of a bin: a full-scale sine under a Hann window has size²/16 in the bin that it falls on. */
  power(bin: number): number {
    return this.re[bin]! * this.re[bin]! + this.im[bin]! * this.im[bin]!;
  }

  private transform(): void {
    this.fft.forward(this.samples, this.re, this.im);
  }
}

/**
 * Blocks that wait until they fill frames: as many channels as are asked for, frames of `size` samples that lie `hop` apart. Several queues
 * that are filled alike stay in step.
 */
export class FrameQueue {
  readonly channels: readonly Float32Array[];
  private count: Frames = 0;

  /** @param room frames that may come at once, beyond what fills a frame */
  constructor(
    channels: number,
    private readonly size: Frames,
    private readonly hop: Frames,
    room: Frames,
  ) {
    this.channels = Array.from({ length: channels }, () => new Float32Array(size + room));
  }

  /** Puts a block behind what waits already, without counting it yet: what is not written before `advance` is silence. */
  write(block: Block): void {
    for (let c = 0; c < this.channels.length; c++) {
      const samples = block.channels[c]!;
      const into = this.channels[c]!;
      for (let i = 0; i < block.frames; i++) into[this.count + i] = samples[i]!;
    }
  }

  advance(frames: Frames): void {
    this.count += frames;
  }

  /** True while a whole frame is there; it begins at place 0 of every channel. */
  get full(): boolean {
    return this.count >= this.size;
  }

  /** Lets go of a hop. */
  next(): void {
    for (const channel of this.channels) {
      channel.copyWithin(0, this.hop, this.count);
      channel.fill(0, this.count - this.hop, this.count);
    }
    this.count -= this.hop;
  }
}
