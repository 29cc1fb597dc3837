import { gainToDecibels } from '../../units';
import { mono, sine, softEnds } from '../../testing/signals';
import { measure } from './measure';
import { measureTruePeak } from './true-peak';

const rate = 48_000;

describe('true peak on the EBU Tech 3341 signals (within +0.2 / -0.4 dB)', () => {
  it.each([
    ['case 15', rate / 4, 0],
    ['case 16', rate / 4, 45],
    ['case 17', rate / 6, 60],
    ['case 18', rate / 8, 67.5],
  ])('%s: a sine of 0.5 FFS reads -6 dBTP at any phase', (_, frequency, degrees) => {
    const peak = measureTruePeak(mono(softEnds(sine(frequency, 0.5, rate, gainToDecibels(0.5), (degrees * Math.PI) / 180), rate)));
    expect(peak).toBeGreaterThan(-6.4);
    expect(peak).toBeLessThan(-5.8);
  });

  it('case 19: a sine of 1.41 FFS reads +3 dBTP although no sample shows it', () => {
    const signal = mono(softEnds(sine(rate / 4, 0.5, rate, gainToDecibels(1.41), Math.PI / 4), rate));
    expect(measure(signal).samplePeakDbfs).toBeLessThan(0.1);
    const peak = measureTruePeak(signal);
    expect(peak).toBeGreaterThan(2.6);
    expect(peak).toBeLessThan(3.2);
  });

  it.each([0, 1, 2, 3])('cases 20–23: a peak between samples, offset by %i/16 of a sample, reads 0 dBTP', (offset) => {
    // A burst at a quarter of a 4x higher rate, low-passed, is a sine at rate/4 that begins between samples.
    const phase = Math.PI / 4 + (Math.PI / 2) * (offset / 16);
    const peak = measureTruePeak(mono(softEnds(sine(rate / 4, 0.5, rate, 0, phase), rate)));
    expect(peak).toBeGreaterThan(-0.4);
    expect(peak).toBeLessThan(0.2);
  });

  it('reads a single sample', () => {
    expect(measureTruePeak(mono(Float32Array.of(0.5)))).toBeCloseTo(-6.02, 1);
  });

  it('reads silence as nothing', () => {
    expect(measureTruePeak(mono(new Float32Array(100)))).toBe(-Infinity);
  });
});
