import type { Audio } from '../audio/audio';
import type { Block } from '../dsp/block';
import type { EffectDescription, ParameterSet, ParameterValue, ParameterValues, ValuesOf } from '../project/parameters';
import type { Decibels, Frames, Hertz } from '../units';
import type { EffectPicture } from './effect-picture';

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

/** What an effect takes from elsewhere, by the names of the parameters that refer to it; what is not chosen or not there is missing. */
export type Inputs<T> = Readonly<Record<string, T>>;

export interface CreateContext<V extends ParameterValues = ParameterValues> {
  readonly sampleRate: Hertz;
  readonly channels: number;
  /** The values to begin with. */
  readonly values: V;
  /** Of a host. */
  readonly branches?: readonly BranchPath[];
  /** Sounds of layers and groups that the effect listens to, as long as the block that it is given, by the parameters that chose them. */
  readonly keys?: Inputs<Block>;
  /** Recordings that the effect works with, by the parameters that chose them. */
  readonly recordings?: Inputs<Audio>;
  /** True where nobody listens meanwhile: the effect may lag more (see `latency`) where that makes it quicker. */
  readonly offline?: boolean;
}

/** What effects are for, in the order in which the interface offers them. */
export const effectFamilies = ['EQ and filters', 'Dynamics', 'Drive', 'Pitch', 'Movement', 'Time and space', 'Image', 'Hosts'] as const;
export type EffectFamily = (typeof effectFamilies)[number];

/**
 * How an effect treats the channels that it is given, however many there are: each by itself, so that none hears of another; linked, all of them
 * by what is heard in any; or in pairs, left and right differently.
 */
export type ChannelTreatment = 'each' | 'linked' | 'pairs';

/** Values of an effect under a name; parameters that it leaves out have their defaults. */
export interface EffectPreset {
  readonly name: string;
  readonly values: Readonly<Record<string, ParameterValue>>;
}

/** An effect: one object from which the editor, the validation, the addresses, the command line and the tests follow. */
export interface Effect<S extends ParameterSet = ParameterSet> extends EffectDescription {
  readonly family: EffectFamily;
  readonly channels: ChannelTreatment;
  readonly parameters: S;
  readonly presets: readonly EffectPreset[];
  /** Frames by which the output lags behind the input; it may lag more where nobody listens meanwhile. */
  latency(values: ValuesOf<S>, sampleRate: Hertz, offline?: boolean): Frames;
  /** Frames after the end of the input until the output has fallen by 60 dB or more; `recordings` as in its context. */
  tail(values: ValuesOf<S>, sampleRate: Hertz, recordings: Inputs<Audio>): Frames;
  create(context: CreateContext<ValuesOf<S>>): Processor<ValuesOf<S>>;
  /** What it does with these values, for drawing. */
  picture?(values: ValuesOf<S>): EffectPicture;
}

/** Gives an effect its type from its parameter list. */
export function defineEffect<const S extends ParameterSet>(effect: Effect<S>): Effect<S> {
  return effect;
}
