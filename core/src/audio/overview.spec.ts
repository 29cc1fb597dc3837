import { mono, noise } from '../testing/signals';
import { measureOverview, OverviewMeter, readOverview } from './overview';
import { inMemory } from './recording';

describe('waveform overviews', () => {
  it('are the lowest and the highest sample of all channels, column by column', () => {
    const left = Float32Array.of(0.1, -0.2, 0.3, 0.4, -0.5);
    const right = Float32Array.of(0, 0.6, 0, -0.7, 0);
    const { framesPerColumn, frames, low, high } = measureOverview({ sampleRate: 48_000, channels: [left, right] }, 3);
    expect([framesPerColumn, frames]).toEqual([2, 5]);
    expect([...low]).toEqual([-0.2, -0.7, -0.5].map(Math.fround));
    expect([...high]).toEqual([0.6, 0.4, 0].map(Math.fround));
  });

  it('are the same in pieces of any size, and when more comes than was expected', async () => {
    const samples = noise(30_000);
    const whole = measureOverview(mono(samples), 300);
    for (const expected of [30_000, 3_000]) {
      const meter = new OverviewMeter(expected, (300 * expected) / 30_000);
      for (let at = 0, size = 1; at < samples.length; at += size, size = Math.min(2 * size + 1, 7_777))
        meter.process([samples.subarray(at, at + size)]);
      expect(meter.overview).toEqual(whole);
    }
    expect(await readOverview(inMemory(mono(samples)))).toEqual(measureOverview(mono(samples)));
  });

  it('have columns of a twentieth of a second at most, of a single sample one, and of nothing none', () => {
    expect(measureOverview(mono(new Float32Array(48_000 * 120))).framesPerColumn).toBe(2_400);
    expect(measureOverview(mono(Float32Array.of(0.5))).high).toEqual(Float32Array.of(0.5));
    expect(measureOverview(mono(new Float32Array(0))).low).toHaveLength(0);
  });
});
