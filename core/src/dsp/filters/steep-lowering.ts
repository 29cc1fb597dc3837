import { kaiser, sinc } from '../kaiser';

/**
 * A linear-phase low-pass at twice the rate in front of halving it, which stops from half of the lower rate on, as no half-band filter does: nothing folds back at all. Of its symmetric coefficients
 * only one side: those at odd distances 1, 3, 5 … from its centre, and those at even ones 0, 2, 4 …, the one at the centre halved.
 */
export interface SteepTaps {
  readonly odd: Float64Array;
  readonly even: Float64Array;
}

/**
 * @param count coefficients of each kind: 36 of them leave 20 of 24 kHz
 * @param beta Kaiser's β
 */
export function steepTaps(count: number, beta: number): SteepTaps {
  const reach = 2 * count;
  // Half-way from what passes, 5/6 of half the lower rate, to what does not.
  const corner = 11 / 24;
  const tap = (distance: number): number => corner * sinc(corner * distance) * kaiser(distance / reach, beta);
  const odd = Float64Array.from({ length: count }, (_, j) => tap(2 * j + 1));
  const even = Float64Array.from({ length: count }, (_, j) => tap(2 * j) * (j === 0 ? 0.5 : 1));
  // Both sides together pass DC unchanged.
  const sum = 2 * [...odd, ...even].reduce((whole, value) => whole + value, 0);
  return { odd: odd.map((value) => value / sum), even: even.map((value) => value / sum) };
}

/** Halves the rate frame by frame, in double precision: the reference for `lowerSteep` in core/kernels/oversample.ts. */
export class SteepLowering {
  private readonly firsts: Float64Array;
  private readonly seconds: Float64Array;

  constructor(private readonly taps: SteepTaps) {
    this.firsts = new Float64Array(2 * taps.odd.length);
    this.seconds = new Float64Array(2 * taps.odd.length);
  }

  reset(): void {
    this.firsts.fill(0);
    this.seconds.fill(0);
  }

  /** The sample that follows from two. */
  lower(first: number, second: number): number {
    const { firsts, seconds } = this;
    const { odd, even } = this.taps;
    const count = odd.length;
    for (const [samples, latest] of [
      [firsts, first],
      [seconds, second],
    ] as const) {
      samples.copyWithin(0, 1);
      samples[2 * count - 1] = latest;
    }
    // The centre is the second sample so many pairs ago.
    const centre = count - 1;
    let sum = 0;
    for (let j = 0; j < count; j++) {
      sum += odd[j]! * (firsts[centre - j]! + firsts[centre + 1 + j]!);
      sum += even[j]! * (seconds[centre - j]! + seconds[centre + j]!);
    }
    return sum;
  }
}
