import { noise, residual } from '../../testing/signals';
import { compiledResponse, CompiledSpectra } from './compiled-spectra';
import { getKernels } from '../compiled/kernels';
import { plainResponse, PlainSpectra } from './plain-spectra';

describe('spectra for convolution', () => {
  it.each([64, 256, 1_024, 4_096, 16_384])('give with the compiled kernel what the reference gives, in partitions of %i', (partition) => {
    const kernels = getKernels()!;
    const taps = Float64Array.from(noise(3 * partition - 5, 1, -20));
    const sound = noise(7 * partition, 2, -6);
    // One partition more than the response has, so that the ring of the past wraps between its parts.
    const compiled = new CompiledSpectra(4, partition, kernels);
    const plain = new PlainSpectra(4, partition);
    const responses = { compiled: compiledResponse(taps, partition, kernels), plain: plainResponse(taps, partition) };
    const output = { compiled: new Float32Array(partition), plain: new Float32Array(partition) };
    for (const round of [1, 2]) {
      for (let from = 0; from < sound.length; from += partition) {
        const part = sound.subarray(from, from + partition);
        for (const spectra of [compiled, plain]) {
          spectra.write(part.subarray(0, partition / 2), 0);
          spectra.write(part.subarray(partition / 2), partition / 2);
          spectra.push();
        }
        compiled.convolve(responses.compiled);
        compiled.read(output.compiled);
        plain.convolve(responses.plain, output.plain);
        expect(residual(output.plain, output.compiled)).toBeLessThan(-120);
      }
      if (round === 1) {
        compiled.reset();
        plain.reset();
      }
    }
  });
});

describe('memory of the kernels', () => {
  it('is handed out zeroed, in pieces that do not touch, and again once it came back', () => {
    const kernels = getKernels()!;
    const first = kernels.allocate(1_000);
    const second = kernels.allocate(1_000);
    expect(Math.abs(first.at - second.at)).toBeGreaterThanOrEqual(1_000);
    expect(first.at % 64).toBe(0);
    kernels.samples().fill(1, first.at / 4, first.at / 4 + 250);
    kernels.release(first);
    const third = kernels.allocate(900);
    expect(third.at).toBe(first.at);
    expect(kernels.samples()[third.at / 4]).toBe(0);
    kernels.release(first);
    expect(kernels.allocate(900).at).not.toBe(third.at);
    // Far more than the memory had: it grows, and what is in it stays.
    kernels.samples()[second.at / 4] = 5;
    kernels.allocate(3_000_000);
    expect(kernels.samples()[second.at / 4]).toBe(5);
  });
});
