import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { convertSampleRate } from '../audio/resample';
import { isAiff, readAiff } from '../formats/aiff-read';
import type { AudioFile } from '../formats/audio-file';
import { hashRecording } from '../formats/hash';
import { isWav, readWav } from '../formats/wav-read';
import { writeWav } from '../formats/wav-write';
import type { NewSource } from '../project/edits';
import type { Encoding } from '../project/schema';
import type { Hertz } from '../units';

/** A sound file made ready for a project. */
export interface ImportedSource {
  readonly source: NewSource;
  /** The samples at the project's rate, as the WAV file that the project keeps. */
  readonly wav: Uint8Array<ArrayBuffer>;
  readonly audio: Audio;
  readonly notes: readonly string[];
}

/**
 * Reads WAV and AIFF files, told by their first bytes, or by the ending of their path; undefined when the file is neither. Throws DataError
 * when it is damaged.
 */
export function readUncompressed(bytes: Uint8Array, path: string): AudioFile | undefined {
  const what = `“${path}”`;
  if (isWav(bytes)) return readWav(bytes, what);
  if (isAiff(bytes)) return readAiff(bytes, what);
  if (/\.(wav|wave|bwf)$/i.test(path)) return readWav(bytes, what);
  if (/\.(aiff?|aifc)$/i.test(path)) return readAiff(bytes, what);
  return undefined;
}

/**
 * Makes a source of a file's samples: converted to the project's rate, kept as a plain WAV with as many bits as the samples need, so that
 * files at the project's rate keep every sample as it was. Folders become tags; what the file says of itself becomes notes, cues, a loop.
 * @param path the file's name, with the folders it lay in
 */
export async function importAudio(file: AudioFile, path: string, sampleRate: Hertz): Promise<ImportedSource> {
  const audio = convertSampleRate(file.audio, sampleRate);
  const unchanged = audio === file.audio;
  const encoding = unchanged ? leastEncoding(file.encoding) : '32f';
  const wav = writeWav(audio, { encoding, ...(unchanged && file.encoded && { encoded: file.encoded }) });
  const notes = [...file.notes];
  if (!unchanged) notes.push(`Converted from ${file.audio.sampleRate} to ${sampleRate} Hz.`);
  const { details } = file;
  const seconds = frameCount(audio) / sampleRate;
  const toSeconds = (frame: number): number => frame / file.audio.sampleRate;
  const cues = details.cues.map(({ name, frame }) => ({ name: name.slice(0, 300) || 'Cue', time: toSeconds(frame) }));
  return {
    source: {
      name: sourceName(path),
      audio: await hashRecording(wav),
      frames: frameCount(audio),
      channels: audio.channels.length,
      tags: folderTags(path),
      notes: details.description ?? '',
      regions: [],
      cues: cues.filter(({ time }) => time <= seconds),
      ...(details.loop && toSeconds(details.loop.to) <= seconds + 0.001
        ? { loop: { from: toSeconds(details.loop.from), to: Math.min(seconds, toSeconds(details.loop.to)) } }
        : {}),
      origin: {
        file: path.slice(0, 1_000),
        sampleRate: file.audio.sampleRate,
        encoding: file.encoding.slice(0, 60),
        ...(details.date && { date: details.date }),
        ...(details.recordist && { recordist: details.recordist }),
      },
    },
    wav,
    audio,
    notes,
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
