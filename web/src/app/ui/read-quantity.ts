import type { Signal } from '@angular/core';
import { InjectionToken, signal } from '@angular/core';
import type { NumberParameter } from '@tangled-choir/core';
import { noteToFrequency, readNote } from '@tangled-choir/core';
import type { ShownScale } from './quantity';
import { isPan, scaleOf } from './quantity';

/** What frames and notes last in the sound that is open. */
export interface QuantityContext {
  readonly framesPerSecond: number;
  readonly bpm: number;
}

/** Fields read frames and notes by it. */
export const quantityContext = new InjectionToken<Signal<QuantityContext>>('frames and notes of the open sound', {
  providedIn: 'root',
  factory: () => signal({ framesPerSecond: 25, bpm: 120 }),
});

/** A typed value within the range of its parameter, and which of the ends it was brought to, if it lay outside. */
export interface ReadQuantity {
  readonly value: number;
  readonly limit?: 'least' | 'most';
}

/** Multiples of the stored unit, by what people type behind a number. */
const unitsOf: Readonly<Record<NumberParameter['unit'], Readonly<Record<string, number>>>> = {
  Hz: { hz: 1, khz: 1e3, mhz: 1e-3 },
  s: { s: 1, sec: 1, ms: 1e-3, us: 1e-6, µs: 1e-6, min: 60 },
  dB: { db: 1 },
  st: { st: 1, ct: 0.01, c: 0.01, cents: 0.01, oct: 12 },
  '%': { '%': 0.01 },
  ':1': { ':1': 1 },
  '×': { '×': 1, x: 1, '%': 0.01 },
  '': {},
};

/** Thousandths and thousands of the stored unit, whatever it is. */
const multiples: Readonly<Record<string, number>> = { m: 1e-3, k: 1e3 };

/**
 * Reads what somebody typed into a field: `-6`, `−6 dB`, `1.5k`, `1,5 kHz`, `20ms`, `12f` (frames), `4 beats`, `1/8` (a note of the tempo), `A4`, `1:02.5`,
 * `80 %`, `30 left`, the name of a stage; intervals also as `1.5x`, `3/2`, `440 > 660` or `A3 > C4`. A number without a unit has the unit that the field shows. Returns undefined when it is not understood.
 */
export function readQuantity(
  text: string,
  parameter: NumberParameter,
  shown: { readonly value: number; readonly scale?: ShownScale | undefined },
  context: QuantityContext,
): ReadQuantity | undefined {
  const clean = text.trim().toLowerCase().replace(/[−–]/g, '-').replace(',', '.');
  const value = parameter.names
    ? stage(clean, parameter.names)
    : isPan(parameter)
      ? pan(clean, shown.value)
      : (namedQuantity(clean, parameter, context) ?? numberWithUnit(clean, parameter, shown, context));
  if (value === undefined || !Number.isFinite(value)) return undefined;
  if (value < parameter.min) return { value: parameter.min, limit: 'least' };
  if (value > parameter.max) return { value: parameter.max, limit: 'most' };
  return { value };
}

const numberPattern = /^([+-]?(?:\d+\.?\d*|\.\d+))\s*(.*)$/;

function numberWithUnit(
  clean: string,
  parameter: NumberParameter,
  { value, scale = scaleOf(value, parameter) }: { readonly value: number; readonly scale?: ShownScale | undefined },
  context: QuantityContext,
): number | undefined {
  const match = numberPattern.exec(clean);
  if (!match) return undefined;
  const number = Number(match[1]);
  const unit = match[2]!.trim();
  if (unit === '' || unit === scale.unit.toLowerCase()) return number / scale.factor;
  const frames = parameter.unit === 's' && /^(f|fr|frames?)$/.test(unit) ? 1 / context.framesPerSecond : undefined;
  const factor = unitsOf[parameter.unit][unit] ?? frames ?? multiples[unit];
  return factor === undefined ? undefined : number * factor;
}

