import type {
  Archive,
  BandRegion,
  ChangeReading,
  MotionTrack,
  ChannelChoice,
  CutPart,
  Decibels,
  EffectStep,
  DeliveryItem,
  Finding,
  Frames,
  FrozenLayer,
  HandOff,
  LandingPoints,
  LoopProposal,
  LoopTracks,
  LoopWishes,
  ManifestFile,
  Measurement,
  Moment,
  NewSource,
  Overview,
  Picture,
  Project,
  RecordingFacts,
  Sound,
  SoundingPart,
  SeamlessLoop,
  SeamReport,
  Seating,
  Source,
  Spectrogram,
  SpectrogramShape,
} from '@tangled-choir/core';

import type { Movie } from './make-movie';
import type { FrameRange } from './recording-parts';
import type { SoundChanges } from './live/sound-changes';

/** What page, workers and worklet say to each other. */

/** Sampled audio as it travels: planar, in shared memory where the page is isolated. */
export interface SharedAudio {
  readonly sampleRate: number;
  readonly channels: readonly Float32Array[];
}

/** A rendered sound with its waveform, measured. */
export interface MeasuredAudio {
  readonly audio: SharedAudio;
  readonly overview: Overview;
  readonly measured: Measurement;
}

export type AudioByHash = ReadonlyMap<string, SharedAudio>;

/** A sound with all that is needed to render it. */
export interface RenderableSound {
  readonly sound: Sound;
  readonly sampleRate: number;
  readonly identities: ReadonlyMap<string, string>;
  readonly audio: AudioByHash;
  /** Layers that are played as they were rendered, by id. */
  readonly frozen?: ReadonlyMap<string, FrozenLayer>;
  /** What the sound has to leave room for: it is seated with the layers, and not heard. */
  readonly reference?: { readonly hash: string; readonly audio: SharedAudio };
}

/** A source made ready, with the file that keeps it. */
export interface StoredSource {
  readonly source: NewSource;
  readonly wav: Blob;
  readonly overview: Overview;
}

/** A file made ready as a source, and what was not quite right with it. */
export type ImportedFile = StoredSource & { readonly notes: readonly string[] };

/** What there is to see of a recording while it is still being imported. */
export interface ImportPreview {
  readonly overview: Overview;
  readonly seconds: number;
}

/** A recording of the database, read where it is needed, and what it is called in complaints. */
export interface StoredRecording {
  readonly name: string;
  readonly wav: Blob;
}

export type JobRequest =
  | { readonly kind: 'import'; readonly fileName: string; readonly file: Blob; readonly sampleRate: number }
  /** Makes a source of a file that only the browser itself could decode. */
  | { readonly kind: 'import decoded'; readonly fileName: string; readonly audio: SharedAudio }
  /** Makes a source of what a microphone recorded. */
  | {
      readonly kind: 'take';
      readonly audio: SharedAudio;
      readonly name: string;
      readonly date: string;
      readonly droppedFrames: number;
      readonly sampleRate: number;
    }
  /**
   * Reads ranges of a recording, or all of it, into memory of its full length: into `into`, or where that is missing into new memory, that is
   * shared where it can be.
   */
  | ({
      readonly kind: 'read';
      readonly ranges: 'all' | readonly FrameRange[];
      readonly into: SharedAudio | undefined;
    } & StoredRecording)
  | ({ readonly kind: 'overview' } & StoredRecording)
  | ({ readonly kind: 'describe' } & StoredRecording)
  | ({ readonly kind: 'spectrogram'; readonly shape: SpectrogramShape } & StoredRecording)
  /** Finds where the part of a recording that a clip shows can land; `from` and `to` in seconds. */
  | { readonly kind: 'landing'; readonly audio: SharedAudio; readonly from: number; readonly to: number }
  | ({ readonly kind: 'render' } & RenderableSound)
  /** How the layers of a stretch of the sound sit together; `range` in seconds. */
  | ({ readonly kind: 'seating'; readonly range: { readonly from: number; readonly to: number } } & RenderableSound)
  /** Renders what a layer gives in front of its fader, by its recipe. */
  | ({ readonly kind: 'freeze' } & RenderableSound)
  /** What brings a sound to the long-term spectrum of a recording: levels in dB at frequencies. */
  | ({ readonly kind: 'match'; readonly frequencies: readonly number[] } & StoredRecording & RenderableSound)
  /** The mean spectrum of a recording at the points of the live one; none for silence. */
  | ({ readonly kind: 'spectrum' } & StoredRecording)
  /** The picture with the sound as it is, in one file. */
  | ({ readonly kind: 'movie'; readonly video: Blob; readonly picture: Picture } & RenderableSound)
  | {
      readonly kind: 'deliver';
      readonly item: DeliveryItem;
      readonly settings: HandOff;
      readonly project: Project;
      readonly audio: AudioByHash;
      readonly moment: Moment;
      readonly write: boolean;
    }
  | {
      readonly kind: 'pack';
      readonly project: Project;
      readonly audio: ReadonlyMap<string, Blob>;
      readonly pictures: ReadonlyMap<string, Blob>;
    }
  | { readonly kind: 'unpack'; readonly name: string; readonly file: Blob }
  /** How a picture moves, frame by frame. */
  | { readonly kind: 'motion'; readonly video: Blob; readonly name: string }
  | { readonly kind: 'hash'; readonly bytes: Uint8Array<ArrayBuffer> }
  /** The parts of a recording between silences or from transient to transient. */
  | ({ readonly kind: 'parts'; readonly at: 'silences' | 'transients' } & StoredRecording)
  /** How a recording drifts, and its parts that would loop best; `from` and `to` bound the search, in seconds. */
  | ({ readonly kind: 'propose loops'; readonly from: number; readonly to: number; readonly wishes: LoopWishes } & StoredRecording)
  /** Makes a seamless loop of a part of a source and measures its seam. */
  | ({
      readonly kind: 'loop';
      readonly source: Source;
      readonly part: { readonly from: number; readonly to: number; readonly crossfade: number };
    } & StoredRecording)
  /** Renders recipes into sources: each on its own, or end to end as one. */
  | ({
      readonly kind: 'print';
      readonly recipes: readonly Sound[];
      readonly names: readonly string[];
      readonly part: string;
      readonly sources: readonly Source[];
      /** Seconds between takes that lie end to end in one source. */
      readonly endToEnd: number | undefined;
      /** Only this stretch of the time axis. */
      readonly range: { readonly from: number; readonly to: number } | undefined;
    } & Omit<RenderableSound, 'sound'>)
  /** The sound files in a zip, by their paths. */
  | { readonly kind: 'unzip'; readonly name: string; readonly file: Blob }
  /** Cuts parts out of a recording, or makes it mono, as sources of their own. */
  | ({
      readonly kind: 'cut';
      readonly source: Source;
      readonly parts: readonly CutPart[];
      readonly channel: ChannelChoice;
    } & StoredRecording)
  | { readonly kind: 'zip'; readonly files: Readonly<Record<string, Uint8Array>> };

