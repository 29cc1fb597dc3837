import type { BandRegion, ChangeReading, Decibels, EffectStep, Frames, HeldNote, Seating } from '@tangled-choir/core';
import type { FrameRange, SharedAudio } from '@tangled-choir/jobs';
import type { LevelReading } from './live/output-levels';
import type { SoundChanges } from './live/sound-changes';
import type { RenderableSound } from './renderable-sound';

/** What page, engine and worklet say to each other. */

/** Of what one step does, all that is heard: what it changes, or what goes into it within a band. */
export interface HeardAlone {
  readonly step: string;
  readonly what: 'change' | BandRegion;
}

/** The chain that the page shows, the step whose spectra it draws, and what is heard alone. */
export interface ChainOfInterest {
  readonly chain: readonly EffectStep[];
  readonly open: string | undefined;
  readonly alone: HeardAlone | undefined;
}

export type EngineMessage =
  | {
      readonly type: 'connect';
      readonly sampleRate: number;
      readonly samples: Float32Array;
      readonly control: Int32Array;
      /** To the worklet, where the ring cannot be shared with it. */
      readonly port?: MessagePort;
    }
  | ({ readonly type: 'sound' } & RenderableSound)
  /** Takes a recording to be played from the beginning of a part on, or of the whole. */
  | { readonly type: 'audition'; readonly audio: SharedAudio; readonly part: FrameRange | undefined }
  /**
   * Plays; a sound more slowly if asked, its pitch kept, and at least up to `until`; `hands`, without an end, only what is played by hand on the sound
   * as it stands at a moment.
   */
  | {
      readonly type: 'play';
      readonly what: 'sound' | 'audition' | 'hands';
      readonly position: Frames;
      readonly speed: number;
      readonly until: Frames;
    }
  | { readonly type: 'stop' }
  | { readonly type: 'seek'; readonly position: Frames }
  | { readonly type: 'loop'; readonly loop: { readonly from: Frames; readonly to: Frames } | undefined }
  /** Listens at a chain: change meters at all its steps, spectra at the open one, and only a part of what one step does if wanted. */
  | ({ readonly type: 'tap' } & ChainOfInterest)
  /** Plays another version beside the sound; `other` is missing when nothing is compared. */
  | { readonly type: 'compare'; readonly other: RenderableSound | undefined }
  /** Measures the seating while the sound plays. */
  | { readonly type: 'seating'; readonly on: boolean }
  /** Measures what is heard, as the meters show it. */
  | { readonly type: 'output'; readonly on: boolean }
  | { readonly type: 'hear'; readonly which: 'A' | 'B' }
  /** Somebody plays by hand, or ends it: what is pressed is to be heard sooner than edits must be. */
  | { readonly type: 'hands'; readonly on: boolean }
  | { readonly type: 'strike'; readonly layer: string; readonly note: HeldNote }
  | { readonly type: 'letGo'; readonly layer: string; readonly key: string };

/** Messages as they travel: of the sound only what changed. */
export type PostedMessage =
  Exclude<EngineMessage, { readonly type: 'sound' }> | { readonly type: 'changes'; readonly changes: SoundChanges };

/** What the meters show of all that is heard since it plays; levels at `spectrumPoints` frequencies. */
export interface OutputReading {
  readonly spectrum: Float32Array;
  readonly average: Float32Array | undefined;
  readonly peak: Float32Array | undefined;
  /** Energy by direction, see `StereoField`. */
  readonly field: Float32Array | undefined;
  /** Loudness range in LU. */
  readonly range: number;
}

export interface EngineMeters extends LevelReading {
  readonly before: Float32Array | undefined;
  readonly after: Float32Array | undefined;
  readonly gainReductions: ReadonlyMap<string, Decibels>;
  /** How far every follower has gone, 0 to 1. */
  readonly followers: ReadonlyMap<string, number>;
  /** How much each step of the chain that is listened at changes the sound. */
  readonly changes: ReadonlyMap<string, ChangeReading>;
  readonly seating: Seating | undefined;
  readonly output: OutputReading | undefined;
  /** Share of real time that computing takes, by whose chain it is: `layer/<id>`, `bus/<id>`, `sound`. */
  readonly loads: ReadonlyMap<string, number>;
  /** What B of a comparison is turned up or down by. */
  readonly matchedGain: Decibels | undefined;
}

export type EngineReport =
  /** Frame `index` of the stream is position `position` on the time axis; from there on it goes on at `speed`. */
  | { readonly type: 'anchor'; readonly index: number; readonly position: Frames; readonly speed: number }
  | { readonly type: 'end'; readonly index: number }
  | { readonly type: 'meters'; readonly meters: EngineMeters }
  | { readonly type: 'failed'; readonly message: string };

/** Seconds of content of a clip that the engine treats by itself, at once; what is longer is made as a job, and silent until it is there. */
export const engineTreats = 5;

/** Points of the live spectrum and the band they span. */
export const spectrumPoints = 160;
export const spectrumLow = 20;
export const spectrumHigh = 20_000;