/** What is no number with a unit: notes of the scale, notes of the tempo, minutes and seconds. */
function namedQuantity(clean: string, parameter: NumberParameter, { bpm }: QuantityContext): number | undefined {
  if (parameter.unit === 'st') return interval(clean);
  if (parameter.unit === 'Hz') return pitch(clean) ?? inverse(noteLength(clean, bpm));
  if (parameter.unit !== 's') return undefined;
  const minutes = /^(\d+):(\d{1,2}(?:\.\d*)?)$/.exec(clean);
  const beats = /^(\d+\.?\d*|\.\d+)\s*(?:b|beats?)$/.exec(clean);
  if (beats) return (Number(beats[1]) * 60) / bpm;
  return minutes ? Number(minutes[1]) * 60 + Number(minutes[2]) : noteLength(clean, bpm);
}

/** Intervals by other names: `150 %` and `1.5x` of the frequency, `3/2`, `440 > 660`, `A3 > C4`. */
function interval(clean: string): number | undefined {
  const [from, to, ...more] = clean.split(/\s*(?:>|→|\bto\b)\s*/);
  if (to !== undefined && more.length === 0) {
    const [low, high] = [from!, to].map((end) => pitch(end) ?? frequency(end));
    return low !== undefined && high !== undefined ? 12 * Math.log2(high / low) : undefined;
  }
  const factor = /^(\d+\.?\d*|\.\d+)\s*(%|x|×)$/.exec(clean);
  if (factor) return 12 * Math.log2(Number(factor[1]) / (factor[2] === '%' ? 100 : 1));
  const fraction = /^(\d+)\s*[/:]\s*(\d+)$/.exec(clean);
  return fraction ? 12 * Math.log2(Number(fraction[1]) / Number(fraction[2])) : undefined;
}

function frequency(clean: string): number | undefined {
  const match = /^(\d+\.?\d*|\.\d+)\s*(k?)(?:hz)?$/.exec(clean);
  return match ? Number(match[1]) * (match[2] === 'k' ? 1_000 : 1) : undefined;
}

const inverse = (length: number | undefined): number | undefined => (length === undefined ? undefined : 1 / length);
/** `A4`, `c#3`, `eb2 +20ct` in Hz, at 440 Hz for A4. */
function pitch(clean: string): number | undefined {
  const note = readNote(clean);
  return note === undefined ? undefined : noteToFrequency(note);
}

/** `1/8`, `1/8t` (triplet), `1/8.` (dotted) in seconds: a whole note has four beats. */
function noteLength(clean: string, bpm: number): number | undefined {
  const match = /^(\d+)\/(\d+)\s*(t|triplet|\.|d|dotted)?$/.exec(clean);
  if (!match) return undefined;
  const [, count, of, kind = ''] = match;
  const stretched = kind.startsWith('t') ? 2 / 3 : kind === '' ? 1 : 1.5;
  return ((60 / bpm) * 4 * stretched * Number(count)) / Number(of);
}

/** `30 left`, `r 30`, `centre`; a bare number goes to the side that the field shows, one with a sign to the left or the right. */
function pan(clean: string, shown: number): number | undefined {
  if (/^c(entre|enter)?$/.test(clean)) return 0;
  const match = numberPattern.exec(clean);
  if (!match || !/^(%|l(eft)?|r(ight)?)?$/.test(match[2]!)) return undefined;
  const share = Number(match[1]) / 100;
  if (match[2]!.startsWith('l')) return -share;
  const isSigned = /^[+-]/.test(clean) || match[2]!.startsWith('r');
  return isSigned || shown >= 0 ? share : -share;
}

/** The stage with that name, or the first whose name begins so. */
function stage(clean: string, names: readonly string[]): number | undefined {
  const lower = names.map((name) => name.toLowerCase());
  const exact = lower.indexOf(clean);
  const index = exact >= 0 || clean === '' ? exact : lower.findIndex((name) => name.startsWith(clean));
  return index < 0 ? undefined : index;
}
