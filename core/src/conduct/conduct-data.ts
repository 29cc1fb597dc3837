import type { Decibels, Frames, Hertz, Seconds, Semitones, Unit } from '../units';

/**
 * Everything that decides what is played in a game, and when: plain data, as it lies in `conduct.json`. Behaviours are a tree: each but the roots names its
 * parent, and those of one parent are in the order of this list.
 */
export interface ConductData {
  readonly seed: number;
  /** Frames are counted at this rate. */
  readonly sampleRate: Hertz;
  /** How many voices may sound at once. */
  readonly voices: number;
  readonly parameters: readonly GameParameter[];
  readonly buses: readonly GameBus[];
  readonly moods: readonly Mood[];
  readonly groups: readonly LoadGroup[];
  readonly behaviours: readonly Behaviour[];
  /** What can be played of each sound, by the sound's id. */
  readonly takes: Readonly<Record<string, Takes>>;
}

export interface Takes {
  /** The sound as it stands; left out where nothing plays it so. */
  readonly original?: Take | undefined;
  /** The siblings that are played. */
  readonly family: readonly Take[];
}

export interface Take {
  readonly asset: string;
  readonly frames: Frames;
  /** The first frame that is played again and again, and the one behind the last. */
  readonly loop?: { readonly from: Frames; readonly to: Frames } | undefined;
}

/** A number that the game sets: how strong the wind is, what is underfoot. */
export interface GameParameter {
  readonly id: string;
  readonly name: string;
  readonly low: number;
  readonly high: number;
  readonly start: number;
  /** How long it takes to go two thirds of the way to a newly set value. */
  readonly smoothing: Seconds;
}

export interface GameBus {
  readonly id: string;
  readonly name: string;
  readonly gain: Decibels;
  readonly muted: boolean;
  /** The bus that it goes into: what that one does, it does with all of this. */
  readonly into?: string | undefined;
  /** Two poles each; at 20 Hz and 20 kHz they are open. */
  readonly lowCut: Hertz;
  readonly highCut: Hertz;
  /** The room around all that goes through it. */
  readonly room?: Room | undefined;
  /** Comes behind the cuts and the room. */
  readonly compressor?: BusCompressor | undefined;
  /** While anything sounds on another bus, this one goes down. */
  readonly duck?: { readonly under: string; readonly depth: Decibels; readonly attack: Seconds; readonly release: Seconds } | undefined;
}

export interface Room {
  /** How long it takes to fall by 60 dB. */
  readonly decay: Seconds;
  /** The same at 5 kHz, as a part of it. */
  readonly high: Unit;
  /** How far its walls are apart: 1 is some 15 m. */
  readonly size: number;
  /** How much of the power of what has no place is heard by the room alone. */
  readonly share: Unit;
}

/** Turns down what passes a threshold. */
export interface BusCompressor {
  readonly threshold: Decibels;
  /** How many decibels more of what comes in make one more of what comes out. */
  readonly ratio: number;
  readonly attack: Seconds;
  readonly release: Seconds;
  /** Of all that comes out. */
  readonly gain: Decibels;
}

/** Levels of buses that are called together; they are added to what the buses have of their own. */
export interface Mood {
  readonly id: string;
  readonly name: string;
  readonly fade: Seconds;
  readonly levels: Readonly<Record<string, Decibels>>;
}

/** Behaviours that are in memory together, and how many bytes they may take. */
export interface LoadGroup {
  readonly id: string;
  readonly name: string;
  readonly budget: number;
}

export interface CurvePoint {
  readonly at: number;
  readonly value: number;
}

export type PulledProperty = 'gain' | 'pitch' | 'highCut' | 'chance' | 'rate';

/** A game parameter moves a property: by so much as its curve says, over the parameter's own values, in straight lines and flat beyond the ends. */
export interface GamePull {
  readonly parameter: string;
  /** dB, semitones and octaves are added; chance is a part from −1 to 1 that is added; a rate grows by octaves (1 is twice as often). */
  readonly property: PulledProperty;
  readonly points: readonly CurvePoint[];
}

/** How a behaviour is heard around the listener, in metres. */
export interface Distance {
  /** Up to here it is as loud as it is, or as its curve begins. */
  readonly inner: number;
  /** From here on it is not heard. */
  readonly outer: number;
  /** “inverse”: 6 dB per doubling; “even”: straight down in level; “slow”: late, and then steeply; “drawn”: as its curve says. */
  readonly law: 'inverse' | 'even' | 'slow' | 'drawn';
  /** Decibels over the way from the inner size (0) to the outer end (1). */
  readonly curve: readonly CurvePoint[];
  /** Above this, nothing is left at the outer end. */
  readonly highCut: Hertz;
  /** How far it goes to the sides. */
  readonly width: Unit;
  /** How much of the change of pitch is heard that moving brings about. */
  readonly doppler: Unit;
  /** How much of its power is heard by the room of its bus alone: within the inner size, and at the outer end. */
  readonly roomNear: Unit;
  readonly roomFar: Unit;
}

/** What a behaviour has by being a child of another: only what that kind of parent asks for counts. */
export interface Slot {
  /** In a Pick: how often, or how much of the parameter's range. */
  readonly weight: number;
  /** In a Stack: how much later than the first. */
  readonly offset: Seconds;
  /** In a Start–Hold–End, and in a Burst, whose first and last shot can be of their own. */
  readonly stage: Stage;
  /** In a Blend: its share of the power over the parameter's range, 0 to 1 both; without points each child has its turn. */
  readonly curve: readonly CurvePoint[];
}

