import { PartitionedConvolution, partitionFrames, responseSpectra } from '../../dsp/convolution/partitioned-convolution';
import type { ParameterValues } from '../../project/parameters';
import type { Frames } from '../../units';
import type { Processor } from '../effect';

/**
 * Partitions from one design to the next: 43 ms at 48 kHz, of which the longest design takes a tenth or more. So long one fades over to the
 * next, so that what moves along a lane moves without steps, late by that.
 */
const designEvery = 8;

/**
 * A filter whose impulse response is designed from its values: anew whenever what `design` depends on has changed, and then faded over
 * to. The first design after a reset is taken over at once. Values are looked at where partitions begin.
 * @param identity what of the values the response depends on
 */
export function designedFilter<V extends ParameterValues>(
  channels: number,
  taps: Frames,
  identity: (values: V) => string,
  design: (values: V) => Float64Array,
): Processor<V> {
  const convolutions = Array.from({ length: channels }, () => new PartitionedConvolution(taps));
  let designed: string | undefined;
  let place: Frames = 0;
  let rested = designEvery;
  const follow = (values: V): void => {
    const now = identity(values);
    if (now === designed) return;
    const response = responseSpectra(design(values));
    for (const convolution of convolutions) convolution.use(response, designed === undefined ? 0 : designEvery);
    designed = now;
    rested = 0;
  };
  return {
    reset: () => {
      designed = undefined;
      place = 0;
      rested = designEvery;
      for (const convolution of convolutions) convolution.reset();
    },
    process(block, values) {
      for (let from = 0; from < block.frames;) {
        if (place === 0) {
          if (rested >= designEvery) follow(values);
          rested++;
        }
        const to = Math.min(block.frames, from + partitionFrames - place);
        for (let c = 0; c < channels; c++) {
          const samples = block.channels[c]!;
          const convolution = convolutions[c]!;
          for (let i = from; i < to; i++) samples[i] = convolution.next(samples[i]!);
        }
        place = (place + to - from) % partitionFrames;
        from = to;
      }
    },
  };
}
