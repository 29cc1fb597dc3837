import type { Decibels, Hertz, Seconds, Semitones, Unit } from '../units';

/**
 * What a parameter is: its name, unit, range and default. One definition gives the editor in the interface, validation,
 * addresses, sways and the command line.
 */
export type Parameter = NumberParameter | ChoiceParameter | SwitchParameter | ReferenceParameter | CurveParameter;

export type ParameterUnit = 'Hz' | 'dB' | 's' | 'st' | '%' | ':1' | '×' | '';

interface ParameterBase {
  readonly label: string;
  /** Set for what the effect is built from: where it changes, the effect is built anew. */
  readonly builds?: true;
  /** Set for what acts on what comes out: along a lane it comes as late as the effect lags, so that it meets the same sound. */
  readonly output?: true;
  /** What of the same set it does nothing without: a switch that is on, or one of some values. Until then it is not offered. */
  readonly needs?: string | Need;
  /** Set for what cannot be automated: it shifts the sound in time, or is worked out at length beforehand. */
  readonly fixed?: true;
}

/** A parameter that must have one of some values. */
export interface Need {
  readonly of: string;
  readonly values: readonly ParameterValue[];
}

export interface NumberParameter extends ParameterBase {
  readonly kind: 'number';
  readonly unit: ParameterUnit;
  readonly min: number;
  readonly max: number;
  readonly default: number;
  /** How a dial or a sway moves it: by steps that are added, or by intervals that multiply. */
  readonly scale: 'linear' | 'log';
  /** Values are multiples of it; without it any value goes. */
  readonly step?: number;
  /** The choice beside it (see `noteLength`) that sets it by the tempo of the sound. */
  readonly counted?: string;
  /** By the values of a choice beside it: how far it goes there, where that is less far. */
  readonly upTo?: { readonly of: string; readonly most: Readonly<Record<string, number>> };
  /** What whole values are called, where they are stages that nothing lies between (see `axisOf`). */
  readonly names?: readonly string[];
}

export interface ChoiceParameter extends ParameterBase {
  readonly kind: 'choice';
  readonly options: readonly string[];
  readonly default: string;
}

export interface SwitchParameter extends ParameterBase {
  readonly kind: 'switch';
  readonly default: boolean;
}

/**
 * What an effect takes from elsewhere: the sound of a layer or group (`layer/<id>`, `bus/<id>`) or a source (`source/<id>`). Empty
 * when nothing is chosen.
 */
export interface ReferenceParameter extends ParameterBase {
  readonly kind: 'reference';
  readonly to: 'layer' | 'source';
  /** What holds while nothing is chosen: “its own sound”. */
  readonly none: string;
  readonly default: '';
}

/** Numbers at fixed places along an axis, drawn as one curve; kept as text, one number after the other with spaces between them. */
export interface CurveParameter extends ParameterBase {
  readonly kind: 'curve';
  readonly unit: ParameterUnit;
  /** Set for numbers that are measured, and mean nothing as a drawing. */
  readonly measured?: true;
  /** What stands there while nothing is drawn; without it, nothing but 0. */
  readonly first?: readonly number[];
  /** How many numbers; those that are missing are 0. */
  readonly points: number;
  readonly min: number;
  readonly max: number;
  readonly default: '';
}

export type ParameterValue = number | string | boolean;
export type ParameterValues = Readonly<Record<string, ParameterValue>>;
export type ParameterSet = Readonly<Record<string, Parameter>>;

/** The values of a parameter set, each with the type that its definition gives it. */
export type ValuesOf<S extends ParameterSet> = {
  readonly [K in keyof S]: S[K] extends NumberParameter
    ? number
    : S[K] extends SwitchParameter
      ? boolean
      : S[K] extends ChoiceParameter | ReferenceParameter | CurveParameter
        ? string
        : ParameterValue;
};

interface Range {
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly default: number;
}

