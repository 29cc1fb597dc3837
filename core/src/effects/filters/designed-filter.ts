import { PartitionedConvolution, responseSpectra } from '../../dsp/partitioned-convolution';
import type { ParameterValues } from '../../project/parameters';
import type { Frames } from '../../units';
import type { Processor } from '../effect';

/**
 * A filter whose impulse response is designed from its values: anew whenever what `design` depends on has changed, and then faded over
 * to. The first design after a reset is taken over at once.
 * @param identity what of the values the response depends on
 */
export function designedFilter<V extends ParameterValues>(
  channels: number,
  taps: Frames,
  identity: (values: V) => string,
  design: (values: V) => Float64Array,
): Processor<V> {
  const convolutions = Array.from({ length: channels }, () => new PartitionedConvolution(taps));
  let last: V | undefined;
  let designed: string | undefined;
  return {
    reset: () => {
      last = designed = undefined;
      for (const convolution of convolutions) convolution.reset();
    },
    process(block, values) {
      if (values !== last) {
        last = values;
        const now = identity(values);
        if (now !== designed) {
          const response = responseSpectra(design(values));
          for (const convolution of convolutions) convolution.use(response, designed !== undefined);
          designed = now;
        }
      }
      for (let c = 0; c < channels; c++) {
        const samples = block.channels[c]!;
        const convolution = convolutions[c]!;
        for (let i = 0; i < block.frames; i++) samples[i] = convolution.next(samples[i]!);
      }
    },
  };
}
