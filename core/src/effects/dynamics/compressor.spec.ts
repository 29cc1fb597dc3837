import { resolveValues } from '../../project/parameters';
import { amplitudeAt, sine } from '../../testing/signals';
import { decibelsToGain } from '../../units';
import { compressor } from './compressor';
import { automaticMakeUp, compressorCurve, upwardCurve } from '../../dsp/gain-curves';

const rate = 48_000;
type Values = Parameters<ReturnType<typeof compressor.create>['process']>[1];

function settings(changes: Partial<Values>): Values {
  return resolveValues(compressor.parameters, changes as never) as Values;
}

function compress(samples: Float32Array, values: Values, block = 480): Float32Array {
  const processor = compressor.create({ sampleRate: rate, channels: 1, values });
  const output = samples.slice();
  for (let at = 0; at < output.length; at += block) {
    const end = Math.min(output.length, at + block);
    processor.process({ channels: [output.subarray(at, end)], frames: end - at }, values);
  }
  return output;
}

/** A constant level stands for a sine's peak without its ripple: the detector reads magnitude. */
const steady = (level: number, frames: number): Float32Array => new Float32Array(frames).fill(decibelsToGain(level));

describe('compressor', () => {
  it.each([0, 6, 24])('follows the static curve within 0.1 dB with a knee of %i dB', (knee) => {
    const values = settings({ threshold: -24, ratio: 4, knee, attack: 0.001, release: 0.01 });
    for (let level = -60; level <= 0; level += 3) {
      const output = compress(steady(level, 24_000), values);
      expect(Math.abs(20 * Math.log10(output[23_999]!) - compressorCurve(level, -24, 4, knee))).toBeLessThan(0.1);
    }
  });

  it.each([0, 12])(
    'upward follows its curve within 0.1 dB with a knee of %i dB, up to what it lifts at most, and leaves silence',
    (knee) => {
      const values = settings({ direction: 'upward', threshold: -24, ratio: 4, knee, most: 18, attack: 0.001, release: 0.01 });
      for (let level = -100; level <= 0; level += 4) {
        const output = compress(steady(level, 24_000), values);
        expect(Math.abs(20 * Math.log10(output[23_999]!) - upwardCurve(level, -24, 4, knee, 18))).toBeLessThan(0.1);
      }
      expect(upwardCurve(-44, -24, 4, 0, 18)).toBeCloseTo(-24 - 20 / 4, 12);
      expect(upwardCurve(-10, -24, 4, 0, 18)).toBe(-10);
      expect(upwardCurve(-70, -24, 4, 0, 18)).toBeCloseTo(-52, 12);
      expect(upwardCurve(-81, -24, 4, 0, 18)).toBe(-81);
      expect(compress(new Float32Array(4_800), values).every((sample) => sample === 0)).toBe(true);
    },
  );

  it('has the textbook curve: straight below, 1/ratio above, continuous through the knee', () => {
    expect(compressorCurve(-40, -24, 4, 6)).toBe(-40);
    expect(compressorCurve(-4, -24, 4, 6)).toBeCloseTo(-24 + 20 / 4, 12);
    expect(compressorCurve(-27, -24, 4, 6)).toBeCloseTo(-27, 12);
    expect(compressorCurve(-21, -24, 4, 6)).toBeCloseTo(-24 + 3 / 4, 12);
  });

  it.each([0.001, 0.01, 0.05])('reaches 63 %% of its reduction after an attack of %f s, within 5 %%', (attack) => {
    const values = settings({ threshold: -30, ratio: 10, knee: 0, attack, release: 1 });
    const input = Float32Array.from([...steady(-60, 4_800), ...steady(-6, 48_000)]);
    const output = compress(input, values);
    const full = compressorCurve(-6, -30, 10, 0) + 6;
    let time = 0;
    while (20 * Math.log10(output[4_800 + time]! / input[4_800 + time]!) > full * (1 - Math.exp(-1))) time++;
    expect(Math.abs(time / rate / attack - 1)).toBeLessThan(0.05);
  });

  it.each([0.05, 0.3])('gives back 63 %% after a release of %f s, within 5 %%', (release) => {
    const values = settings({ threshold: -30, ratio: 10, knee: 0, attack: 0.001, release });
    const input = Float32Array.from([...steady(-6, 24_000), ...steady(-60, 96_000)]);
    const output = compress(input, values);
    const full = compressorCurve(-6, -30, 10, 0) + 6;
    let time = 0;
    while (20 * Math.log10(output[24_000 + time]! / input[24_000 + time]!) < full * Math.exp(-1)) time++;
    expect(Math.abs(time / rate / release - 1)).toBeLessThan(0.05);
  });

  it('delays by its look-ahead and reports that as latency', () => {
    const values = settings({ threshold: 0, lookahead: 0.005 });
    const input = new Float32Array(2_000);
    input[100] = 0.5;
    const output = compress(input, values);
    const latency = compressor.latency(values, rate);
    expect(latency).toBe(240);
    expect(output.findIndex((sample) => Math.abs(sample) > 0.1)).toBe(100 + latency);
  });

  it('reads the RMS of a sine 3 dB below its peak', () => {
    const values = settings({ threshold: -20, ratio: 40, knee: 0, attack: 0.05, release: 0.05, detector: 'RMS' });
    const output = compress(sine(1_000, 1, rate, -6), values);
    const expected = compressorCurve(-9.01, -20, 40, 0) + 9.01 - 6;
    expect(Math.abs(20 * Math.log10(amplitudeAt(output, 1_000, rate, 24_000, 48_000)) - expected)).toBeLessThan(0.1);
  });

  it('automatic make-up gives back half of what full scale loses', () => {
    expect(automaticMakeUp(-20, 4, 0)).toBeCloseTo(7.5, 12);
  });

  it('with key low cut ignores a low rumble', () => {
    const rumble = sine(40, 1, rate, -6);
    const heard = compress(rumble, settings({ threshold: -30, ratio: 8, keyLowCut: 1_000, release: 0.5 }));
    expect(20 * Math.log10(amplitudeAt(heard, 40, rate, 24_000, 48_000))).toBeCloseTo(-6, 0);
  });

  it('does not depend on the block size', () => {
    const input = sine(220, 0.3, rate, -3);
    const values = settings({ lookahead: 0.002 });
    expect(compress(input, values, 1)).toEqual(compress(input, values, 1_024));
  });
});
