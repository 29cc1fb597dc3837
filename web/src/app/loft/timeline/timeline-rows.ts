import type { AutomationLane, Bus, Guide, Layer, Property, Sound } from '@tangled-choir/core';
import { effectCatalogue, findProperty, ownerOfAddress } from '@tangled-choir/core';
import type { LaneKind } from '../../state/lane-heights.store';

/** Heights of rows in pixels that are always the same. */
export const busHeight = 28;
export const guideHeight = 52;

/** The height of a lane, by its id. */
export type HeightOf = (id: string, kind: LaneKind) => number;

interface Place {
  /** What it is known by in the page. */
  readonly key: string;
  readonly top: number;
  readonly height: number;
}

/** What the timeline shows from top to bottom. */
export type Row = Place &
  (
    | { readonly kind: 'guide'; readonly guide: Guide }
    | { readonly kind: 'layer'; readonly layer: Layer; readonly index: number; readonly grouped: boolean }
    | { readonly kind: 'notes'; readonly layer: Layer; readonly grouped: boolean }
    | { readonly kind: 'bus'; readonly bus: Bus; readonly folded: boolean; readonly layers: number }
    | { readonly kind: 'whole' }
    | { readonly kind: 'lane'; readonly lane: AutomationLane; readonly property: Property; readonly grouped: boolean }
  );

type Content = Row extends infer R ? (R extends Row ? Omit<R, keyof Place> : never) : never;

/**
 * Rows of a sound: its guide, its layers, each group above its own, shared buses and the whole sound below; automation lanes under what they move,
 * where they are open, and the notes of a made layer.
 */
export function timelineRows(
  sound: Sound,
  open: ReadonlySet<string>,
  folded: ReadonlySet<string>,
  heightOf: HeightOf,
  noted?: string,
): Row[] {
  const rows: Row[] = [];
  let top = 0;
  const add = (key: string, height: number, content: Content): void => {
    rows.push({ key, top, height, ...content });
    top += height;
  };
  const lanes = lanesByOwner(sound);
  const addLanes = (owner: string, grouped: boolean): void => {
    if (!open.has(owner)) return;
    for (const { lane, property } of lanes.get(owner) ?? [])
      add(lane.id, heightOf(lane.id, 'automation'), { kind: 'lane', lane, property, grouped });
  };
  const addBus = (bus: Bus, isFolded: boolean, layers: number): void => {
    add(bus.id, busHeight, { kind: 'bus', bus, folded: isFolded, layers });
    addLanes(`bus/${bus.id}`, false);
  };
  if (sound.guide) add('guide', guideHeight, { kind: 'guide', guide: sound.guide });
  const seen = new Set<string>();
  sound.layers.forEach((layer, index) => {
    const group = sound.buses.find((bus) => bus.id === layer.group);
    if (group && !seen.has(group.id)) {
      seen.add(group.id);
      addBus(group, folded.has(group.id), sound.layers.filter((other) => other.group === group.id).length);
    }
    if (group && folded.has(group.id)) return;
    add(layer.id, heightOf(layer.id, 'layer'), { kind: 'layer', layer, index, grouped: group !== undefined });
    if (layer.patch && noted === layer.id)
      add(notesKey(layer.id), heightOf(notesKey(layer.id), 'notes'), { kind: 'notes', layer, grouped: group !== undefined });
    addLanes(`layer/${layer.id}`, group !== undefined);
  });
  const shared = sound.buses.filter((bus) => bus.kind === 'shared');
  for (const bus of shared) addBus(bus, false, 0);
  if (shared.length > 0 || lanes.has('sound')) {
    add('whole', busHeight, { kind: 'whole' });
    addLanes('sound', false);
  }
  return rows;
}

/** What the notes of a layer are known by among the rows. */
export function notesKey(layer: string): string {
  return `${layer} notes`;
}

/** The lanes of a sound by the address of the layer or bus whose property they move, or `sound`. */
function lanesByOwner(sound: Sound): Map<string, { lane: AutomationLane; property: Property }[]> {
  const byOwner = new Map<string, { lane: AutomationLane; property: Property }[]>();
  for (const lane of sound.automation) {
    const property = findProperty(sound, lane.address, effectCatalogue);
    if (!property) continue;
    const owner = ownerOfAddress(lane.address);
    byOwner.set(owner, [...(byOwner.get(owner) ?? []), { lane, property }]);
  }
  return byOwner;
}
