import type { Frames } from '../units';
import type { Shaper } from './shaper';
import { CompiledOversampling } from './compiled/compiled-oversampling';
import { halfBand, HalfBandStage } from './filters/half-band';
import { SteepLowering, steepTaps } from './filters/steep-lowering';
import { getKernels } from './compiled/kernels';

const factor = 8;

/** The first doubling must cut from 20 to 28 kHz; the others have more and more room, and get shorter. */
const designs = [halfBand(24, 11.5), halfBand(9, 11.5), halfBand(7, 11.5)] as const;
/** Back at the rate of the sound, nothing from 24 kHz on: what is just below could be brought down later, and be heard. */
const last = steepTaps(36, 9);
const lagOf = (count: number): Frames => 2 * count - 1;
/** Raised samples of up and down together, and of the shaper itself. */
const risingLag = 4 * lagOf(designs[0].length) + 2 * lagOf(designs[1].length) + lagOf(designs[2].length);
const fallingLag = 4 * lagOf(last.odd.length) + 2 * lagOf(designs[1].length) + lagOf(designs[2].length);
const raisedLag = risingLag + fallingLag + 1;
const wholeLag = Math.ceil(raisedLag / factor);
/** Raised samples that are missing until the lag is a whole number of frames. */
const restOfLag = wholeLag * factor - raisedLag;

/**
 * Runs a nonlinearity at eight times the sampling rate, so that what it adds above Nyquist can be filtered away before it folds back:
 * three doublings with linear-phase half-band filters, -110 dB from 28.5 kHz on (at 48 kHz), and three halvings, the last one -90 dB from 24 kHz on; flat within 0.1 dB to 20 kHz. One for each
 * channel.
 */
export class Oversampler {
  /** Frames by which the output lags behind the input, with a shaper that lags one raised sample. */
  static readonly latency: Frames = wholeLag;
  /** Raised samples by which what comes to the shaper is late. */
  static readonly raisedLag = risingLag;
  /** Raised samples for each frame. */
  static readonly factor = factor;
  private readonly filters: CompiledOversampling | PlainOversampling;

  /** @param compiled false for the reference in plain TypeScript */
  constructor(compiled = true) {
    const kernels = compiled ? getKernels() : undefined;
    this.filters = kernels ? new CompiledOversampling(designs, last, restOfLag, kernels) : new PlainOversampling();
  }

  reset(): void {
    this.filters.reset();
  }

  /** Shapes the first `frames` samples in place. */
  process(samples: Float32Array, frames: Frames, shaper: Shaper): void {
    this.filters.process(samples, frames, shaper);
  }
}

/** Frame by frame in double precision: the reference for the compiled filters. */
class PlainOversampling {
  private readonly stages = designs.map((taps) => new HalfBandStage(taps));
  private readonly last = new SteepLowering(last);
  private readonly twice = new Float64Array(2);
  private readonly fourfold = new Float64Array(4);
  private readonly raised = new Float64Array(factor);
  private readonly shaped = new Float32Array(factor);
  private readonly rest = new Float64Array(restOfLag + 1);
  private restAt = 0;

  reset(): void {
    for (const stage of this.stages) stage.reset();
    this.last.reset();
    this.rest.fill(0);
    this.restAt = 0;
  }

  process(samples: Float32Array, frames: Frames, shaper: Shaper): void {
    for (let i = 0; i < frames; i++) samples[i] = this.next(samples[i]!, shaper);
  }

  private next(sample: number, shaper: Shaper): number {
    const [first, second, third] = [this.stages[0]!, this.stages[1]!, this.stages[2]!];
    const { twice, fourfold, raised, shaped } = this;
    first.raise(sample, twice, 0);
    for (let i = 0; i < 2; i++) second.raise(twice[i]!, fourfold, 2 * i);
    for (let i = 0; i < 4; i++) third.raise(fourfold[i]!, raised, 2 * i);
    shaped.set(raised);
    shaper.shape(shaped, 0, factor);
    for (let i = 0; i < factor; i++) raised[i] = this.delay(shaped[i]!);
    for (let i = 0; i < 4; i++) fourfold[i] = third.lower(raised[2 * i]!, raised[2 * i + 1]!);
    for (let i = 0; i < 2; i++) twice[i] = second.lower(fourfold[2 * i]!, fourfold[2 * i + 1]!);
    return this.last.lower(twice[0]!, twice[1]!);
  }

  private delay(sample: number): number {
    const { rest } = this;
    rest[this.restAt] = sample;
    if (++this.restAt === rest.length) this.restAt = 0;
    return rest[this.restAt]!;
  }
}
