import { amplitudeAt, sine } from '../testing/signals';
import type { BandRegion } from './band-listener';
import { BandListener } from './band-listener';

const rate = 48_000;

/** Level in dB of a tone at `frequency` behind a listener, once it has settled. */
function level(region: BandRegion, frequency: number): number {
  const listener = new BandListener(rate, region, 2);
  const input = sine(frequency, 1, rate);
  const output = new Float32Array(rate);
  const other = new Float32Array(480);
  for (let at = 0; at < rate; at += 480) {
    const part = input.subarray(at, at + 480);
    listener.hearBefore({ channels: [part, part], frames: 480 });
    listener.replace([output.subarray(at, at + 480), other], 480);
  }
  return 20 * Math.log10(amplitudeAt(output.subarray(rate / 2), frequency, rate));
}

describe('listening to one band', () => {
  it('lets its middle through, takes 3 dB at the edges that Q means, and far less beyond', () => {
    const region = { part: 'around', frequency: 1_000, q: 2 } as const;
    expect(level(region, 1_000)).toBeCloseTo(0, 1);
    // Edges of a bandwidth of f / Q lie at f (√(1 + 1/4Q²) ± 1/2Q).
    const middle = Math.sqrt(1 + 1 / 16);
    for (const edge of [middle - 0.25, middle + 0.25]) expect(level(region, 1_000 * edge)).toBeCloseTo(-3, 0);
    for (const far of [250, 4_000]) expect(level(region, far)).toBeLessThan(-20);
  });

  it('keeps what lies below or above', () => {
    expect(level({ part: 'below', frequency: 500, q: 1 }, 100)).toBeCloseTo(0, 1);
    expect(level({ part: 'below', frequency: 500, q: 1 }, 2_000)).toBeLessThan(-40);
    expect(level({ part: 'above', frequency: 500, q: 1 }, 5_000)).toBeCloseTo(0, 1);
    expect(level({ part: 'above', frequency: 500, q: 1 }, 125)).toBeLessThan(-40);
  });

  it('moves to another part without a jump, and is silent where the step hears nothing', () => {
    const listener = new BandListener(rate, { part: 'around', frequency: 300, q: 4 }, 2);
    const input = sine(300, 1, rate, -6);
    const [left, right] = [new Float32Array(480), new Float32Array(480)];
    let last = 0;
    let largest = 0;
    for (let at = 0; at < 24_000; at += 480) {
      if (at === 9_600) listener.tune({ part: 'around', frequency: 2_400, q: 4 });
      const part = input.subarray(at, at + 480);
      listener.hearBefore({ channels: [part, part], frames: 480 });
      listener.replace([left, right], 480);
      for (const sample of left) {
        largest = Math.max(largest, Math.abs(sample - last));
        last = sample;
      }
    }
    expect(largest).toBeLessThan(0.5 * ((2 * Math.PI * 300) / rate) * 1.5);
    listener.replace([left, right], 480);
    expect(left.every((sample) => sample === 0)).toBe(true);
  });
});
