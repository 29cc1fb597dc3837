import { noise, residual, sine } from '../testing/signals';
import { getKernels } from './compiled/kernels';
import type { Shaper } from './shaper';
import { Oversampler } from './oversampler';
import type { ShaperCurve } from './shaper-curves';
import { CurveShaper, shapedValue, shaperCurves } from './shaper-curves';

const rate = 48_000;

/** Lags one raised sample, as shapers do, and changes nothing. */
class Nothing implements Shaper {
  private held = 0;

  shape(samples: Float32Array, from: number, count: number): void {
    for (let i = from; i < from + count; i++) {
      const sample = samples[i]!;
      samples[i] = this.held;
      this.held = sample;
    }
  }
}

describe('oversampling', () => {
  const sound = noise(5_000, 3, -6);

  it.each([[[5_000]], [[1]], [[7, 128, 129, 3, 500]]])(
    'gives with the compiled filters what the reference gives, in blocks of %j',
    (blocks) => {
      const compiled = new Oversampler();
      const plain = new Oversampler(false);
      const [a, b] = [new Nothing(), new Nothing()];
      for (const round of [1, 2]) {
        const outputs = [sound.slice(), sound.slice()];
        for (let from = 0, n = 0; from < sound.length; from += blocks[n++ % blocks.length]!) {
          const frames = Math.min(blocks[n % blocks.length]!, sound.length - from);
          compiled.process(outputs[0]!.subarray(from), frames, a);
          plain.process(outputs[1]!.subarray(from), frames, b);
        }
        expect(residual(outputs[1]!, outputs[0]!)).toBeLessThan(-120);
        if (round === 1) for (const each of [compiled, plain]) each.reset();
      }
    },
  );

  it('passes what is audible unchanged, later by its latency', () => {
    for (const frequency of [100, 5_000, 18_000]) {
      const input = sine(frequency, 1, rate, -6).subarray(0, 8_000);
      const output = input.slice();
      new Oversampler().process(output, output.length, new Nothing());
      const late = output.subarray(Oversampler.latency + 500, 7_500);
      expect(residual(input.subarray(500, 7_500 - Oversampler.latency), late)).toBeLessThan(-70);
    }
  });
});

describe('static curves', () => {
  const inputs: Record<string, Float32Array> = {
    'loud noise': noise(4_000, 5, 20),
    'a slow ramp, whose neighbours are one': Float32Array.from({ length: 4_000 }, (_, i) => (i - 2_000) * 2e-6),
    'steps and rests': Float32Array.from({ length: 4_000 }, (_, i) => Math.round(3 * Math.sin(i / 9))),
    'a sine': sine(500, 1, rate, 12).subarray(0, 4_000),
  };

  describe.each(shaperCurves)('%s', (curve: ShaperCurve) => {
    it.each(Object.keys(inputs))('gives with the kernel what the reference gives for %s', (what) => {
      const kernels = getKernels()!;
      const input = inputs[what]!;
      const expected = input.slice();
      const reference = new CurveShaper();
      reference.use(curve);
      reference.shape(expected, 0, expected.length);
      const block = kernels.allocate(input.length * 4);
      kernels.samples().set(input, block.at / 4);
      const compiled = new CurveShaper();
      compiled.use(curve);
      for (let from = 0; from < input.length; from += 100) compiled.shape(kernels.samples(), block.at / 4 + from, 100);
      const actual = kernels.samples().slice(block.at / 4, block.at / 4 + input.length);
      expect(residual(expected, actual)).toBeLessThan(-120);
    });

    it('is the curve itself for values that stay', () => {
      const kernels = getKernels()!;
      for (const value of [-3, -0.7, 0, 0.4, 1.7]) {
        const block = kernels.allocate(64);
        kernels.samples().fill(value, block.at / 4, block.at / 4 + 16);
        const shaper = new CurveShaper();
        shaper.use(curve);
        shaper.shape(kernels.samples(), block.at / 4, 16);
        expect(kernels.samples()[block.at / 4 + 15]).toBeCloseTo(shapedValue(curve, value), 5);
      }
    });
  });
});
