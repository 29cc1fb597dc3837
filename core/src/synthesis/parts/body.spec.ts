import { amplitudeAt } from '../../testing/signals';
import { runSource } from '../../testing/synthesis';
import type { ParameterValues } from '../../project/parameters';
import { body } from './body';
import { bodyModes, bodyShapes, mostModes, readModes, takenBody, writeModes } from './body-modes';
import { ModalBank } from './modal-bank';

const sampleRate = 48_000;

/** A struck bank of one mode. */
function ring(frequency: number, decay: number, frames: number): Float64Array {
  const bank = new ModalBank(1, sampleRate);
  bank.tune(0, frequency, decay, 1);
  const samples = new Float64Array(frames);
  samples[0] = 1;
  for (let at = 0; at < frames; at += 64) bank.process(samples.subarray(at, at + 64), 0, Math.min(64, frames - at), at === 0);
  return samples;
}

describe('a body', () => {
  it.each([
    [55, 2],
    [440, 0.5],
    [5_000, 0.1],
    [15_000, 1],
  ])('rings at %s Hz, and falls by 60 dB in %s s', (frequency, decay) => {
    const samples = ring(frequency, decay, Math.round(decay * sampleRate));
    // Zero crossings upwards, placed between frames, give the frequency; peaks of whole periods the decay.
    const crossings: number[] = [];
    for (let i = 1; i < samples.length / 2; i++)
      if (samples[i - 1]! < 0 && samples[i]! >= 0) crossings.push(i - samples[i]! / (samples[i]! - samples[i - 1]!));
    const measured = ((crossings.length - 1) * sampleRate) / (crossings.at(-1)! - crossings[0]!);
    expect(Math.abs(measured / frequency - 1)).toBeLessThan(0.001);
    const power = (from: number): number => {
      const span = samples.subarray(Math.round(from * samples.length), Math.round((from + 0.2) * samples.length));
      return 10 * Math.log10(span.reduce((sum, each) => sum + each * each, 0));
    };
    // Half of the time apart: 30 dB.
    expect(Math.abs((power(0.1) - power(0.6)) / 30 - 1)).toBeLessThan(0.02);
  });

  it('has the modes of ideal bodies', () => {
    const ratios = (shape: (typeof bodyShapes)[number]): number[] =>
      bodyModes(shape)
        .slice(0, 4)
        .map(({ ratio }) => Math.round(1_000 * ratio) / 1_000);
    expect(ratios('bar')).toEqual([1, 2.757, 5.404, 8.933]);
    expect(ratios('membrane')).toEqual([1, 1.593, 2.136, 2.295]);
    expect(ratios('tube')).toEqual([1, 3, 5, 7]);
    expect(ratios('glass')).toEqual([1, 2.828, 5.423, 8.771]);
    for (const shape of bodyShapes) {
      const modes = bodyModes(shape);
      expect(modes.length).toBeLessThanOrEqual(mostModes);
      expect(modes.every(({ ratio }, i) => i === 0 || ratio > modes[i - 1]!.ratio - 1e-9)).toBe(true);
    }
  });

  it('rings in modes of its own: each at its interval, at its level and as long as it says', () => {
    const taken = writeModes([
      { interval: 0, level: 0, ring: 1 },
      { interval: 19.02, level: -6, ring: 0.5 },
    ]);
    const struck = { body: takenBody, taken, ring: 2, hardness: 1, scatter: 0 };
    const samples = Float32Array.from(runSource(body, struck, 220, 48_000)[0]);
    const above = 220 * 2 ** (19.02 / 12);
    const at = (frequency: number, from: number): number =>
      amplitudeAt(samples, frequency, sampleRate, from * sampleRate, (from + 0.1) * sampleRate);
    expect(20 * Math.log10(at(above, 0.02) / at(220, 0.02))).toBeCloseTo(-6 - 60 * 0.07 * (1 - 0.5), 0);
    // Half a second later: 15 dB of two seconds, 30 dB of one.
    expect(20 * Math.log10(at(220, 0.52) / at(220, 0.02))).toBeCloseTo(-15, 1);
    expect(20 * Math.log10(at(above, 0.52) / at(above, 0.02))).toBeCloseTo(-30, 0);
    expect(readModes(taken).map(({ ratio }) => ratio)).toEqual([1, expect.closeTo(above / 220, 4)]);
    // Of what is no list of modes, or too long a one, there is something to hear.
    expect(readModes('nonsense')).toHaveLength(1);
    expect(readModes(writeModes(Array.from({ length: 100 }, (_, i) => ({ interval: i, level: -i / 2, ring: 1 }))))).toHaveLength(32);
  });

  it('sounds at its note in every shape, brighter under a harder hammer', () => {
    for (const shape of bodyShapes) {
      const soft = Float32Array.from(runSource(body, { body: shape, hardness: 0.2, ring: 1 }, 220, 24_000)[0]);
      const hard = Float32Array.from(runSource(body, { body: shape, hardness: 1, ring: 1 }, 220, 24_000)[0]);
      const second = 220 * bodyModes(shape)[3]!.ratio;
      const share = (samples: Float32Array): number => amplitudeAt(samples, second, sampleRate) / amplitudeAt(samples, 220, sampleRate);
      expect({ shape, brighter: share(hard) > 1.5 * share(soft) }).toEqual({ shape, brighter: true });
    }
  });

  it('goes on as long as it is rubbed or blown, and stays within its bounds', () => {
    const ends: ParameterValues[] = [{}, { hardness: 0, roughness: 0 }, { hardness: 1, roughness: 1, ring: 10 }];
    for (const exciter of ['scraped', 'blown'])
      for (const values of ends) {
        const samples = runSource(body, { exciter, ...values }, 220, 96_000)[0];
        const late = samples.subarray(48_000).reduce((most, each) => Math.max(most, Math.abs(each)), 0);
        expect({ exciter, values, sounds: late > 1e-4 && late < 8 }).toEqual({ exciter, values, sounds: true });
      }
  });

  it('does not bend while it is rubbed: what is deep has no direct current', () => {
    for (const hardness of [0, 0.6, 1])
      for (const roughness of [0, 0.4, 1]) {
        const samples = runSource(body, { exciter: 'scraped', hardness, roughness, ring: 0.1 }, 16, 96_000)[0];
        const mean = samples.reduce((sum, each) => sum + each, 0) / samples.length;
        // It was as high as 1.6.
        expect(Math.abs(mean)).toBeLessThan(0.02);
      }
  });
});
