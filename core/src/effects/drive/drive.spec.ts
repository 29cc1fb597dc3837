import { Oversampler } from '../../dsp/oversampler';
import { harmonicsOf } from '../../testing/harmonics';
import { runEffect } from '../../testing/run-effect';
import { amplitudeAt, largest, noise, residual, sine } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { clipper } from '../dynamics/clipper';
import { bandDrive } from './band-drive';
import { crusher } from './crusher';
import { drive } from './drive';
import { frequencyShifter } from './frequency-shifter';
import { grit } from './grit';
import { harmonicBuilder } from './harmonic-builder';
import { ringModulator } from './ring-modulator';
import { subWeight } from './sub-weight';

const rate = 48_000;

describe('drive', () => {
  it.each(['soft', 'warm', 'hard', 'fold', 'rectify'])('adds no aliases above -80 dB at +24 dB with the curve “%s”', (curve) => {
    // 5 kHz and a bit: aliases fall beside the harmonics, not onto them.
    const frequency = 5_000 + 250 / 3;
    const [output] = runEffect(drive, [sine(frequency, 0.5, rate)], { values: { curve, drive: 24, output: 0 } });
    const { loudest, others } = harmonicsOf(output!.subarray(7_200, 7_200 + 14_400), frequency, rate);
    // The rectifier takes the fundamental away; a sine of full scale stands for it.
    const reference = curve === 'rectify' ? harmonicsOf(sine(frequency, 0.3, rate), frequency, rate).loudest : loudest;
    expect(20 * Math.log10(others / reference)).toBeLessThan(-80);
  });

  it('is the curve itself far below Nyquist', () => {
    const [output] = runEffect(drive, [sine(50, 1, rate, -6)], { values: { curve: 'soft', drive: 12, output: 0 } });
    const input = sine(50, 1, rate, -6);
    const expected = input.map((sample) => Math.tanh(sample * decibelsToGain(12)));
    const late = new Float32Array(rate);
    late.set(expected.subarray(0, rate - Oversampler.latency), Oversampler.latency);
    // The high-pass against DC turns the lowest partial by a few degrees; its magnitude is what counts.
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 50, rate, 24_000) / amplitudeAt(late, 50, rate, 24_000)))).toBeLessThan(0.15);
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 150, rate, 24_000) / amplitudeAt(late, 150, rate, 24_000)))).toBeLessThan(0.15);
  });

  it('leaves quiet sounds alone', () => {
    const input = sine(440, 0.5, rate, -60);
    const [output] = runEffect(drive, [input], { values: { curve: 'soft', drive: 0, output: 0 } });
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 440, rate, 12_000) / decibelsToGain(-60)))).toBeLessThan(0.05);
  });
});

describe('clipper', () => {
  it('keeps a loud low tone below its ceiling, but for the ripple of its filters', () => {
    const [output] = runEffect(clipper, [sine(100, 0.5, rate, -3)], { values: { gain: 12, ceiling: -6 } });
    const peak = Math.max(...output!.subarray(4_800).map(Math.abs));
    expect(20 * Math.log10(peak)).toBeLessThan(-6 + 1.1);
    expect(20 * Math.log10(peak)).toBeGreaterThan(-6.1);
  });

  it('passes what stays below', () => {
    const input = sine(900, 0.3, rate, -30);
    const [output] = runEffect(clipper, [input], { values: { gain: 0, ceiling: -1 } });
    expect(
      residual(input.subarray(2_000, 12_000), output!.subarray(2_000 + Oversampler.latency, 12_000 + Oversampler.latency)),
    ).toBeLessThan(-60);
  });
});

describe('band drive', () => {
  it('leaves what lies outside its band', () => {
    const input = sine(100, 0.5, rate, -20);
    const [output] = runEffect(bandDrive, [input], { values: { frequency: 6_000, width: 2, drive: 24 } });
    expect(Math.abs(20 * Math.log10(amplitudeAt(output!, 100, rate, 12_000) / decibelsToGain(-20)))).toBeLessThan(0.3);
    const inside = runEffect(bandDrive, [sine(6_000, 0.5, rate, -6)], { values: { frequency: 6_000, width: 2, drive: 24 } })[0]!;
    expect(amplitudeAt(inside, 18_000, rate, 12_000)).toBeGreaterThan(0.02);
  });
});

