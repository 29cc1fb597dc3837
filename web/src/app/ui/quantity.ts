import type { NumberParameter } from '@tangled-choir/core';

/** How the values of a field are written: the unit, how many of it one stored unit is, digits, and whether there is always a sign. */
export interface ShownScale {
  readonly unit: string;
  readonly factor: number;
  readonly digits: number;
  readonly signed?: boolean;
}

/** The scale in which a value of a parameter is shown when nothing else is asked for. */
export function scaleOf(value: number, parameter: NumberParameter): ShownScale {
  const size = Math.abs(value);
  switch (parameter.unit) {
    case 'Hz':
      return size >= 1_000
        ? { unit: 'kHz', factor: 1e-3, digits: size >= 9_995 ? 1 : 2 }
        : { unit: 'Hz', factor: 1, digits: size < 100 ? 1 : 0 };
    case 'dB':
      // What cannot be negative, such as a knee, needs no sign.
      return { unit: 'dB', factor: 1, digits: 1, signed: parameter.min < 0 };
    case 's':
      return size < 1 ? { unit: 'ms', factor: 1_000, digits: size < 0.01 ? 2 : size < 0.1 ? 1 : 0 } : { unit: 's', factor: 1, digits: 3 };
    case 'st':
      return { unit: 'st', factor: 1, digits: 2, signed: true };
    case '%':
      return { unit: '%', factor: 100, digits: 0 };
    case '×':
      return { unit: '×', factor: 1, digits: size < 10 ? 3 : 1 };
    case ':1':
      return { unit: ':1', factor: 1, digits: size < 10 ? 1 : 0 };
    default:
      return { unit: '', factor: 1, digits: parameter.step === 1 ? 0 : 2 };
  }
}

/** A value as people read it: with its unit, with as many digits as can be heard. */
export function formatQuantity(value: number, parameter: NumberParameter, scale = scaleOf(value, parameter)): string {
  if (parameter.names) return parameter.names[Math.round(value)] ?? '';
  if (isPan(parameter)) return formatPan(value);
  const { unit, factor, digits } = scale;
  const number = scale.signed ? signed(value * factor, digits) : (value * factor).toFixed(digits);
  return unit === ':1' ? `${number}:1` : `${number} ${unit}`.trim();
}

/** True for a property that lies between left and right. */
export function isPan({ label, unit, min, max }: NumberParameter): boolean {
  return label === 'Pan' && unit === '' && min === -1 && max === 1;
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

/** A size in bytes, with three digits at most: “34.5 MB”. */
export function formatBytes(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB'];
  const power = Math.min(units.length - 1, Math.max(0, Math.floor(Math.log10(Math.max(1, bytes)) / 3)));
  const value = bytes / 1_000 ** power;
  return `${power === 0 || value >= 100 ? value.toFixed(0) : value.toFixed(1)} ${units[power]}`;
}
