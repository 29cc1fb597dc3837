import { longTermSpectrum, matchLevels } from '../../analysis/spectrum/long-term-spectrum';
import { inMemory } from '../../audio/recording';
import { faultsOf, readCurve, writeCurve } from '../../project/parameters';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, mono, noise, residual, sine } from '../../testing/signals';
import { drawnCurve, drawnEq, drawnLevels, drawnPoints, drawnResponse, levelAlong } from './drawn-eq';

const rate = 48_000;
/** Hills and a valley, no steeper than 12 dB per octave. */
const hills = writeCurve(
  drawnCurve,
  drawnPoints.map((_, i) => 8 * Math.sin(i / 9)),
);

describe('drawn EQ', () => {
  it.each([
    ['minimum', '8192'],
    ['linear', '8192'],
    ['linear', '16384'],
  ])('passes sines within 0.5 dB of the drawn curve: %s phase, %s taps', (phase, taps) => {
    const values = { curve: hills, smoothness: 0, phase, taps };
    const levels = drawnLevels({ ...values, strength: 1 });
    for (const frequency of [60, 140, 500, 1_300, 4_100, 11_000]) {
      const [output] = runEffect(drawnEq, [sine(frequency, 0.8, rate, -20)], { values });
      const level = 20 * Math.log10(amplitudeAt(output!, frequency, rate, 24_000, 38_000)) + 20;
      expect(Math.abs(level - levelAlong(levels, frequency))).toBeLessThan(0.5);
    }
  });

  it.each(['minimum', 'linear'])(
    'combs: nothing at multiples of the spacing, the depth half-way between, deeper by its tilt; %s phase',
    (phase) => {
      const values = { spacing: 500, depth: 18, tilt: 6, phase, taps: '8192', smoothness: 0 };
      const levelAt = (frequency: number): number => {
        const [output] = runEffect(drawnEq, [sine(frequency, 0.8, rate, -20)], { values });
        return 20 * Math.log10(amplitudeAt(output!, frequency, rate, 24_000, 38_000)) + 20;
      };
      for (const tooth of [500, 1_000, 4_000]) expect(Math.abs(levelAt(tooth))).toBeLessThan(0.6);
      // 18 dB at 1 kHz, 6 dB more with every octave above and less below.
      for (const [between, depth] of [
        [250, 6],
        [1_250, 18 + 6 * Math.log2(1.25)],
        [2_750, 18 + 6 * Math.log2(2.75)],
      ] as const)
        expect(Math.abs(levelAt(between) + depth)).toBeLessThan(1);
    },
  );

  it('is as deep as 36 dB at most and lies over the drawn curve', () => {
    const plain = { curve: hills, smoothness: 0, strength: 1, spacing: 500, depth: 0, tilt: 12 };
    expect(drawnResponse(plain)(1_250)).toBeCloseTo(levelAlong(drawnLevels(plain), 1_250), 9);
    expect(drawnResponse({ ...plain, depth: 36 })(16_250)).toBeCloseTo(levelAlong(drawnLevels(plain), 16_250) - 36, 6);
    expect(drawnResponse({ ...plain, depth: 1, tilt: 12 })(20)).toBeCloseTo(levelAlong(drawnLevels(plain), 20), 6);
  });

  it('keeps the shape of a click with linear phase: symmetric around what it says that it lags', () => {
    const click = new Float32Array(12_000);
    click[100] = 1;
    const values = { curve: hills, phase: 'linear', taps: '2048' };
    const lag = 100 + drawnEq.latency({ ...values, strength: 1, smoothness: 0.1, spacing: 400, depth: 0, tilt: 0 }, rate);
    const [output] = runEffect(drawnEq, [click], { values });
    const after = output!.slice(lag, lag + 1_000);
    const before = output!.slice(lag - 999, lag + 1).reverse();
    expect(residual(after, before)).toBeLessThan(-120);
  });

  it('scales as a whole, and smooths without moving the mean', () => {
    const values = { curve: hills, smoothness: 0, strength: 0.5 };
    expect(levelAlong(drawnLevels(values), 1_000)).toBeCloseTo(levelAlong(drawnLevels({ ...values, strength: 1 }), 1_000) / 2, 9);
    const spike = writeCurve(
      drawnCurve,
      drawnPoints.map((_, i) => (i === 60 ? 12 : 0)),
    );
    const smooth = drawnLevels({ curve: spike, smoothness: 0.25, strength: 1 });
    expect(Math.max(...smooth)).toBeLessThan(3);
    expect(smooth.reduce((sum, level) => sum + level, 0)).toBeCloseTo(12, 6);
  });
});

describe('curves as text', () => {
  it('come back as they were, to a tenth; flat is empty', () => {
    const numbers = drawnPoints.map((_, i) => Math.round(Math.sin(i) * 100) / 10);
    expect(readCurve(drawnCurve, writeCurve(drawnCurve, numbers))).toEqual(numbers.map((number) => number || 0));
    expect(writeCurve(drawnCurve, [0, 0, 0])).toBe('');
    expect(readCurve(drawnCurve, '3 -2')!.slice(0, 4)).toEqual([3, -2, 0, 0]);
  });

  it('are refused when they are none', () => {
    for (const curve of ['1 two', '99', '1 '.repeat(122), 'NaN'])
      expect(faultsOf(drawnEq.parameters, { curve })).toEqual(['“curve” is not a curve: at most 121 numbers from -36 to 24']);
    expect(faultsOf(drawnEq.parameters, { curve: '1 2 3' })).toEqual([]);
  });
});

describe('matching spectra', () => {
  it('white noise has the same level in every band of the same width, 3 dB more per octave in thirds', async () => {
    const levels = await longTermSpectrum(inMemory(mono(noise(720_000, 3, -12))), [500, 1_000, 2_000, 4_000]);
    for (let i = 1; i < levels.length; i++) expect(levels[i]! - levels[i - 1]!).toBeCloseTo(3.01, 0);
  });

  it('brings one sound to the spectrum of another within 1 dB', async () => {
    const from = noise(192_000, 5, -20);
    // The other one is noise through a filter of its own.
    const [to] = runEffect(drawnEq, [noise(192_000, 6, -26)], { values: { curve: hills, smoothness: 0 } });
    const asked = matchLevels(
      await longTermSpectrum(inMemory(mono(from)), drawnPoints),
      await longTermSpectrum(inMemory(mono(to!)), drawnPoints),
    );
    const [matched] = runEffect(drawnEq, [from], { values: { curve: writeCurve(drawnCurve, asked), smoothness: 0 } });
    const places = drawnPoints.filter((frequency) => frequency > 60 && frequency < 15_000);
    const wanted = await longTermSpectrum(inMemory(mono(to!)), places);
    const reached = await longTermSpectrum(inMemory(mono(matched!)), places);
    const shift = wanted.reduce((sum, level, i) => sum + level - reached[i]!, 0) / wanted.length;
    wanted.forEach((level, i) => expect(Math.abs(level - reached[i]! - shift)).toBeLessThan(1));
  });

  it('asks for nothing where one of them has nothing', () => {
    const asked = matchLevels([-20, -20, -20, -200], [-20, -30, -200, -20]);
    expect(asked[2]).toBe(0);
    expect(asked[3]).toBe(0);
    expect(asked[0]! - asked[1]!).toBeCloseTo(10, 9);
  });
});
