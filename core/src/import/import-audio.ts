import { OverviewMeter } from '../audio/overview';
import type { Overview } from '../audio/overview';
import { RateConverter } from '../audio/rate-converter';
import type { ByteSource } from '../formats/byte-source';
import { hashSource } from '../formats/hash';
import type { WavLayout } from '../formats/wav/wav-write';
import { encodeSamples, frameBytes, wavFrame } from '../formats/wav/wav-write';
import type { NewSource } from '../project/edits';
import { DataError } from '../project/parse';
import type { Encoding } from '../project/schema';
import type { Frames, Hertz, Seconds, Unit } from '../units';
import type { AudioStream } from './audio-stream';

/** A sound file made ready for a project. */
export interface ImportedSource {
  readonly source: NewSource;
  readonly overview: Overview;
  readonly notes: readonly string[];
}

/** Where the WAV file that the project keeps comes into being. */
export interface ImportTarget {
  /** Takes the next bytes of the samples. */
  write(bytes: Uint8Array<ArrayBuffer>): void;
  /** The whole file: a head, the samples that were written, or a part of the imported file in their place, and a tail. */
  finish(
    head: Uint8Array<ArrayBuffer>,
    samples: 'written' | { readonly from: number; readonly to: number },
    tail: Uint8Array<ArrayBuffer>,
  ): ByteSource;
}

export interface ImportOptions {
  readonly sampleRate: Hertz;
  /** Columns of the overview, about. */
  readonly columns?: number;
  /** Called with the finished share; false stops the import. */
  readonly progress?: (share: Unit) => boolean;
  /** Called now and then with what can be seen by now: the overview of the whole, of which the first columns are there; and its length. */
  readonly show?: (overview: Overview, seconds: Seconds) => void;
}

/** The largest file that is kept; beyond it browsers refuse a single value. */
const mostBytes = 6 * 2 ** 30;
/** How much of the work is done once all samples are read; hashing is the rest. */
const readShare = 0.7;
/** How often progress is told and what can be seen is shown, as shares of the work and of the file. */
const tellEvery = 0.005;
const showEvery = 0.04;

/**
 * Makes a source of a file's samples, piece by piece: converted to the project's rate, kept as a plain WAV with as many bits as the samples
 * need, so that files at the project's rate keep every sample as it was. Folders become tags; what the file says of itself becomes notes,
 * cues, a loop. Rejects with DataError when the file is damaged, without samples or far too long, or when `progress` stops it.
 * @param path the file's name, with the folders it lay in
 */
export async function importAudio(
  stream: AudioStream,
  path: string,
  target: ImportTarget,
  options: ImportOptions,
): Promise<ImportedSource> {
  const { sampleRate, show } = options;
  const progress = new ImportProgress(path, options.progress);
  const samples = new KeptSamples(stream, path, target, options);
  // What is taken as it is can be hashed while it is looked at.
  const early = samples.taken === undefined ? undefined : samples.hash(samples.taken, progress);
  early?.catch(() => undefined);
  let read: Frames = 0;
  let shown = -Infinity;
  for await (const piece of stream.pieces()) {
    samples.push(piece);
    read += piece[0]?.length ?? 0;
    const share = Math.min(1, read / Math.max(1, stream.expectedFrames));
    progress.tell({ read: share });
    if (share < 1 && share - shown < showEvery) continue;
    shown = share;
    if (!show) continue;
    const seconds = Math.max(read, stream.expectedFrames) / stream.sampleRate;
    show({ ...samples.overview, frames: Math.max(samples.frames, Math.round(seconds * sampleRate)) }, seconds);
  }
  samples.finish();
  const { frames } = samples;
  if (frames === 0) throw new DataError(`“${path}” holds no samples.`);
  progress.tell({ read: 1 });
  const audio = await (early ?? samples.hash(frames, progress));
  const notes = [...stream.notes()];
  if (stream.sampleRate !== sampleRate) notes.push(`Converted from ${stream.sampleRate} to ${sampleRate} Hz.`);
  if (stream.channelCount > 2) notes.push(tellFoldDown(stream.channelCount));
  return { source: describeSource(stream, path, { audio, frames, sampleRate }), overview: samples.overview, notes };
}

/** Tells how far an import is, now and then, and ends it when it is told to stop. */
class ImportProgress {
  private readonly done = { read: 0, hashed: 0 };
  private told = -Infinity;

  constructor(
    private readonly path: string,
    private readonly progress: ImportOptions['progress'],
  ) {}

  tell(part: Partial<ImportProgress['done']>): void {
    Object.assign(this.done, part);
    const share = readShare * this.done.read + (1 - readShare) * this.done.hashed;
    if (!this.progress || (share < 1 && share - this.told < tellEvery)) return;
    this.told = share;
    if (!this.progress(share)) throw new DataError(`“${this.path}” was not imported: it was cancelled.`);
  }
}

