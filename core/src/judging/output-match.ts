import { produce } from 'immer';
import { LoudnessMeter } from '../analysis/loudness/loudness';
import { channelsOf } from '../audio/layout';
import { Cancelled } from '../cancelled';
import { createBlock, maxBlock } from '../dsp/block';
import { findProperty, writeProperty } from '../project/address';
import { withoutSolos } from '../project/listening';
import type { EffectCatalogue, ParameterSet } from '../project/parameters';
import type { Sound } from '../project/schema';
import { soundEnd } from '../project/time/clip-times';
import type { RenderContext } from '../render/library';
import { SoundGraph } from '../render/sound-graph';
import { TreatmentCache } from '../treatments/treat-clip';
import type { Decibels, Seconds, Unit } from '../units';

/** Loudness in LUFS of what goes into a step and of what comes out, gated over the whole sound (ITU-R BS.1770-5); -Infinity for silence. */
export interface StepLoudness {
  readonly before: Decibels;
  readonly after: Decibels;
}

/** What a match found: the loudness as it was, the output level that makes both equal, and by how much they still differ with it. */
export interface OutputMatch extends StepLoudness {
  readonly output: Decibels;
  readonly rest: Decibels;
}

/** Loudness is measured in blocks of 400 ms: what is shorter needs silence behind it. Chains are not run while their layers are silent. */
const silence: Seconds = 0.4;
/** So near is as good as equal. */
const near: Decibels = 0.05;
/** What is not proportional to the output, such as a sound that is mixed in dry, takes a few rounds. */
const mostRounds = 6;
/** How much the loudness changes at least with the output: less, and the output hardly matters. */
const leastSlope = 0.1;

/** The parameter that sets how loud an effect comes out; undefined where it has none. */
export function outputKey({ parameters }: { readonly parameters: ParameterSet }): string | undefined {
  return parameters['output']?.kind === 'number' ? 'output' : undefined;
}

/** Measures one step over the whole sound, whatever is soloed. Throws Cancelled when `progress` says so. */
export function measureStep(
  heard: Sound,
  context: RenderContext,
  step: string,
  progress: (share: Unit) => boolean = () => true,
): StepLoudness {
  const sound = withoutSolos(heard);
  const { sampleRate } = context;
  const channels = channelsOf(sound.layout);
  const before = new LoudnessMeter(sampleRate, channels);
  const after = new LoudnessMeter(sampleRate, channels);
  const graph = new SoundGraph(sound, { ...context, offline: true }, new TreatmentCache());
  const frames = Math.round(soundEnd(sound) * sampleRate);
  graph.startAt(0, 0);
  graph.taps = new Map([
    [
      step,
      {
        hearBefore: (block) => before.process(block.channels, 0, block.frames),
        hearAfter: (block) => after.process(block.channels, 0, block.frames),
      },
    ],
  ]);
  for (let at = 0; at < frames; at += maxBlock) {
    graph.next(Math.min(maxBlock, frames - at));
    if ((at / maxBlock) % 32 === 0 && !progress(at / frames)) throw new Cancelled();
  }
  const none = createBlock(channels);
  for (let at = 0; at < silence * sampleRate; at += maxBlock)
    for (const meter of [before, after]) meter.process(none.channels, 0, maxBlock);
  return { before: before.integrated, after: after.integrated };
}

/**
 * Finds the output level with which a step leaves the loudness as it is.
 * @param address of the step's output level
 * Throws RangeError where that leads nowhere or the step hears nothing, Cancelled when `progress` says so.
 */
export function matchOutput(
  sound: Sound,
  context: RenderContext,
  { step, address }: { readonly step: string; readonly address: string },
  catalogue: EffectCatalogue,
  progress: (share: Unit) => boolean = () => true,
): OutputMatch {
  const parameter = findProperty(sound, address, catalogue)?.parameter;
  if (parameter?.kind !== 'number') throw new RangeError(`There is no output level “${address}”.`);
  let changed = sound;
  let first: StepLoudness | undefined;
  let last: { readonly output: Decibels; readonly rest: Decibels } | undefined;
  for (let round = 0; ; round++) {
    const output = Number(findProperty(changed, address, catalogue)!.value);
    const measured = measureStep(changed, context, step, (share) => progress((round + share) / mostRounds));
    first ??= measured;
    const rest = measured.after - measured.before;
    if (!Number.isFinite(rest)) throw new RangeError('Nothing is heard at this step, so there is no level to match.');
    // The secant through the last two rounds; the first takes the loudness to follow the output.
    const slope = last && output !== last.output ? (rest - last.rest) / (output - last.output) : 1;
    const next = Math.max(parameter.min, Math.min(parameter.max, output - rest / Math.max(leastSlope, Math.min(1, slope))));
    last = { output, rest };
    if (Math.abs(rest) < near || next === output || round + 1 === mostRounds) return { ...first, output, rest };
    changed = produce(changed, (draft) => void writeProperty(draft, address, next, catalogue));
  }
}