export type Stage = 'start' | 'hold' | 'end';

/** What a behaviour does when it is called. */
export type Play =
  /** Plays a sound, or one of its siblings: all of them shuffled, never one of the last `avoid`. */
  | { readonly kind: 'one'; readonly sound: string; readonly from: 'original' | 'family'; readonly avoid: number; readonly loops: boolean }
  /** Plays one of its children. */
  | { readonly kind: 'pick'; readonly by: 'shuffle' | 'chance' | 'parameter'; readonly avoid: number; readonly parameter: string }
  /** Plays its children in order: one with each call, or all of them one after the other. */
  | { readonly kind: 'line'; readonly step: 'call' | 'through'; readonly gap: Seconds; readonly again: boolean }
  /** Plays a child again and again at a rate; `shots` 0 goes on until it is stopped. */
  | { readonly kind: 'burst'; readonly rate: Hertz; readonly uneven: Unit; readonly shots: number }
  /** Plays a child now and then, until it is stopped. */
  | { readonly kind: 'sprinkle'; readonly shortest: Seconds; readonly longest: Seconds }
  /** Plays all its children together. */
  | { readonly kind: 'stack' }
  /** Plays all its children, and crossfades them along a parameter. */
  | { readonly kind: 'blend'; readonly parameter: string }
  /** Plays a start, then holds until it is stopped, then plays an end. */
  | {
      readonly kind: 'hold';
      readonly stopInStart: 'finish' | 'cut';
      readonly leave: 'at once' | 'end of round';
      readonly release: Seconds;
    };

export type BehaviourKind = Play['kind'];

export interface Behaviour {
  readonly id: string;
  readonly name: string;
  readonly parent?: string | undefined;
  readonly play: Play;
  readonly gain: Decibels;
  readonly gainSpread: Decibels;
  readonly pitch: Semitones;
  readonly pitchSpread: Semitones;
  readonly highCut: Hertz;
  /** In octaves. */
  readonly highCutSpread: number;
  readonly delay: Seconds;
  readonly delaySpread: Seconds;
  readonly chance: Unit;
  readonly coolDown: Seconds;
  /** How many voices may sound of it at once, and which gives way to a new one. */
  readonly voices: number;
  readonly givesWay: 'oldest' | 'quietest' | 'newest';
  /** Where all voices are taken, those of the lowest priority give way. */
  readonly priority: number;
  readonly fadeIn: Seconds;
  readonly fadeOut: Seconds;
  readonly bus?: string | undefined;
  /** A mood that it calls when it is played. */
  readonly mood?: string | undefined;
  /** The load group of a root. */
  readonly group?: string | undefined;
  readonly slot: Slot;
  readonly pulls: readonly GamePull[];
  readonly distance?: Distance | undefined;
  /** Where it is unless the game says otherwise: metres east and north of the middle. */
  readonly place?: { readonly x: number; readonly y: number } | undefined;
}

/** Something that the game does. */
export type GameMove =
  | { readonly do: 'trigger'; readonly behaviour: string; readonly emitter?: string | undefined }
  | { readonly do: 'stop'; readonly behaviour: string; readonly emitter?: string | undefined }
  | { readonly do: 'set'; readonly parameter: string; readonly value: number }
  | { readonly do: 'mood'; readonly mood: string }
  /** `facing` in degrees from north, to the right. */
  | { readonly do: 'listener'; readonly x: number; readonly y: number; readonly facing: number }
  | { readonly do: 'emitter'; readonly emitter: string; readonly x: number; readonly y: number }
  /** An emitter goes along a way, or the listener where none is named, who looks where they go; until it is put somewhere. */
  | ({ readonly do: 'walk'; readonly emitter?: string | undefined } & Walk);

/** A way through some places, in straight lines, at metres a second. */
export interface Walk {
  readonly points: readonly Place[];
  readonly speed: number;
  /** Once, and stays at its end; round and round; or there and back, again and again. */
  readonly way: 'once' | 'round' | 'to and fro';
}

/** A place in metres: east and north of the middle. */
export interface Place {
  readonly x: number;
  readonly y: number;
}

/** How one voice is heard: plain factors, a cut in Hz, left −1 to right 1, and how much of its power is heard by the room of its bus alone. */
export interface Heard {
  readonly gain: number;
  readonly ratio: number;
  readonly highCut: Hertz;
  readonly pan: number;
  readonly room: Unit;
}

/** What comes of the moves, in the order of its frames. */
export type ConductEvent =
  | { readonly do: 'call'; readonly frame: Frames; readonly behaviour: string }
  | ({
      readonly do: 'play';
      readonly frame: Frames;
      readonly voice: number;
      readonly behaviour: string;
      readonly asset: string;
      readonly bus?: string | undefined;
      readonly loop?: { readonly from: Frames; readonly to: Frames } | undefined;
      readonly fadeIn: Frames;
    } & Heard)
  /** What is heard of a voice goes there in straight lines within the next tick. */
  | ({ readonly do: 'turn'; readonly frame: Frames; readonly voice: number } & Heard)
  | { readonly do: 'stop'; readonly frame: Frames; readonly voice: number; readonly fade: Frames }
  | { readonly do: 'end'; readonly frame: Frames; readonly voice: number }
  | { readonly do: 'skip'; readonly frame: Frames; readonly behaviour: string; readonly why: WhySkipped };

export type WhySkipped = 'chance' | 'cooling down' | 'no voice free' | 'nothing to play';