/** A seamless loop made ready as a source. */
export interface StoredLoop extends StoredSource {
  readonly audio: SharedAudio;
  readonly join: SeamlessLoop['join'];
  readonly report: SeamReport;
}

/** A printed source made ready, and where on the time axis it begins. */
export type StoredPrint = StoredSource & { readonly start: number };

export interface JobResults {
  import: ImportedFile;
  'import decoded': ImportedFile;
  take: ImportedFile;
  read: SharedAudio;
  overview: Overview;
  describe: RecordingFacts;
  spectrogram: Spectrogram;
  landing: LandingPoints;
  render: MeasuredAudio;
  seating: Seating;
  freeze: FrozenLayer;
  match: readonly number[];
  spectrum: { readonly levels: Float32Array | undefined };
  movie: Movie;
  deliver: {
    readonly wav: Uint8Array<ArrayBuffer> | undefined;
    readonly entry: ManifestFile | undefined;
    readonly findings: readonly Finding[];
    readonly measured: Measurement;
  };
  pack: Blob;
  unpack: Archive<Blob>;
  motion: MotionTrack;
  hash: { readonly hash: string };
  parts: readonly SoundingPart[];
  'propose loops': { readonly tracks: LoopTracks; readonly proposals: readonly LoopProposal[] };
  loop: StoredLoop;
  print: readonly StoredPrint[];
  unzip: ReadonlyMap<string, Blob>;
  cut: readonly StoredSource[];
  zip: Uint8Array<ArrayBuffer>;
}

export type JobKind = JobRequest['kind'];

export interface JobMessage {
  readonly id: number;
  readonly request: JobRequest;
  /** Shared flag that turns 1 when the job is no longer wanted. */
  readonly cancel: Int32Array | undefined;
}

export type JobAnswer =
  | { readonly id: number; readonly type: 'progress'; readonly share: number }
  | { readonly id: number; readonly type: 'preview'; readonly preview: ImportPreview }
  | { readonly id: number; readonly type: 'done'; readonly result: JobResults[JobKind] }
  | { readonly id: number; readonly type: 'failed'; readonly message: string; readonly why: FailureKind };

/** Why a job failed: a format that is not known, anything else a person can do something about, or a fault of ours. */
export type FailureKind = 'unknown format' | 'refused' | 'fault';

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
  | { readonly type: 'connect'; readonly sampleRate: number; readonly samples: Float32Array; readonly control: Int32Array }
  | ({ readonly type: 'sound' } & RenderableSound)
  /** Takes a recording to be played from the beginning of a part on, or of the whole. */
  | { readonly type: 'audition'; readonly audio: SharedAudio; readonly part: FrameRange | undefined }
  /** Plays; a sound more slowly if asked, its pitch kept, and at least up to `until`. */
  | {
      readonly type: 'play';
      readonly what: 'sound' | 'audition';
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
  | { readonly type: 'hear'; readonly which: 'A' | 'B' };

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

export interface EngineMeters {
  readonly momentary: Decibels;
  readonly shortTerm: Decibels;
  readonly integrated: Decibels;
  readonly truePeak: Decibels;
  readonly before: Float32Array | undefined;
  readonly after: Float32Array | undefined;
  readonly gainReductions: ReadonlyMap<string, Decibels>;
  /** How far every follower has gone, 0 to 1. */
  readonly followers: ReadonlyMap<string, number>;
  /** How much each step of the chain that is listened at changes the sound. */
  readonly changes: ReadonlyMap<string, ChangeReading>;
  readonly seating: Seating | undefined;
  readonly output: OutputReading | undefined;
  /** What left and right have in common; nothing while one of them is silent. */
  readonly correlation: number | undefined;
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

/** Points of the live spectrum and the band they span. */
export const spectrumPoints = 160;
export const spectrumLow = 20;
export const spectrumHigh = 20_000;
