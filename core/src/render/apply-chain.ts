import type { Audio } from '../audio/audio';
import { frameCount, silence } from '../audio/audio';
import { maxBlock } from '../effects/effect';
import type { EffectStep } from '../project/schema';
import { noMoves } from './automation';
import type { ChainContext } from './chain';
import { ChainProcessor } from './chain';
import { chainTail } from './chain-measures';

/**
 * Runs a chain over a recording with any number of channels. The result starts where the recording starts, whatever the chain's latency,
 * and is as long, or longer by the chain's tail.
 */
export function applyChain(
  audio: Audio,
  chain: readonly EffectStep[],
  { tail, source }: { readonly tail: boolean } & Pick<ChainContext, 'source'>,
): Audio {
  const channels = audio.channels.length;
  const processor = new ChainProcessor(chain, { sampleRate: audio.sampleRate, channels, ...(source && { source }) });
  processor.apply(chain, noMoves, '');
  const length = frameCount(audio) + (tail ? chainTail(chain, audio.sampleRate) : 0);
  const output = silence(audio.sampleRate, channels, length);
  const block = { channels: Array.from({ length: channels }, () => new Float32Array(maxBlock)), frames: 0 };
  for (let read = 0; read < length + processor.latency; read += maxBlock) {
    block.frames = Math.min(maxBlock, length + processor.latency - read);
    block.channels.forEach((samples, c) => {
      const input = audio.channels[c]!.subarray(read, read + block.frames);
      samples.set(input);
      samples.fill(0, input.length);
    });
    processor.process(block, read);
    const skip = Math.max(0, processor.latency - read);
    if (skip >= block.frames) continue;
    output.channels.forEach((samples, c) => samples.set(block.channels[c]!.subarray(skip, block.frames), read + skip - processor.latency));
  }
  return output;
}
