import type { Audio } from '../audio/audio';
import { frameCount } from '../audio/audio';
import { convertSampleRate } from '../audio/resample';
import { hashBytes } from '../formats/hash';
import { readWav } from '../formats/wav-read';
import { writeWav } from '../formats/wav-write';
import type { NewSource } from '../project/edits';
import type { Encoding } from '../project/schema';
import type { Hertz } from '../units';

/** A WAV file made ready for a project. */
export interface ImportedSource {
  readonly source: NewSource;
  /** The samples at the project's rate, as the WAV file that the project keeps. */
  readonly wav: Uint8Array<ArrayBuffer>;
  readonly audio: Audio;
  readonly notes: readonly string[];
}

/**
 * Reads a WAV file and converts it to the project's rate. What is kept is a plain WAV with as many bits as the samples need: files
 * at the project's rate keep every sample as it was. Throws DataError.
 */
export function importWav(bytes: Uint8Array, fileName: string, sampleRate: Hertz): ImportedSource {
  const file = readWav(bytes, `“${fileName}”`);
  const audio = convertSampleRate(file.audio, sampleRate);
  const unchanged = audio === file.audio;
  const encoding = unchanged ? leastEncoding(file.encoding) : '32f';
  const wav = writeWav(audio, { encoding });
  const notes = [...file.notes];
  if (!unchanged) notes.push(`Converted from ${file.audio.sampleRate} to ${sampleRate} Hz.`);
  return {
    source: {
      name: sourceName(fileName),
      audio: hashBytes(wav),
      frames: frameCount(audio),
      channels: audio.channels.length,
      tags: [],
      notes: '',
      origin: { file: fileName.slice(0, 1_000), sampleRate: file.audio.sampleRate, encoding: file.encoding },
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
function sourceName(fileName: string): string {
  const bare = fileName
    .replace(/^.*[\\/]/, '')
    .replace(/\.[A-Za-z0-9]{1,5}$/, '')
    .replace(/[_-]+/g, ' ')
    .trim();
  return bare.slice(0, 300) || 'Unnamed';
}
