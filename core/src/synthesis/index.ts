import type { PartKind } from './part';
import { body } from './parts/body';
import { drop } from './parts/drop';
import { grains } from './parts/grains';
import { noise } from './parts/noise';
import { oscillator } from './parts/oscillator';
import { sweep } from './parts/sweep';
import { table } from './parts/table';
import { take } from './parts/take';

/** All kinds of parts, in the order in which they are offered. */
export const partKinds: readonly PartKind[] = [oscillator, table, noise, body, drop, sweep, grains, take];

export const partsById: ReadonlyMap<string, PartKind> = new Map(partKinds.map((kind) => [kind.id, kind]));
