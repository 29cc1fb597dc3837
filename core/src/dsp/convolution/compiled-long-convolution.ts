import type { Frames } from '../../units';
import type { CompiledResponse } from './compiled-spectra';
import { CompiledSpectra } from './compiled-spectra';
import type { KernelBlock, Kernels } from '../compiled/kernels';

/** A stretch of a response and the sound it works on. */
interface RunningStretch {
  readonly spectra: CompiledSpectra;
  readonly response: CompiledResponse;
  readonly partition: Frames;
  /** Frames of the partition that is being written. */
  written: Frames;
}

/** `LongConvolution` with all sound in the kernels' memory: what its stretches give is added up there. */
export class CompiledLongConvolution {
  private readonly stretches: readonly RunningStretch[];
  private readonly sum: KernelBlock;

  /** @param frames of a run, which all partitions are multiples of */
  constructor(
    stretches: readonly { readonly partition: Frames; readonly spectra: CompiledResponse }[],
    private readonly frames: Frames,
    private readonly kernels: Kernels,
  ) {
    this.sum = kernels.allocate(4 * frames);
    this.stretches = stretches.map(({ partition, spectra: response }) => ({
      spectra: new CompiledSpectra(Math.max(1, response.parts), partition, kernels),
      response,
      partition,
      written: 0,
    }));
  }

  reset(): void {
    for (const stretch of this.stretches) {
      stretch.spectra.reset();
      stretch.written = 0;
    }
  }

  /** Takes a run of the sound, and gives what comes out in the next. */
  run(input: Float32Array, output: Float32Array): void {
    const { kernels, frames, sum, stretches } = this;
    const from = sum.at / 4;
    kernels.samples().fill(0, from, from + frames);
    for (const stretch of stretches) {
      const { spectra, response, partition } = stretch;
      spectra.write(input, stretch.written);
      stretch.written += frames;
      if (stretch.written === partition) {
        stretch.written = 0;
        spectra.push();
        spectra.convolve(response);
      }
      kernels.addTo(sum.at, spectra.result + 4 * stretch.written, frames);
    }
    output.set(kernels.samples().subarray(from, from + frames));
  }
}
