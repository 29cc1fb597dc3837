import type { Unit } from './units';

/** Hears how much of some work is done; false ends it. */
export type Progress = (share: Unit) => boolean;

/** Tells how much is done. Throws Cancelled where no more is wanted. */
export function report(progress: Progress | undefined, share: Unit): void {
  if (progress?.(share) === false) throw new Cancelled();
}

/** Work that was stopped from outside before it was done. */
export class Cancelled extends Error {
  override readonly name = 'Cancelled';
  constructor() {
    super('It was cancelled.');
  }
}
