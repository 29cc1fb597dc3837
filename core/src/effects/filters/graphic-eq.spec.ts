import fc from 'fast-check';
import { PartitionedConvolution, partitionFrames, responseSpectra } from '../../dsp/convolution/partitioned-convolution';
import { resolveValues } from '../../project/parameters';
import { runEffect } from '../../testing/run-effect';
import { largest, noise, residual } from '../../testing/signals';
import { graphicBands, graphicEq, graphicCurve } from './graphic-eq';

const rate = 48_000;

describe('partitioned convolution', () => {
  it('gives what direct convolution gives, one partition later, below -120 dB', () => {
    const taps = Float64Array.from(noise(1_500, 3), (tap, i) => tap * Math.exp(-i / 300));
    const input = noise(4_000, 8, -6);
    const direct = Float32Array.from({ length: 4_000 }, (_, n) => {
      let sum = 0;
      for (let k = 0; k <= Math.min(n, taps.length - 1); k++) sum += taps[k]! * input[n - k]!;
      return sum;
    });
    const convolution = new PartitionedConvolution(taps.length);
    convolution.use(responseSpectra(taps), 0);
    const output = Float32Array.from({ length: 4_000 + partitionFrames }, (_, i) => convolution.next(input[i] ?? 0));
    expect(residual(direct, output.subarray(partitionFrames))).toBeLessThan(-120);
  });

  it.each([1, 4])('fades to another response without a jump, within %i partitions', (fade) => {
    const convolution = new PartitionedConvolution(1);
    convolution.use(responseSpectra(Float64Array.of(1)), 0);
    const output = Array.from({ length: 2_560 }, (_, i) => {
      if (i === 1_000) convolution.use(responseSpectra(Float64Array.of(-1)), fade);
      return convolution.next(1);
    });
    expect(largest(partitionFrames + 1, output.length, (i) => output[i]! - output[i - 1]!)).toBeLessThanOrEqual(
      2.01 / (fade * partitionFrames),
    );
    // It begins behind the partition that was being written.
    const begin = Math.ceil(1_000 / partitionFrames) * partitionFrames;
    expect(output[begin]).toBeCloseTo(1, 1);
    expect(output[begin + (fade * partitionFrames) / 2]).toBeCloseTo(0, 2);
    expect(output[begin + fade * partitionFrames]).toBeCloseTo(-1, 6);
    expect(output.at(-1)).toBeCloseTo(-1, 6);
  });
});

describe('graphic EQ', () => {
  /** Level of the response at a frequency, from its impulse response. */
  function levels(values: Record<string, number>): (frequency: number) => number {
    const impulse = new Float32Array(65_536);
    impulse[0] = 1;
    const [response] = runEffect(graphicEq, [impulse], { values });
    const magnitudeAt = (frequency: number): number => {
      let [re, im] = [0, 0];
      for (let n = 0; n < response!.length; n++) {
        re += response![n]! * Math.cos((2 * Math.PI * frequency * n) / rate);
        im += response![n]! * Math.sin((2 * Math.PI * frequency * n) / rate);
      }
      return Math.hypot(re, im);
    };
    return (frequency) => 20 * Math.log10(magnitudeAt(frequency));
  }

  it('hits every slider within 1.2 dB, whatever its neighbours do', () => {
    const alternating = [18, -18, 12].map((gain) => [graphicBands.map((_, i) => (i % 2 ? gain : -gain))] as [number[]]);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -18, max: 18 }), { minLength: 31, maxLength: 31 }), (gains) => {
        const values = Object.fromEntries(gains.map((gain, i) => [`band${i + 1}`, gain]));
        const heard = levels(values);
        graphicBands.forEach((frequency, i) => {
          if (frequency < 18_000) expect(Math.abs(heard(frequency) - gains[i]!)).toBeLessThan(1.2);
        });
      }),
      { numRuns: 30, examples: alternating },
    );
  });

  it('is nothing when all sliders are at zero, and scales with its strength', () => {
    const input = noise(9_600, 4, -12);
    const [plain] = runEffect(graphicEq, [input]);
    expect(residual(input.subarray(0, 9_000), plain!.subarray(partitionFrames, 9_000 + partitionFrames))).toBeLessThan(-110);
    const values = { band18: 6 };
    expect(levels({ ...values, strength: 0.5 })(1_000)).toBeCloseTo(3, 1);
    expect(graphicCurve(resolveValues(graphicEq.parameters, { band18: 6 }))(1_000)).toBeCloseTo(6, 9);
  });
});