describe('crusher', () => {
  it('rounds to the steps of its bits and holds for the time of its rate', () => {
    const [output] = runEffect(crusher, [sine(100, 0.2, rate, -1)], { values: { bits: 4, rate: 4_800 } });
    expect(largest(0, output!.length, (i) => output![i]! * 8 - Math.round(output![i]! * 8))).toBeLessThan(1e-6);
    let changes = 0;
    for (let i = 1; i < output!.length; i++) if (output![i] !== output![i - 1]) changes++;
    expect(changes).toBeLessThanOrEqual(960);
  });
});

describe('ring modulator', () => {
  it('replaces a tone by its sum and its difference with the carrier', () => {
    const [output] = runEffect(ringModulator, [sine(1_000, 0.5, rate, -6)], { values: { frequency: 250, shape: 'sine', depth: 1 } });
    const level = (frequency: number): number => 20 * Math.log10(amplitudeAt(output!, frequency, rate, 4_800));
    expect(level(750)).toBeCloseTo(-12, 0);
    expect(level(1_250)).toBeCloseTo(-12, 0);
    expect(level(1_000)).toBeLessThan(-90);
  });
});

describe('frequency shifter', () => {
  it.each([60, 1_000, 9_000])('moves a tone of %i Hz by 137 Hz, the other sideband below -60 dB', (frequency) => {
    const [output] = runEffect(frequencyShifter, [sine(frequency, 1.5, rate, -6)], { values: { shift: 137 } });
    const level = (at: number): number => 20 * Math.log10(amplitudeAt(output!, at, rate, 24_000) / decibelsToGain(-6));
    expect(Math.abs(level(frequency + 137))).toBeLessThan(0.1);
    expect(level(Math.abs(frequency - 137))).toBeLessThan(-60);
    expect(level(frequency)).toBeLessThan(-60);
  });
});

describe('grit', () => {
  it('rides on the level of the sound and comes again with the same seed', () => {
    const input = noise(rate, 3, -12);
    input.fill(0, 24_000);
    const values = { amount: 0, release: 0.01 };
    const added = (seed: number): Float32Array =>
      runEffect(grit, [input], { values: { ...values, seed } })[0]!.map((sample, i) => sample - input[i]!);
    const first = added(1);
    const level = (from: number, to: number): number =>
      Math.sqrt(first.subarray(from, to).reduce((sum, sample) => sum + sample ** 2, 0) / (to - from));
    expect(level(4_800, 24_000)).toBeGreaterThan(0.02);
    expect(level(30_000, 48_000)).toBeLessThan(1e-5);
    expect(added(1)).toEqual(first);
    expect(added(2)).not.toEqual(first);
  });
});

describe('sub weight', () => {
  it('puts a low thump under a hit and leaves the rest', () => {
    const hit = noise(rate, 6, -6).map((sample, i) => sample * Math.exp(-i / 1_200));
    const [output] = runEffect(subWeight, [hit], { values: { frequency: 50, drive: 20, decay: 0.5, level: 0 } });
    const below = (samples: Float32Array): number => amplitudeAt(samples, 50, rate, 0, 9_600);
    expect(below(output!)).toBeGreaterThan(4 * below(hit));
    const above = output!.map((sample, i) => sample - hit[i]!);
    expect(amplitudeAt(above, 2_000, rate, 0, 9_600)).toBeLessThan(0.002);
  });
});

describe('harmonic builder', () => {
  it.each([-6, -40])('adds the harmonics that it is asked for, at %i dB alike', (level) => {
    const input = sine(100, 1, rate, level);
    const values = { second: 0.5, third: 0.25, fourth: 0, fifth: 0, sixth: 0, top: 4_000 };
    const [output] = runEffect(harmonicBuilder, [input], { values });
    const relative = (frequency: number): number => amplitudeAt(output!, frequency, rate, 24_000) / decibelsToGain(level);
    // The follower that brings the tone to full scale ripples by a few percent.
    expect(relative(200)).toBeGreaterThan(0.4);
    expect(relative(200)).toBeLessThan(0.6);
    expect(relative(300)).toBeGreaterThan(0.18);
    expect(relative(300)).toBeLessThan(0.32);
    expect(relative(500)).toBeLessThan(0.1);
  });
});
