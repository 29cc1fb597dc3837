import { hashData } from '../formats/hash';
import type { AudioFormat, Delivery, Encoding, Sound } from '../project/schema';
import type { Hertz } from '../units';

/** How a delivery's files are coded, as its format can. */
export interface FileForm {
  readonly format: AudioFormat;
  readonly sampleRate: Hertz;
  /** Of WAV and FLAC. */
  readonly encoding: Encoding;
  /** Of Opus and Vorbis, in kbit/s over all channels. */
  readonly bitrate: number;
}

/** File endings by format. */
export const endings: Readonly<Record<AudioFormat, string>> = { wav: 'wav', flac: 'flac', opus: 'opus', vorbis: 'ogg' };

/** True where samples come back as they were. */
export const isLossless = (format: AudioFormat): boolean => format === 'wav' || format === 'flac';

/** What a delivery asks for, as far as its format has it: Opus knows 48 kHz alone (RFC 7845), FLAC no floating point. */
export function formOf({ format, sampleRate, encoding, bitrate, channels }: Delivery): FileForm {
  return {
    format,
    sampleRate: format === 'opus' ? 48_000 : sampleRate,
    encoding: format === 'flac' && encoding === '32f' ? '24' : encoding,
    bitrate: bitrate * (channels === 'mono' ? 1 : 2),
  };
}

/** Raised when the same settings come out in another way: what was written before counts as changed then. */
const formVersion = 2;

/**
 * Short id of everything that decides how a file comes out of its sound. What is told within the file counts, too: names, marks and the clock; so does
 * what a stem’s whole is, which decides its level.
 */
export function formId(delivery: Delivery, { marks, clock }: Sound, told: readonly (string | undefined)[]): string {
  const { channels, level, loudness, ceiling, gain, tail, length, trim, blockDc, fade } = delivery;
  const settings = [formOf(delivery), channels, level, loudness, ceiling, gain, tail, length, trim, blockDc, fade];
  const moments = marks.map(({ name, time }) => [name, time]);
  return hashData([formVersion, settings, moments, clock, told]).slice(0, 12);
}

/** A number as file names have it. */
export const numberText = (number: number, { digits }: Pick<Delivery, 'digits'>): string => String(number).padStart(digits, '0');

/** A form in a few words: `FLAC 24 bit`, `Opus 96 kbit/s`. */
export function formText({ format, encoding, bitrate }: FileForm): string {
  const names: Readonly<Record<AudioFormat, string>> = { wav: 'WAV', flac: 'FLAC', opus: 'Opus', vorbis: 'Vorbis' };
  if (!isLossless(format)) return `${names[format]} ${bitrate} kbit/s`;
  return `${names[format]} ${encoding === '32f' ? '32 bit float' : `${encoding} bit`}`;
}