export const hertz = (range: Range & { min: Hertz; max: Hertz; default: Hertz }): NumberParameter => ({
  kind: 'number',
  unit: 'Hz',
  scale: 'log',
  ...range,
});
export const decibels = (range: Range & { min: Decibels; max: Decibels; default: Decibels }): NumberParameter => ({
  kind: 'number',
  unit: 'dB',
  scale: 'linear',
  ...range,
});
export const seconds = (range: Range & { min: Seconds; max: Seconds; default: Seconds }): NumberParameter => ({
  kind: 'number',
  unit: 's',
  scale: 'log',
  ...range,
});
export const semitones = (range: Range & { min: Semitones; max: Semitones; default: Semitones }): NumberParameter => ({
  kind: 'number',
  unit: 'st',
  scale: 'linear',
  ...range,
});
/** A part of the whole, stored from 0 to 1 (or beyond, as `max` says) and shown in percent. */
export const share = (range: { label: string; min?: Unit; max?: number; default: number }): NumberParameter => ({
  kind: 'number',
  unit: '%',
  scale: 'linear',
  min: 0,
  max: 1,
  ...range,
});
/** A factor such as a compressor's ratio or a filter's Q. */
export const factor = (range: Range & { unit?: ':1' | '×' | '' }): NumberParameter => ({
  kind: 'number',
  unit: '',
  scale: 'log',
  ...range,
});
/** A whole number. */
export const count = (range: Range): NumberParameter => ({ kind: 'number', unit: '', scale: 'linear', step: 1, ...range });
export const choice = (label: string, options: readonly string[], preset: string): ChoiceParameter => ({
  kind: 'choice',
  label,
  options,
  default: preset,
});
export const reference = (label: string, to: ReferenceParameter['to'], none: string): ReferenceParameter => ({
  kind: 'reference',
  label,
  to,
  none,
  default: '',
});
/** Which parameter a parameter does nothing without, and with which of its values it does something. */
export function needOf({ needs }: Parameter): Need | undefined {
  return typeof needs === 'string' ? { of: needs, values: [true] } : needs;
}

/** False for a value that does nothing, as another one of its set stands, or does nothing itself. */
export function isNeeded(parameter: Parameter, parameters: ParameterSet, values: ParameterValues): boolean {
  const need = needOf(parameter);
  const value = need && (values[need.of] ?? parameters[need.of]?.default);
  if (need === undefined) return true;
  const needed = parameters[need.of];
  return value !== undefined && need.values.includes(value) && (needed === undefined || isNeeded(needed, parameters, values));
}

/** Lengths of notes in beats of a quarter; “seconds” leaves the time as it is. */
const noteLengths: Readonly<Record<string, number>> = {
  '1/32': 1 / 8,
  '1/16': 1 / 4,
  '1/8 triplet': 1 / 3,
  '1/8': 1 / 2,
  '1/8 dotted': 3 / 4,
  '1/4': 1,
  '1/4 dotted': 3 / 2,
  '1/2': 2,
  '1/1': 4,
};

/** Lets a time be set by the tempo of the sound: the time parameter names this one as `counted`. */
export const noteLength = (label: string): ChoiceParameter => choice(label, ['seconds', ...Object.keys(noteLengths)], 'seconds');

/** The values of a set with every time that is counted in notes at a tempo, fitted into its range. Changes and returns `values`. */
export function inTempo(parameters: ParameterSet, values: Record<string, ParameterValue>, bpm: number): Record<string, ParameterValue> {
  for (const [name, parameter] of Object.entries(parameters)) {
    if (parameter.kind !== 'number' || parameter.counted === undefined) continue;
    const beats = noteLengths[String(values[parameter.counted])];
    if (beats !== undefined) values[name] = fitValue(parameter, (beats * 60) / bpm);
  }
  return values;
}

export const toggle = (label: string, preset: boolean): SwitchParameter => ({ kind: 'switch', label, default: preset });

/** Longest text that a curve is kept as. */
const longestCurve = 2_000;

/** Reads the numbers of a curve; undefined when the text is none. */
export function readCurve({ points, min, max }: CurveParameter, text: string): number[] | undefined {
  const words = text.trim() === '' ? [] : text.trim().split(/\s+/);
  const numbers = words.map(Number);
  if (text.length > longestCurve || numbers.length > points || numbers.some((number) => !(number >= min && number <= max)))
    return undefined;
  return Array.from({ length: points }, (_, i) => numbers[i] ?? 0);
}

/** Numbers as the text of a curve, to a tenth; a flat curve is empty. */
export function writeCurve({ min, max }: CurveParameter, numbers: readonly number[]): string {
  const rounded = numbers.map((number) => Math.round(Math.max(min, Math.min(max, number)) * 10) / 10 || 0);
  return rounded.every((number) => number === 0) ? '' : rounded.join(' ');
}

/** What the document needs to know of an effect: never how it computes. */
export interface EffectDescription {
  readonly id: string;
  readonly label: string;
  readonly purpose: string;
  readonly parameters: ParameterSet;
  /** Set for what holds chains of its own. */
  readonly host?: HostDescription;
}

