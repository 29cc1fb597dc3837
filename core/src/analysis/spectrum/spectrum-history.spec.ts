import { inMemory } from '../../audio/recording';
import { mono, noise, sine } from '../../testing/signals';
import { averageSpectrum, levelBetween, SpectrumHistory } from './spectrum-history';

const rate = 48_000;
const points = 160;
const span = { points, low: 20, high: 20_000 };
const frequencyAt = (point: number): number => 20 * 1_000 ** ((point + 0.5) / points);
const nearest = (frequency: number): number => Math.floor((Math.log(frequency / 20) / Math.log(1_000)) * points);

describe('history of a spectrum', () => {
  it('averages power and keeps the highest level, and counts no rests', () => {
    const history = new SpectrumHistory(2);
    expect(history.average).toBeUndefined();
    history.add(Float32Array.of(-20, -40));
    history.add(Float32Array.of(-160, -160));
    history.add(Float32Array.of(-40, -30));
    // (0.01 + 0.0001) / 2 and (0.0001 + 0.001) / 2.
    expect(history.average![0]).toBeCloseTo(-22.967, 2);
    expect(history.average![1]).toBeCloseTo(-32.596, 2);
    expect([...history.peak!]).toEqual([-20, -30]);
  });

  it('of a recording shows a tone at its level and frequency, half as strong when it sounds half of the time', async () => {
    const tone = sine(1_000, 4, rate, -12);
    const steady = (await averageSpectrum(inMemory(mono(tone)), span))!;
    const loudest = steady.indexOf(Math.max(...steady));
    expect(Math.abs(Math.log2(frequencyAt(loudest) / 1_000))).toBeLessThan(0.1);
    expect(Math.abs(steady[nearest(1_000)]! + 12)).toBeLessThan(1.5);
    const noisy = noise(4 * rate, 5, -80);
    const half = Float32Array.from(tone, (sample, i) => (i < 2 * rate ? sample : 0) + noisy[i]!);
    const interrupted = (await averageSpectrum(inMemory(mono(half)), span))!;
    expect(interrupted[nearest(1_000)]! - steady[nearest(1_000)]!).toBeCloseTo(-3, 0);
    expect(await averageSpectrum(inMemory(mono(new Float32Array(rate))), span)).toBeUndefined();
  });

  it('tells how far two of them lie apart', () => {
    const levels = Float32Array.of(-30, -20, -50);
    expect(
      levelBetween(
        levels,
        levels.map((level) => level + 7),
      ),
    ).toBeCloseTo(7, 4);
  });
});
