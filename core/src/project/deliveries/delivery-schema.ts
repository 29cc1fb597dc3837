import * as z from 'zod';
import { id, name } from '../schema-parts';

export const encodings = ['16', '24', '32f'] as const;
export const tailModes = ['ring out', 'cut at the last clip', 'fixed length', 'seamless loop'] as const;
export const audioFormats = ['wav', 'flac', 'opus', 'vorbis'] as const;
export const deliveryContents = ['sounds', 'behaviours'] as const;
export const stemModes = ['none', 'layers', 'groups'] as const;
export const levelModes = ['as it is', 'loudness', 'true peak', 'gain'] as const;
export const letterCases = ['as typed', 'lower', 'upper'] as const;
export const sampleRates = [22_050, 44_100, 48_000, 96_000] as const;

/** One set of files to hand off: which sounds, in which form, under which names. */
export const deliverySchema = z.strictObject({
  id,
  name,
  /** It is written with all others that are on. */
  on: z.boolean(),
  /** Sounds as files, or the behaviours of the project with the recordings that a game plays. */
  content: z.enum(deliveryContents),
  /** Which sounds; left out, it is all of them, also those that are made later. */
  sounds: z.array(id).max(2_000, 'has more than 2000 sounds').optional(),
  original: z.boolean(),
  kept: z.boolean(),
  /** One file for each layer or group that is heard, beside the whole. */
  stems: z.enum(stemModes),
  /** All of them in one file behind each other, with a list of where each lies. */
  sheet: z.boolean(),
  format: z.enum(audioFormats),
  /** Of WAV and FLAC; FLAC has no floating point and takes 24 bit in its place. */
  encoding: z.enum(encodings),
  /** Of Opus and Vorbis, in kbit/s for each channel. */
  bitrate: z.number().min(24).max(192),
  /** Opus always has 48 kHz. */
  sampleRate: z.union([z.literal(22_050), z.literal(44_100), z.literal(48_000), z.literal(96_000)]),
  channels: z.enum(['mono', 'stereo']),
  level: z.enum(levelModes),
  /** LUFS, where the level is a loudness. */
  loudness: z.number().min(-50).max(-6),
  /** dBTP: the true peak itself, or what no peak of a loudness may pass. */
  ceiling: z.number().min(-30).max(0),
  /** dB, where the level is a gain. */
  gain: z.number().min(-60).max(24),
  tail: z.enum(tailModes),
  /** Length in seconds when `tail` is “fixed length”. */
  length: z.number().positive().max(3_600),
  /** Leaves out silence at both ends. */
  trim: z.boolean(),
  blockDc: z.boolean(),
  /** Seconds of fade at ends that are not silent and not a loop’s. */
  fade: z.number().min(0).max(0.5),
  /** Lists the moments of each sound’s time axis as CSV and as an OpenTimelineIO file. */
  cueSheet: z.boolean(),
  /** File names with words in braces; slashes make folders. */
  template: z.string().max(300),
  /** The number of the first file of each sound. */
  firstNumber: z.int().min(0).max(9_999),
  /** Digits that numbers in names have at least. */
  digits: z.int().min(1).max(5),
  letters: z.enum(letterCases),
  /** Characters that a file name has at most, without its ending. */
  longest: z.int().min(8).max(200),
});

export type Delivery = z.infer<typeof deliverySchema>;
export type Encoding = (typeof encodings)[number];
export type TailMode = (typeof tailModes)[number];
export type AudioFormat = (typeof audioFormats)[number];
export type StemMode = (typeof stemModes)[number];
export type LevelMode = (typeof levelModes)[number];
export type LetterCase = (typeof letterCases)[number];