/** The samples of a file on their way into the project: at its rate, encoded and written, unless the file's own bytes are taken. */
class KeptSamples {
  frames: Frames = 0;
  /** Frames of the file whose bytes are taken as they are. */
  readonly taken: Frames | undefined;
  private readonly same: AudioStream['sameBytes'];
  private readonly shape: Omit<WavLayout, 'frames'>;
  private readonly converter: RateConverter | undefined;
  private readonly meter: OverviewMeter;

  constructor(
    stream: AudioStream,
    private readonly path: string,
    private readonly target: ImportTarget,
    { sampleRate, columns }: ImportOptions,
  ) {
    const { channelCount } = stream;
    const unchanged = stream.sampleRate === sampleRate;
    this.same = unchanged ? stream.sameBytes : undefined;
    this.shape = { sampleRate, channelCount, encoding: unchanged ? leastEncoding(stream.encoding) : '32f' };
    this.taken = this.same && (this.same.to - this.same.from) / frameBytes(this.shape);
    this.converter = unchanged ? undefined : new RateConverter(stream.sampleRate, sampleRate, channelCount);
    this.meter = new OverviewMeter(Math.round((stream.expectedFrames * sampleRate) / stream.sampleRate), columns);
  }

  get overview(): Overview {
    return this.meter.overview;
  }

  push(piece: readonly Float32Array[]): void {
    this.keep(this.converter ? this.converter.push(piece) : piece);
  }

  finish(): void {
    if (this.converter) this.keep(this.converter.finish());
  }

  /** Puts the file together and hashes it. */
  hash(frames: Frames, progress: ImportProgress): Promise<string> {
    const { head, tail } = wavFrame({ ...this.shape, frames });
    return hashSource(this.target.finish(head, this.same ?? 'written', tail), (hashed) => progress.tell({ hashed }));
  }

  private keep(channels: readonly Float32Array[]): void {
    const count = channels[0]?.length ?? 0;
    if (count === 0) return;
    this.frames += count;
    if (this.frames * frameBytes(this.shape) > mostBytes)
      throw new DataError(`“${this.path}” would take more than ${mostBytes / 2 ** 30} GB in the project; cut it into parts first.`);
    this.meter.process(channels);
    if (this.same) return;
    const bytes = new Uint8Array(count * frameBytes(this.shape));
    encodeSamples(channels, this.shape.encoding, bytes);
    this.target.write(bytes);
  }
}

/** What becomes of more than two channels in a sound that has two (see `toStereo`). */
function tellFoldDown(channels: number): string {
  const left = channels >= 6 ? '; the fourth, for low-frequency effects, is left out' : '';
  return `Its ${channels} channels stay as they are; in sounds of two channels they are folded down to left and right (ITU-R BS.775)${left}.`;
}

function describeSource(
  stream: AudioStream,
  path: string,
  { audio, frames, sampleRate }: { audio: string; frames: Frames; sampleRate: Hertz },
): NewSource {
  const { details } = stream;
  const seconds = frames / sampleRate;
  const toSeconds = (frame: number): Seconds => frame / stream.sampleRate;
  const cues = details.cues.map(({ name, frame }) => ({ name: name.slice(0, 300) || 'Cue', time: toSeconds(frame) }));
  return {
    kind: 'recording',
    name: sourceName(path),
    audio,
    frames,
    channels: stream.channelCount,
    tags: folderTags(path),
    notes: details.description ?? '',
    regions: [],
    cues: cues.filter(({ time }) => time <= seconds),
    ...(details.loop && toSeconds(details.loop.to) <= seconds + 0.001
      ? { loop: { from: toSeconds(details.loop.from), to: Math.min(seconds, toSeconds(details.loop.to)) } }
      : {}),
    origin: {
      file: path.slice(0, 1_000),
      sampleRate: stream.sampleRate,
      encoding: stream.encoding.slice(0, 60),
      ...(details.date && { date: details.date }),
      ...(details.recordist && { recordist: details.recordist }),
    },
  };
}

function leastEncoding(encoding: string): Encoding {
  return encoding === '8 bit' || encoding === '16 bit' ? '16' : encoding === '24 bit' ? '24' : '32f';
}

/** A readable name out of a file name: no ending, dashes and underscores become blanks. */
function sourceName(path: string): string {
  const bare = path
    .replace(/^.*[\\/]/, '')
    .replace(/\.[A-Za-z0-9]{1,5}$/, '')
    .replace(/[_-]+/g, ' ')
    .trim();
  return bare.slice(0, 300) || 'Unnamed';
}

/** The folders of a path, as tags. */
function folderTags(path: string): string[] {
  const folders = path.split(/[\\/]/).slice(0, -1);
  return [...new Set(folders.map((folder) => folder.replace(/[_-]+/g, ' ').trim().toLowerCase().slice(0, 60)).filter(Boolean))].slice(
    0,
    20,
  );
}
