import type { Frames } from '../units';
import { kaiser, sinc } from './kaiser';

const factor = 8;

/** Something that changes samples one by one. */
export interface SampleShaper {
  next(sample: number): number;
}

/**
 * Coefficients of a half-band low-pass (Kaiser-windowed sinc) beside its centre: those at odd distances 1, 3, 5 …, by symmetry only one
 * side. All others are zero but the centre, which is a half.
 */
function halfBand(count: number, beta: number): Float64Array {
  const reach = 2 * count;
  const taps = Float64Array.from({ length: count }, (_, i) => {
    const distance = 2 * i + 1;
    return 0.5 * sinc(distance / 2) * kaiser(distance / reach, beta);
  });
  // Together with the centre they pass DC unchanged.
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => (tap * 0.25) / sum);
}

/** The first doubling must cut from 20 to 28 kHz; the others have more and more room, and get shorter. */
const designs = [halfBand(24, 11.5), halfBand(9, 11.5), halfBand(7, 11.5)] as const;

/** History of a filter, written twice so that what it reads lies in one piece, newest first. */
class History {
  readonly samples: Float64Array;
  at = 0;

  constructor(readonly length: number) {
    this.samples = new Float64Array(2 * length);
  }

  reset(): void {
    this.samples.fill(0);
    this.at = 0;
  }

  push(sample: number): void {
    this.at = this.at === 0 ? this.length - 1 : this.at - 1;
    this.samples[this.at] = sample;
    this.samples[this.at + this.length] = sample;
  }
}

/** One doubling of the rate, or one halving back. */
class HalfBandStage {
  private readonly up: History;
  private readonly even: History;
  private readonly odd: History;
  private readonly count: number;

  constructor(private readonly taps: Float64Array) {
    this.count = taps.length;
    this.up = new History(2 * this.count);
    this.even = new History(2 * this.count);
    this.odd = new History(2 * this.count);
  }

  /** Raised samples by which going up, or down, lags. */
  get lag(): Frames {
    return 2 * this.count - 1;
  }

  reset(): void {
    for (const history of [this.up, this.even, this.odd]) history.reset();
  }

  /** Writes the two samples that follow from one, at `into[at]` and `into[at + 1]`. */
  raise(sample: number, into: Float64Array, at: number): void {
    this.up.push(sample);
    into[at] = 2 * this.symmetric(this.up);
    into[at + 1] = this.up.samples[this.up.at + this.count - 1]!;
  }

  /** The sample that follows from two. */
  lower(first: number, second: number): number {
    this.odd.push(first);
    this.even.push(second);
    return this.symmetric(this.odd) + 0.5 * this.even.samples[this.even.at + this.count]!;
  }

  private symmetric({ samples, at }: History): number {
    const { taps, count } = this;
    let sum = 0;
    for (let i = 0, near = at + count - 1, far = near + 1; i < count; i++, near--, far++)
      sum += taps[i]! * (samples[near]! + samples[far]!);
    return sum;
  }
}

const lagOf = (count: number): Frames => 2 * count - 1;
/** Raised samples of up and down together, and of the shaper itself. */
const raisedLag = 2 * (4 * lagOf(designs[0].length) + 2 * lagOf(designs[1].length) + lagOf(designs[2].length)) + 1;
const wholeLag = Math.ceil(raisedLag / factor);

/**
 * Runs a nonlinearity at eight times the sampling rate, so that what it adds above Nyquist can be filtered away before it folds back:
 * three doublings with linear-phase half-band filters, flat within 0.1 dB to 20 kHz, -110 dB from 28.5 kHz on (at 48 kHz). One for each
 * channel.
 */
export class Oversampler {
  /** Frames by which the output lags behind the input, with a shaper that lags one raised sample. */
  static readonly latency: Frames = wholeLag;
  private readonly stages = designs.map((taps) => new HalfBandStage(taps));
  private readonly twice = new Float64Array(2);
  private readonly fourfold = new Float64Array(4);
  private readonly raised = new Float64Array(factor);
  /** What is missing until the lag is a whole number of frames. */
  private readonly rest = new Float64Array(wholeLag * factor - raisedLag + 1);
  private restAt = 0;

  reset(): void {
    for (const stage of this.stages) stage.reset();
    this.rest.fill(0);
    this.restAt = 0;
  }

  next(sample: number, shaper: SampleShaper): number {
    const [first, second, third] = [this.stages[0]!, this.stages[1]!, this.stages[2]!];
    const { twice, fourfold, raised } = this;
    first.raise(sample, twice, 0);
    for (let i = 0; i < 2; i++) second.raise(twice[i]!, fourfold, 2 * i);
    for (let i = 0; i < 4; i++) third.raise(fourfold[i]!, raised, 2 * i);
    for (let i = 0; i < factor; i++) raised[i] = this.delay(shaper.next(raised[i]!));
    for (let i = 0; i < 4; i++) fourfold[i] = third.lower(raised[2 * i]!, raised[2 * i + 1]!);
    for (let i = 0; i < 2; i++) twice[i] = second.lower(fourfold[2 * i]!, fourfold[2 * i + 1]!);
    return first.lower(twice[0]!, twice[1]!);
  }

  private delay(sample: number): number {
    const { rest } = this;
    rest[this.restAt] = sample;
    if (++this.restAt === rest.length) this.restAt = 0;
    return rest[this.restAt]!;
  }
}
