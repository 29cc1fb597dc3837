import type { Hertz } from '../../units';

/**
 * The two filters of ITU-R BS.1770-5 (head shelf, then RLB high-pass) for any sampling rate. The standard gives coefficients for 48 kHz
 * only; these come from the analogue parameters that reproduce them (Brecht De Man, "Evaluation of Implementations of the EBU R128
 * Loudness Measurement", 2018).
 */
export class KWeighting {
  private readonly shelf: Biquad;
  private readonly highPass: Biquad;

  constructor(sampleRate: Hertz) {
    this.shelf = shelfFilter(sampleRate);
    this.highPass = highPassFilter(sampleRate);
  }

  next(sample: number): number {
    return this.highPass.next(this.shelf.next(sample));
  }
}

class Biquad {
  private z1 = 0;
  private z2 = 0;
  constructor(
    private readonly b0: number,
    private readonly b1: number,
    private readonly b2: number,
    private readonly a1: number,
    private readonly a2: number,
  ) {}

  next(input: number): number {
    const output = this.b0 * input + this.z1;
    this.z1 = this.b1 * input - this.a1 * output + this.z2;
    this.z2 = this.b2 * input - this.a2 * output;
    return output;
  }
}

function shelfFilter(sampleRate: Hertz): Biquad {
  const k = Math.tan((Math.PI * 1_681.974450955533) / sampleRate);
  const q = 0.7071752369554196;
  const high = Math.pow(10, 3.999843853973347 / 20);
  const band = Math.pow(high, 0.4996667741545416);
  const a0 = 1 + k / q + k * k;
  return new Biquad(
    (high + (band * k) / q + k * k) / a0,
    (2 * (k * k - high)) / a0,
    (high - (band * k) / q + k * k) / a0,
    (2 * (k * k - 1)) / a0,
    (1 - k / q + k * k) / a0,
  );
}

function highPassFilter(sampleRate: Hertz): Biquad {
  const k = Math.tan((Math.PI * 38.13547087602444) / sampleRate);
  const q = 0.5003270373238773;
  const a0 = 1 + k / q + k * k;
  return new Biquad(1, -2, 1, (2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0);
}
