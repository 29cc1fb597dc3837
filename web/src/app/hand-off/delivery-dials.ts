import type { Delivery, ParameterSet, ParameterValue } from '@tangled-choir/core';
import { choice, count, decibels, deliverySchema, isNeeded, seconds, toggle } from '@tangled-choir/core';
import type { ParameterRow } from '../ui/parameter-fields';

/** How values of the document are called where they are chosen. */
const called: Readonly<Partial<Record<keyof Delivery, Readonly<Record<string, string>>>>> = {
  format: { wav: 'WAV', flac: 'FLAC', opus: 'Ogg Opus', vorbis: 'Ogg Vorbis' },
  encoding: { '16': '16 bit', '24': '24 bit', '32f': '32 bit float' },
  sampleRate: { '22050': '22.05 kHz', '44100': '44.1 kHz', '48000': '48 kHz', '96000': '96 kHz' },
  channels: { stereo: 'as the sound has', mono: 'mono' },
  stems: { none: 'none', layers: 'one per layer', groups: 'one per group' },
  level: { 'as it is': 'as it is', loudness: 'to a loudness', 'true peak': 'to a true peak', gain: 'by a gain' },
  tail: {
    'ring out': 'let it ring out',
    'cut at the last clip': 'cut at the last clip',
    'fixed length': 'fixed length',
    'seamless loop': 'seamless loop',
  },
};

const named = (label: string, key: keyof Delivery, preset: string): ParameterSet[string] =>
  choice(label, Object.values(called[key] ?? {}), called[key]?.[preset] ?? preset);

const lossy = ['Ogg Opus', 'Ogg Vorbis'];

/** The settings of a delivery in groups; each is needed where others stand as `needs` says. */
export const deliveryDials = {
  Which: {
    original: toggle('Original', true),
    kept: toggle('Kept siblings', true),
    stems: { ...named('Stems', 'stems', 'none'), needs: { of: 'sheet', values: [false] } },
    sheet: toggle('All in one sheet', false),
    cueSheet: toggle('Cue sheets', false),
  },
  Form: {
    format: named('Format', 'format', 'wav'),
    encoding: { ...named('Depth', 'encoding', '24'), needs: { of: 'format', values: ['WAV', 'FLAC'] } },
    bitrate: {
      ...count({ label: 'kbit/s a channel', min: 24, max: 192, default: 64 }),
      needs: { of: 'format', values: lossy },
    },
    sampleRate: { ...named('Rate', 'sampleRate', '48000'), needs: { of: 'format', values: ['WAV', 'FLAC', 'Ogg Vorbis'] } },
    channels: named('Channels', 'channels', 'stereo'),
  },
  Level: {
    level: named('Level', 'level', 'as it is'),
    loudness: {
      ...decibels({ label: 'Loudness, LUFS', min: -50, max: -6, default: -23 }),
      needs: { of: 'level', values: ['to a loudness'] },
    },
    ceiling: {
      ...decibels({ label: 'True peak, dBTP', min: -30, max: 0, default: -1 }),
      needs: { of: 'level', values: ['to a loudness', 'to a true peak'] },
    },
    gain: { ...decibels({ label: 'Gain', min: -60, max: 24, default: 0 }), needs: { of: 'level', values: ['by a gain'] } },
  },
  Ends: {
    tail: named('Tail', 'tail', 'ring out'),
    length: { ...seconds({ label: 'Length', min: 0.01, max: 3_600, default: 1 }), needs: { of: 'tail', values: ['fixed length'] } },
    trim: toggle('Leave out silence', false),
    blockDc: toggle('Block DC', false),
    fade: seconds({ label: 'Fade cut ends', min: 0, max: 0.5, default: 0 }),
  },
  Names: {
    firstNumber: count({ label: 'First number', min: 0, max: 9_999, default: 1 }),
    digits: count({ label: 'Digits', min: 1, max: 5, default: 2 }),
    letters: choice('Letters', ['as typed', 'lower', 'upper'], 'as typed'),
    longest: count({ label: 'Longest name', min: 8, max: 200, default: 120 }),
  },
} satisfies Readonly<Record<string, ParameterSet>>;

export type DialGroup = keyof typeof deliveryDials;

/** The dials of a group that a delivery needs, with their values as they are called. */
export function dialRows(delivery: Delivery, group: DialGroup): ParameterRow[] {
  const dials: ParameterSet = deliveryDials[group];
  const shown = Object.fromEntries(Object.keys(dials).map((key) => [key, shownValue(delivery, key)]));
  return Object.entries(dials)
    .filter(([, parameter]) => isNeeded(parameter, dials, shown))
    .map(([key, parameter]) => ({ key, label: parameter.label, parameter, value: shown[key]! }));
}

function shownValue(delivery: Delivery, key: string): ParameterValue {
  const value = Object.entries(delivery).find(([name]) => name === key)?.[1];
  const names = Object.entries(called).find(([name]) => name === key)?.[1];
  if (names) return names[String(value)] ?? String(value);
  return typeof value === 'number' || typeof value === 'boolean' ? value : String(value);
}

/** What a turned dial changes in a delivery. Throws where that is none of its values, which no dial offers. */
export function dialChange(key: string, value: ParameterValue): Partial<Delivery> {
  const names = Object.entries(called).find(([name]) => name === key)?.[1];
  const stored = names ? (Object.entries(names).find(([, name]) => name === value)?.[0] ?? value) : value;
  return deliverySchema.partial().parse({ [key]: key === 'sampleRate' ? Number(stored) : stored });
}

/** A delivery in a few words, for its row. */
export function deliveryFacts({ content, format, encoding, bitrate, sampleRate, channels, sheet, stems }: Delivery): string {
  const depth = called.encoding![format === 'flac' && encoding === '32f' ? '24' : encoding]!;
  const form =
    format === 'opus' || format === 'vorbis' ? `${called.format![format]} ${bitrate} kbit/s` : `${called.format![format]} ${depth}`;
  const rate = called.sampleRate![format === 'opus' ? '48000' : String(sampleRate)];
  const parts = content === 'behaviours' ? 'conduct.json' : sheet ? 'one sheet' : stems === 'none' ? '' : 'stems';
  return [form, rate, channels === 'mono' ? 'mono' : '', parts].filter(Boolean).join(' · ');
}

/** The level that a delivery brings files to, in a few words. */
export function levelFacts({ content, level, loudness, ceiling, gain }: Delivery): string {
  const number = (value: number): string => (Number.isInteger(value) ? String(value) : value.toFixed(1)).replace('-', '−');
  if (content === 'behaviours' || level === 'as it is') return 'as it is';
  if (level === 'loudness') return `${number(loudness)} LUFS, ≤ ${number(ceiling)} dBTP`;
  return level === 'gain' ? `${gain > 0 ? '+' : ''}${number(gain)} dB` : `${number(ceiling)} dBTP`;
}
