import type { Encoding, Moment } from '@tangled-choir/core';
import { encodings } from '@tangled-choir/core';
import { wrongInput } from '../failure';

/** Files are dated like this, so that rendering twice gives the same bytes. */
export const moment: Moment = { date: '2020-01-01', time: '00:00:00' };

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

/** The address of a Redis: the option, or `REDIS_URL`; nothing where neither is there. */
export function redisOption(option: string | undefined): string | undefined {
  const url = option ?? (process.env['REDIS_URL'] || undefined);
  if (url !== undefined && !/^rediss?:\/\/\S+$/.test(url))
    throw wrongInput(`--redis is an address such as redis://localhost:6379, not “${url}”.`);
  return url;
}
