import type { NumberParameter } from '@tangled-choir/core';

/** A value as people read it: with its unit, with as many digits as can be heard. */
export function formatQuantity(value: number, parameter: NumberParameter): string {
  if (parameter.names) return parameter.names[Math.round(value)] ?? '';
  switch (parameter.unit) {
    case 'Hz':
      return value >= 1_000 ? `${(value / 1_000).toFixed(value >= 9_995 ? 1 : 2)} kHz` : `${value.toFixed(value < 100 ? 1 : 0)} Hz`;
    case 'dB':
      // What cannot be negative, such as a knee, needs no sign.
      return `${parameter.min >= 0 ? value.toFixed(1) : signed(value, 1)} dB`;
    case 's':
      return value < 1 ? `${(value * 1_000).toFixed(value < 0.01 ? 2 : value < 0.1 ? 1 : 0)} ms` : `${value.toFixed(3)} s`;
    case 'st':
      return `${signed(value, 2)} st`;
    case '%':
      return `${Math.round(value * 100)} %`;
    case ':1':
      return `${value.toFixed(value < 10 ? 1 : 0)}:1`;
    default:
      if (parameter.step === 1) return value.toFixed(0);
      return parameter.label === 'Pan' ? formatPan(value) : value.toFixed(2);
  }
}

function formatPan(value: number): string {
  const share = Math.round(Math.abs(value) * 100);
  return share === 0 ? 'centre' : `${share} ${value < 0 ? 'left' : 'right'}`;
}

/** A number with its sign; a real minus, as long as a plus. */
export function signed(value: number, digits: number): string {
  const rounded = Number(value.toFixed(digits));
  if (rounded === 0) return (0).toFixed(digits);
  return `${rounded > 0 ? '+' : '−'}${Math.abs(rounded).toFixed(digits)}`;
}

/** A level in dB without a plus; silence has a sign of its own. */
export function formatLevel(level: number | undefined, unit: string): string {
  if (level === undefined || !Number.isFinite(level)) return `−∞ ${unit}`.trim();
  return `${level < 0 ? '−' : ''}${Math.abs(level).toFixed(1)} ${unit}`.trim();
}

/** Seconds as m:ss.mmm, or shorter where minutes are not needed. */
export function formatTime(seconds: number): string {
  const minutes = Math.floor(seconds / 60);
  return `${String(minutes).padStart(2, '0')}:${(seconds - minutes * 60).toFixed(3).padStart(6, '0')}`;
}

/** A place in a recording: seconds with two decimals, in long ones with minutes and hours: 1.50, 3:05.20, 1:00:05.20. */
export function formatPlace(seconds: number): string {
  return seconds < 59.995 ? seconds.toFixed(2) : clockTime(seconds, 2);
}

/** How long something lasts: seconds with some decimals, from a minute on with minutes and hours: 0.60 s, 10:00, 1:00:00. */
export function formatDuration(seconds: number, digits = 2, digitsOfLong = 0): string {
  return seconds < 60 - 0.5 * 10 ** -digits ? `${seconds.toFixed(digits)} s` : clockTime(seconds, digitsOfLong);
}

function clockTime(seconds: number, digits: number): string {
  // Rounded first, so that 59.999 does not become 0:60.
  const rounded = Number(seconds.toFixed(digits));
  const hours = Math.floor(rounded / 3_600);
  const minutes = Math.floor(rounded / 60) % 60;
  const rest = (rounded % 60).toFixed(digits).padStart(digits > 0 ? digits + 3 : 2, '0');
  return hours > 0 ? `${hours}:${String(minutes).padStart(2, '0')}:${rest}` : `${minutes}:${rest}`;
}

/**
 * Reads what somebody typed into the field of a parameter: `-6`, `−6 dB`, `1.5k`, `1,5 kHz`, `20ms`, `80 %`, `30 left`. Returns undefined when it
 * is no number.
 */
export function parseQuantity(text: string, parameter: NumberParameter): number | undefined {
  const clean = text.trim().toLowerCase().replace(/[−–]/g, '-').replace(',', '.');
  if (parameter.label === 'Pan' && /^c/.test(clean)) return 0;
  const match = /^([+-]?(?:\d+\.?\d*|\.\d+))\s*(.*)$/.exec(clean);
  if (!match) return undefined;
  const number = Number(match[1]);
  const unit = match[2]!.trim();
  const value = scaleTyped(number, unit, parameter);
  return Math.min(parameter.max, Math.max(parameter.min, value));
}

function scaleTyped(number: number, unit: string, parameter: NumberParameter): number {
  switch (parameter.unit) {
    case 'Hz':
      return unit.startsWith('k') ? number * 1_000 : number;
    case 's':
      return unit.startsWith('m') ? number / 1_000 : number;
    case '%':
      return number / 100;
    default:
      if (parameter.label !== 'Pan') return number;
      return ((unit.startsWith('l') ? -1 : 1) * number) / (Math.abs(number) > 1 || unit !== '' ? 100 : 1);
  }
}

/** A size in bytes, with three digits at most: “34.5 MB”. */
export function formatBytes(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  const power = Math.min(units.length - 1, Math.max(0, Math.floor(Math.log10(Math.max(1, bytes)) / 3)));
  const value = bytes / 1_000 ** power;
  return `${power === 0 || value >= 100 ? value.toFixed(0) : value.toFixed(1)} ${units[power]}`;
}
