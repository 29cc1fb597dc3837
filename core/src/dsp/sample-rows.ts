import type { Frames } from '../units';
import type { KernelBlock, Kernels } from './compiled/kernels';
import { getKernels } from './compiled/kernels';

/** Several channels of samples, in the kernels' memory where there are kernels. */
export class SampleRows {
  private readonly kernels: Kernels | undefined = getKernels();
  /** Kept, so that nobody else is given them. */
  private readonly blocks: readonly KernelBlock[];
  private held: Float32Array[];

  constructor(
    readonly count: number,
    readonly length: Frames,
  ) {
    const { kernels } = this;
    const each = Array.from({ length: count });
    this.blocks = kernels ? each.map(() => kernels.allocate(4 * length)) : [];
    this.held = kernels ? [] : each.map(() => new Float32Array(length));
  }

  /** The channels: views, stale after anything is allocated in the kernels' memory. */
  get channels(): readonly Float32Array[] {
    const { kernels, length } = this;
    if (kernels && this.held[0]?.buffer !== kernels.samples().buffer) {
      const memory = kernels.samples();
      this.held = this.blocks.map(({ at }) => memory.subarray(at / 4, at / 4 + length));
    }
    return this.held;
  }

  /** Where a channel begins in the kernels' memory, in bytes; undefined where there are no kernels. */
  addressOf(channel: number): number | undefined {
    return this.blocks[channel]?.at;
  }
}
