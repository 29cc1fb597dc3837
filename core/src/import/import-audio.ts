import { OverviewMeter } from '../audio/overview';
import type { Overview } from '../audio/overview';
import { RateConverter } from '../audio/rate-converter';
import type { ByteSource } from '../formats/byte-source';
import { hashSource } from '../formats/hash';
import { encodeSamples, frameBytes, wavFrame } from '../formats/wav-write';
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
  const { sampleRate, progress, show } = options;
  const unchanged = stream.sampleRate === sampleRate;
  const encoding = unchanged ? leastEncoding(stream.encoding) : '32f';
  const same = unchanged ? stream.sameBytes : undefined;
  const shape = { sampleRate, channelCount: stream.channelCount, encoding };
  const converter = unchanged ? undefined : new RateConverter(stream.sampleRate, sampleRate, stream.channelCount);
  const meter = new OverviewMeter(Math.round((stream.expectedFrames * sampleRate) / stream.sampleRate), options.columns);
  const done = { read: 0, hashed: 0 };
  let told = -Infinity;
  const go = (part: Partial<typeof done>): void => {
    Object.assign(done, part);
    const share = readShare * done.read + (1 - readShare) * done.hashed;
    if (!progress || (share < 1 && share - told < tellEvery)) return;
    told = share;
    if (!progress(share)) throw new DataError(`“${path}” was not imported: it was cancelled.`);
  };
  const hashFile = (count: Frames): Promise<string> => {
    const { head, tail } = wavFrame({ ...shape, frames: count });
    return hashSource(target.finish(head, same ?? 'written', tail), (hashed) => go({ hashed }));
  };
  // What is taken as it is can be hashed while it is looked at.
  const early = same && hashFile((same.to - same.from) / frameBytes(shape));
  early?.catch(() => undefined);
  let frames: Frames = 0;
  const take = (channels: readonly Float32Array[]): void => {
    const count = channels[0]?.length ?? 0;
    if (count === 0) return;
    frames += count;
    if (frames * frameBytes(shape) > mostBytes)
      throw new DataError(`“${path}” would take more than ${mostBytes / 2 ** 30} GB in the project; cut it into parts first.`);
    meter.process(channels);
    if (same) return;
    const bytes = new Uint8Array(count * frameBytes(shape));
    encodeSamples(channels, encoding, bytes);
    target.write(bytes);
  };
  let read: Frames = 0;
  let shown = -Infinity;
  for await (const piece of stream.pieces()) {
    take(converter ? converter.push(piece) : piece);
    read += piece[0]?.length ?? 0;
    const share = Math.min(1, read / Math.max(1, stream.expectedFrames));
    go({ read: share });
    if (share < 1 && share - shown < showEvery) continue;
    shown = share;
    if (!show) continue;
    const seconds = Math.max(read, stream.expectedFrames) / stream.sampleRate;
    show({ ...meter.overview, frames: Math.max(frames, Math.round(seconds * sampleRate)) }, seconds);
  }
  if (converter) take(converter.finish());
  if (frames === 0) throw new DataError(`“${path}” holds no samples.`);
  go({ read: 1 });
  const audio = await (early ?? hashFile(frames));
  const notes = [...stream.notes()];
  if (!unchanged) notes.push(`Converted from ${stream.sampleRate} to ${sampleRate} Hz.`);
  return { source: describeSource(stream, path, { audio, frames, sampleRate }), overview: meter.overview, notes };
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
