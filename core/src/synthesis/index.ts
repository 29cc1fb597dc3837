import type { PartKind } from './part';
import { body } from './parts/body';
import { grains } from './parts/grains';
import { noise } from './parts/noise';
import { oscillator } from './parts/oscillator';
import { take } from './parts/take';

/** All kinds of parts, in the order in which they are offered. */
export const partKinds: readonly PartKind[] = [oscillator, noise, body, grains, take];

export const partsById: ReadonlyMap<string, PartKind> = new Map(partKinds.map((kind) => [kind.id, kind]));
