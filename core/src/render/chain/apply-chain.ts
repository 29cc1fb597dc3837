import type { Audio } from '../../audio/audio';
import { frameCount, silence } from '../../audio/audio';
import { maxBlock } from '../../dsp/block';
import { effectsById } from '../../effects';
import { stepsOf } from '../../project/chain/chain-tree';
import type { EffectStep } from '../../project/chain/chain-schema';
import { noMoves } from '../automation';
import type { ChainContext } from './chain-context';
import { ChainProcessor } from './chain';
import { chainTail } from './chain-measures';

/**
 * Runs a chain over a recording with any number of channels. The result starts where the recording starts, whatever the chain's latency,
 * and is as long, or longer by the chain's tail. A mono recording becomes a pair where a step makes the sides of a pair different, such as a room.
 * @param options `over`: where the result has the size of the recording it is written over it, so that what is long is not held twice
 */
export function applyChain(
  recording: Audio,
  chain: readonly EffectStep[],
  { tail, over = false, source }: { readonly tail: boolean; readonly over?: boolean } & Pick<ChainContext, 'source'>,
): Audio {
  const audio = recording.channels.length === 1 && makesPairs(chain) ? pairOf(recording) : recording;
  const channels = audio.channels.length;
  const processor = new ChainProcessor(chain, { sampleRate: audio.sampleRate, channels, offline: true, ...(source && { source }) });
  processor.apply(chain, noMoves, '');
  const length = frameCount(audio) + (tail ? chainTail(chain, { sampleRate: audio.sampleRate, ...(source && { source }) }) : 0);
  // What is read lies in front of what is written, by the latency.
  const output = over && !tail && audio === recording ? audio : silence(audio.sampleRate, channels, length);
  const { latency } = processor;
  const early = Array.from({ length: channels }, () => new Float32Array(maxBlock));
  for (let read = 0; read < length + latency;) {
    // What comes out before the recording starts goes nowhere; all else is worked out in its place.
    const inPlace = read >= latency;
    const frames = Math.min(maxBlock, inPlace ? length + latency - read : latency - read);
    const parts = inPlace ? output.channels.map((samples) => samples.subarray(read - latency, read - latency + frames)) : early;
    for (let c = 0; c < channels; c++) {
      const input = audio.channels[c]!.subarray(read, read + frames);
      parts[c]!.set(input);
      parts[c]!.fill(0, input.length, frames);
    }
    processor.process({ channels: parts, frames }, read);
    read += frames;
  }
  return output;
}

function makesPairs(chain: readonly EffectStep[]): boolean {
  return stepsOf(chain).some(({ effect, enabled }) => enabled && effectsById.get(effect)?.channels === 'pairs');
}

function pairOf({ sampleRate, channels }: Audio): Audio {
  return { sampleRate, channels: [channels[0]!, channels[0]!] };
}
