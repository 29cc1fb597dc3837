import type { CreateContext, Effect } from '../effects/effect';
import { maxBlock } from '../dsp/block';
import type { ParameterValue } from '../project/parameters';
import { resolveValues } from '../project/parameters';
import type { Frames, Hertz } from '../units';

/** Runs an effect over channels in blocks of the given sizes, in turns; a change of values happens at a frame. */
export function runEffect(
  effect: Effect,
  channels: readonly Float32Array[],
  {
    values = {},
    blocks = [maxBlock],
    change,
    between,
    sampleRate = 48_000,
    context = {},
  }: {
    readonly values?: Readonly<Record<string, ParameterValue>>;
    readonly blocks?: readonly Frames[];
    readonly change?: { readonly at: Frames; readonly values: Readonly<Record<string, ParameterValue>> };
    /** What goes on elsewhere after each block. */
    readonly between?: () => void;
    readonly sampleRate?: Hertz;
    /** What the effect takes from elsewhere. */
    readonly context?: Partial<CreateContext>;
  } = {},
): Float32Array[] {
  const processor = effect.create({ sampleRate, channels: channels.length, values: resolveValues(effect.parameters, values), ...context });
  processor.reset();
  let now = resolveValues(effect.parameters, values);
  const output = channels.map((samples) => samples.slice());
  const length = output[0]!.length;
  let turn = 0;
  for (let at = 0; at < length;) {
    if (change && at === change.at) now = resolveValues(effect.parameters, { ...values, ...change.values });
    const size = blocks[turn++ % blocks.length]!;
    const until = change && at < change.at ? Math.min(length, change.at) : length;
    const frames = Math.min(size, until - at);
    processor.process({ channels: output.map((samples) => samples.subarray(at, at + frames)), frames }, now);
    at += frames;
    between?.();
  }
  return output;
}
