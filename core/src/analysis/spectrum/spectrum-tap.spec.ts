import { sine } from '../../testing/signals';
import { SpectrumTap } from './spectrum-tap';

describe('the live spectrum', () => {
  it.each([50, 440, 6_000])('reads a full-scale sine of %i Hz at 0 dB, in its place', (frequency) => {
    const tap = new SpectrumTap(48_000);
    const samples = sine(frequency, 0.2, 48_000);
    for (let at = 0; at + 960 <= samples.length; at += 960) tap.write({ channels: [samples.subarray(at, at + 960)], frames: 960 });
    const levels = new Float32Array(160);
    tap.levels(levels, 20, 20_000);
    const loudest = levels.indexOf(Math.max(...levels));
    expect(Math.abs((20 * Math.pow(1_000, (loudest + 0.5) / 160)) / frequency - 1)).toBeLessThan(0.12);
    expect(Math.abs(levels[loudest]!)).toBeLessThan(1.5);
  });

  it('reads silence at the bottom', () => {
    const levels = new Float32Array(20);
    new SpectrumTap(48_000).levels(levels, 20, 20_000);
    expect(Math.max(...levels)).toBe(-160);
  });
});
