import { kaiser, sinc } from '../kaiser';

/**
 * Coefficients of a half-band low-pass (Kaiser-windowed sinc) beside its centre: those at odd distances 1, 3, 5 …, by symmetry only one
 * side. All others are zero but the centre, which is a half.
 */
export function halfBand(count: number, beta: number): Float64Array {
  const reach = 2 * count;
  const taps = Float64Array.from({ length: count }, (_, i) => {
    const distance = 2 * i + 1;
    return 0.5 * sinc(distance / 2) * kaiser(distance / reach, beta);
  });
  // Together with the centre they pass DC unchanged.
  const sum = taps.reduce((total, tap) => total + tap, 0);
  return taps.map((tap) => (tap * 0.25) / sum);
}

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
export class HalfBandStage {
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
