import type { NumberParameter, Pull, Sound } from '@tangled-choir/core';
import { axisOf, effectCatalogue, findProperty, isPulledOfClip, offsetUnit, ownerOfAddress, pullReach } from '@tangled-choir/core';
import { group } from 'd3';
import type { ShownScale } from '../../ui/quantity';

/** What a mover pulls: one property, or the same one of several clips of a layer that are pulled alike. */
export interface PullRow {
  /** Tells the row apart from others. */
  readonly key: string;
  readonly addresses: readonly string[];
  readonly depth: number;
  readonly shape: { readonly from: number; readonly to: number; readonly bend: number };
  readonly parameter: NumberParameter;
  readonly scale: ShownScale;
  readonly label: string;
}

/** The pulls of one mover as rows, in their order. */
export function pullRows(sound: Sound, pulls: readonly Pull[]): readonly PullRow[] {
  return [...group(pulls, alike).values()].flatMap((row) => rowOf(sound, row) ?? []);
}

/** Clips of a layer that are pulled as far and in the same way share a row. */
function alike({ address, depth, from, to, bend }: Pull): string {
  if (!isPulledOfClip(address)) return address;
  return JSON.stringify([ownerOfAddress(address), address.split('/').at(-1), depth, from, to, bend]);
}

function rowOf(sound: Sound, pulls: readonly Pull[]): PullRow | undefined {
  const { address, depth, from = 0, to = 1, bend = 0 } = pulls[0]!;
  const property = findProperty(sound, address, effectCatalogue);
  const axis = property && axisOf(property.parameter);
  if (!property || !axis) return undefined;
  const reach = pullReach(axis);
  const unit = offsetUnit(axis);
  // Shares are stored from 0 to 1, but percent of a logarithmic value are counted as they are.
  const factor = unit === '%' && axis.scale !== 'log' ? 100 : 1;
  const owner = pulls.length === 1 ? property.owner : `${property.layer?.name ?? property.owner} · ${pulls.length} clips`;
  return {
    // A depth that is dragged must not make another row of it.
    key: pulls.map((pull) => pull.address).join(),
    addresses: pulls.map((pull) => pull.address),
    depth,
    shape: { from, to, bend },
    parameter: {
      kind: 'number',
      label: 'Depth',
      unit: factor === 1 && unit === '%' ? '' : unit,
      min: -reach,
      max: reach,
      default: 0,
      scale: 'linear',
    },
    scale: { unit, factor, digits: unit === '' || unit === 's' ? 3 : 1, signed: true },
    label: `${owner}: ${property.parameter.label.toLowerCase()}`,
  };
}
