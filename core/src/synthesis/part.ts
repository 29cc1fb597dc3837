import type { Audio } from '../audio/audio';
import type { Random } from '../dsp/random';
import type { EffectDescription, ParameterSet, ParameterValues, ValuesOf } from '../project/parameters';
import type { Frames, Hertz, Ratio, Seconds, Unit } from '../units';
import type { commonParameters } from './common-parameters';

/** The longest run of frames that a voice is computed in; its values move in straight lines from one to the next. */
export const voiceStep: Frames = 64;

/** What a part knows of the note that it begins. */
export interface VoiceNote {
  readonly strength: Unit;
  /** Frames until the note ends; Infinity for one that is held by a key. */
  readonly length: Frames;
  /** Which of the copies in unison it is: 0 for the first, or the only one. */
  readonly copy: number;
  /** How many frames ago it began: 0, unless somebody jumped into the middle of it. */
  readonly age: Frames;
  /** Chance of its own, the same on every replay. */
  readonly random: Random;
}

/** Where a part's sound goes: two channels of a run of frames, which the source of a part of one channel leaves alike. */
export interface VoiceBuffers {
  readonly left: Float64Array;
  readonly right: Float64Array;
  /** By how much its phase is moved, in periods; undefined where nothing moves it. */
  readonly phase: Float64Array | undefined;
}

/** What makes the sound of one part in one voice; envelope, filter and level come behind it. It allocates nothing while it renders. */
export interface PartSource<V extends ParameterValues = ParameterValues> {
  /** Begins a note, from nothing. */
  start(note: VoiceNote, values: V, frequency: Hertz): void;
  /** Begins another note without having fallen silent; what only swings on needs nothing for it. */
  startAgain?(note: VoiceNote): void;
  /** Takes over values and the frequency that it is to have after `frames` frames; where nothing moves it, only unless it is `restless`. */
  aim(values: V, frequency: Hertz, frames: Frames): void;
  /** Fills `buffers` from one frame to another; of one channel, only `left`. */
  render(buffers: VoiceBuffers, from: Frames, to: Frames): void;
  /** True for what goes its way along the note by itself. */
  readonly restless?: boolean;
  /** True when nothing will be heard of it any more, whatever its envelope is at; for what dies away by itself. */
  readonly silent?: boolean;
}

export interface SourceContext<V extends ParameterValues = ParameterValues> {
  readonly sampleRate: Hertz;
  /** The values to begin with; what is marked `builds` stays as it is in them. */
  readonly values: V;
  /** Recordings that the part plays, by the parameters that chose them; what is not chosen or not there is missing. */
  readonly recordings: Readonly<Record<string, Audio>>;
}

/** A way in which a part swings that can be drawn as a line. */
export interface RingingLine {
  readonly frequency: Hertz;
  readonly gain: Ratio;
  /** A fall by 60 dB. */
  readonly decay: Seconds;
}

/** A kind of part: what is its own besides what all parts have. */
export interface PartDefinition<S extends ParameterSet = ParameterSet> {
  readonly id: string;
  readonly label: string;
  readonly purpose: string;
  /** Its own parameters; see `common-parameters.ts` for those of all parts. */
  readonly own: S;
  /** Values that differ from the defaults in a new one. */
  readonly first?: ParameterValues;
  /** True when other parts can move its phase. */
  readonly modulated?: boolean;
  /** How many channels its source gives. */
  channels(values: ValuesOf<S & typeof commonParameters>): 1 | 2;
  /** The modes of what rings at a frequency, for its picture. */
  modes?(values: ValuesOf<S & typeof commonParameters>, frequency: Hertz): readonly RingingLine[];
  createSource(context: SourceContext<ValuesOf<S & typeof commonParameters>>): PartSource<ValuesOf<S & typeof commonParameters>>;
}

/** A kind of part with all of its parameters. */
export interface PartKind extends EffectDescription {
  readonly first: ParameterValues;
  readonly modulated: boolean;
  channels(values: ParameterValues): 1 | 2;
  modes?(values: ParameterValues, frequency: Hertz): readonly RingingLine[];
  createSource(context: SourceContext): PartSource;
}
