import type { Audio } from '../audio/audio';
import type { EffectDescription, ParameterSet, ParameterValue, ParameterValues, ValuesOf } from '../project/parameters';
import type { Decibels, Frames, Hertz } from '../units';

/** Longest block that a processor is given. */
export const maxBlock: Frames = 1024;

/** A stretch of planar samples that a processor changes in place; only the first `frames` of each channel count. */
export interface Block {
  readonly channels: readonly Float32Array[];
  frames: Frames;
}

/** A running effect. It allocates nothing while processing and glides to changed values on its own. */
export interface Processor<V extends ParameterValues = ParameterValues> {
  process(block: Block, values: V): void;
  /** Forgets all sound and jumps to the next values without gliding. */
  reset(): void;
  /** Gain reduction of the latest block, for effects that have one; 0 or below. */
  readonly gainReduction?: Decibels;
  /**
   * What the sound would be without what the effect is for, after the latest block: for effects that turn the phase in any case, so that
   * a mix does not cancel. Others are mixed with their input.
   */
  readonly dry?: Block;
}

/** One of the ways through a host: a chain and a fader. */
export interface BranchPath {
  process(block: Block): void;
  reset(): void;
}

export interface CreateContext<V extends ParameterValues = ParameterValues> {
  readonly sampleRate: Hertz;
  readonly channels: number;
  /** The values to begin with. */
  readonly values: V;
  /** Of a host. */
  readonly branches?: readonly BranchPath[];
  /** The sound that the effect listens to in the place of its own, as long as the block that it is given. */
  readonly key?: Block;
  /** The recording that the effect works with. */
  readonly source?: Audio;
  /** True where nobody listens meanwhile: the effect may lag more (see `latency`) where that makes it quicker. */
  readonly offline?: boolean;
}

/** What effects are for, in the order in which the interface offers them. */
export const effectFamilies = ['EQ and filters', 'Dynamics', 'Drive', 'Movement', 'Time and space', 'Image', 'Hosts'] as const;
export type EffectFamily = (typeof effectFamilies)[number];

/** Values of an effect under a name; parameters that it leaves out have their defaults. */
export interface EffectPreset {
  readonly name: string;
  readonly values: Readonly<Record<string, ParameterValue>>;
}

/** An effect: one object from which the editor, the validation, the addresses, the command line and the tests follow. */
export interface Effect<S extends ParameterSet = ParameterSet> extends EffectDescription {
  readonly family: EffectFamily;
  readonly parameters: S;
  readonly presets: readonly EffectPreset[];
  /** Frames by which the output lags behind the input; it may lag more where nobody listens meanwhile. */
  latency(values: ValuesOf<S>, sampleRate: Hertz, offline?: boolean): Frames;
  /** Frames after the end of the input until the output has fallen by 60 dB or more; `source` is the recording that the effect takes, if any. */
  tail(values: ValuesOf<S>, sampleRate: Hertz, source?: Audio): Frames;
  create(context: CreateContext<ValuesOf<S>>): Processor<ValuesOf<S>>;
}

/** Gives an effect its type from its parameter list. */
export function defineEffect<const S extends ParameterSet>(effect: Effect<S>): Effect<S> {
  return effect;
}