/** What kind of branches a host has. */
export interface HostDescription {
  readonly least: number;
  readonly most: number;
  /** How many a new one has, and how loud they are. */
  readonly first: number;
  readonly gain: Decibels;
  /** What one of them is called: “band”. */
  readonly branch: string;
}

/** Everything with parameters that a document names. */
export interface EffectCatalogue {
  /** An effect by its id. */
  get(effect: string): EffectDescription | undefined;
  /** A kind of part of a patch. */
  part(kind: string): EffectDescription | undefined;
}

/** Brings a value into what the definition allows: numbers are clamped, anything of another kind becomes the default. */
export function fitValue(parameter: Parameter, value: ParameterValue | undefined): ParameterValue {
  switch (parameter.kind) {
    case 'number':
      return typeof value === 'number' && Number.isFinite(value)
        ? Math.min(parameter.max, Math.max(parameter.min, parameter.step ? Math.round(value / parameter.step) * parameter.step : value))
        : parameter.default;
    case 'choice':
      return typeof value === 'string' && parameter.options.includes(value) ? value : parameter.default;
    case 'reference':
      return typeof value === 'string' ? value : parameter.default;
    case 'curve':
      return typeof value === 'string' && readCurve(parameter, value) ? value : parameter.default;
    case 'switch':
      return typeof value === 'boolean' ? value : parameter.default;
  }
}

/** A parameter with the range that it has beside the other values of its set. */
export function inRange<P extends Parameter>(parameter: P, values: ParameterValues): P {
  if (parameter.kind !== 'number' || !parameter.upTo) return parameter;
  const most = parameter.upTo.most[String(values[parameter.upTo.of])];
  return most === undefined ? parameter : { ...parameter, max: most };
}

/** Where a value lies along its range, 0 to 1: what dials, lanes and sliders show. */
export function placeOfValue({ min, max, scale }: NumberParameter, value: number): Unit {
  // A value outside the range lies at its end; logarithms of what lies below 0 would be no places at all.
  const inside = Math.max(min, Math.min(max, value));
  const place = scale === 'log' && min > 0 ? Math.log(inside / min) / Math.log(max / min) : (inside - min) / (max - min);
  return Math.max(0, Math.min(1, place));
}

/** The value at a place along its range, 0 to 1. */
export function valueAtPlace({ min, max, scale }: NumberParameter, place: Unit): number {
  const clamped = Math.max(0, Math.min(1, place));
  return scale === 'log' && min > 0 ? min * Math.pow(max / min, clamped) : min + clamped * (max - min);
}

/** All values of a set: what is stored where it fits, defaults elsewhere. */
export function resolveValues(parameters: ParameterSet, stored: ParameterValues): Record<string, ParameterValue> {
  const values: Record<string, ParameterValue> = {};
  for (const [name, parameter] of Object.entries(parameters)) {
    values[name] = fitValue(parameter, Object.hasOwn(stored, name) ? stored[name] : undefined);
  }
  return values;
}

/** Tells what is wrong with stored values, one sentence each; empty when nothing is. */
export function faultsOf(parameters: ParameterSet, stored: ParameterValues): string[] {
  const faults: string[] = [];
  for (const [name, value] of Object.entries(stored)) {
    const parameter = Object.hasOwn(parameters, name) ? parameters[name] : undefined;
    if (!parameter) faults.push(`there is no parameter “${name}”`);
    else if (parameter.kind === 'number' && (typeof value !== 'number' || !(value >= parameter.min && value <= parameter.max)))
      faults.push(`“${name}” is ${JSON.stringify(value)}, not a number from ${parameter.min} to ${parameter.max}`);
    else if (parameter.kind === 'choice' && !(typeof value === 'string' && parameter.options.includes(value)))
      faults.push(`“${name}” is ${JSON.stringify(value)}, not one of ${parameter.options.join(', ')}`);
    else if (parameter.kind === 'reference' && typeof value !== 'string') faults.push(`“${name}” is ${JSON.stringify(value)}, not an id`);
    else if (parameter.kind === 'curve' && !(typeof value === 'string' && readCurve(parameter, value)))
      faults.push(`“${name}” is not a curve: at most ${parameter.points} numbers from ${parameter.min} to ${parameter.max}`);
    else if (parameter.kind === 'switch' && typeof value !== 'boolean')
      faults.push(`“${name}” is ${JSON.stringify(value)}, not true or false`);
  }
  return faults;
}
