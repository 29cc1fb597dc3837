import type { Decibels, NewNote, ParameterValue, PatchShape, Pin, Role, Seconds, StretchSettings } from '@tangled-choir/core';

/** A layer of recordings: where they lie, how loud, and what treats them. */
export interface Part {
  readonly source: string;
  readonly role?: Role;
  readonly name?: string;
  readonly gain?: number;
  readonly pan?: number;
  readonly clips: readonly {
    at: Seconds;
    speed?: number;
    gain?: number;
    from?: Seconds;
    to?: Seconds;
    fadeIn?: Seconds;
    fadeOut?: Seconds;
    stretch?: StretchSettings;
    pins?: readonly Pin[];
  }[];
  readonly eq?: Readonly<Record<string, ParameterValue>>;
  readonly compressor?: Readonly<Record<string, ParameterValue>>;
}

/** A patch of our own, where it is played, how long, and how loud. */
export interface MadePart {
  readonly preset: string;
  readonly at: Seconds;
  readonly name?: string;
  readonly gain: Decibels;
  readonly pan?: number;
  /** How much higher, longer and brighter than the preset. */
  readonly shape?: Partial<PatchShape>;
  /** Notes of its own in place of the preset's, and how long their clip is. */
  readonly notes?: readonly NewNote[];
  readonly length?: Seconds;
  readonly eq?: Readonly<Record<string, ParameterValue>>;
  readonly compressor?: Readonly<Record<string, ParameterValue>>;
}

export const lowCut = (frequency: number): Record<string, ParameterValue> => ({ band1On: true, band1Frequency: frequency });
