import type { Encoding } from '@tangled-choir/core';
import { encodings } from '@tangled-choir/core';
import { wrongInput } from '../failure';

/** Reads `--bits`. */
export function encodingOption(value: string): Encoding {
  const known = encodings.find((encoding) => encoding === value);
  if (!known) throw wrongInput(`--bits is ${encodings.join(', ')}, not “${value}”.`);
  return known;
}

/** Reads a number within a range. */
export function within(name: string, value: string, min: number, max: number): number {
  const number = Number(value);
  if (value.trim() === '' || !(number >= min && number <= max))
    throw wrongInput(`${name} is a number from ${min} to ${max}, not “${value}”.`);
  return number;
}

/** Reads a whole number within a range. */
export function wholeNumber(name: string, value: string, min: number, max: number): number {
  const number = Number(value);
  if (value.trim() === '' || !Number.isInteger(number) || number < min || number > max)
    throw wrongInput(`${name} is a whole number from ${min} to ${max}, not “${value}”.`);
  return number;
}
