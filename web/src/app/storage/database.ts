import type { Table } from 'dexie';
import Dexie from 'dexie';

/** A project as it lies in the database: its document and its history are checked when they are read. */
export interface StoredProject {
  readonly id: string;
  readonly name: string;
  readonly changed: number;
  readonly document: unknown;
  readonly past: unknown;
  readonly future: unknown;
}

/** Who put something in, and when: as long as their projects may not be written yet, nobody else clears it away. */
export interface Held {
  /** Milliseconds since 1970; missing in what is older than this mark. */
  readonly stored?: number;
  /** Marks of the tabs that stored it. */
  readonly holders?: readonly string[];
}

/** A WAV file by its SHA-256. A Blob, because one ArrayBuffer value is capped near 133 MB. */
export interface StoredAudio extends Held {
  readonly hash: string;
  readonly wav: Blob;
}

/** A video by its SHA-256. */
export interface StoredPicture extends Held {
  readonly hash: string;
  readonly video: Blob;
}

/** How a picture moves: may be dropped at any time and is then watched anew. Not in the picture's own row, which would be written with its video again. */
export interface StoredMotion {
  readonly hash: string;
  /** Rises when pictures are measured otherwise; older entries are made anew. */
  readonly version: number;
  readonly motion: unknown;
}

/** What was derived from a recording: may be dropped at any time and is then made anew. */
export interface StoredDerived {
  readonly hash: string;
  /** Rises when derived data changes its meaning; older entries are made anew. */
  readonly version: number;
  readonly overview: unknown;
  readonly facts: unknown;
}

/** What a stretched clip plays: may be dropped at any time and is then made anew. */
export interface StoredTreated {
  /** Hash of all that decides how it sounds. */
  readonly key: string;
  /** When it was needed last, in milliseconds since 1970. */
  readonly used: number;
  readonly sampleRate: number;
  readonly channels: number;
  /** Samples in single precision, channel after channel. */
  readonly samples: Blob;
}

/** What is kept of a project outside this browser. */
export interface StoredCopy {
  readonly project: string;
  /** The folder of the disk that it is written to as well. */
  readonly folder?: FileSystemDirectoryHandle;
  /** When it was written there last, in milliseconds since 1970. */
  readonly written?: number;
  /** When it was first changed since somebody took it out of this browser, in milliseconds since 1970. */
  readonly changedSince?: number;
}

export class ChoirDatabase extends Dexie {
  readonly projects!: Table<StoredProject, string>;
  readonly audio!: Table<StoredAudio, string>;
  readonly derived!: Table<StoredDerived, string>;
  readonly pictures!: Table<StoredPicture, string>;
  readonly motions!: Table<StoredMotion, string>;
  readonly treated!: Table<StoredTreated, string>;
  readonly copies!: Table<StoredCopy, string>;

  constructor(name = 'tangled-choir') {
    super(name);
    this.version(1).stores({ projects: 'id, changed', audio: 'hash' });
    this.version(2).stores({ derived: 'hash', pictures: 'hash' });
    this.version(3).stores({ treated: 'key, used' });
    this.version(4).stores({ copies: 'project' });
    this.version(5).stores({ motions: 'hash' });
  }
}
