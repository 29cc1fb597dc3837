import type { Region, Source, Stretch } from '@tangled-choir/core';

/** A source, or a good part of one, on its way into a sound. */
export interface Placeable {
  readonly source: string;
  /** What a layer that is made of it is called. */
  readonly name?: string;
  readonly part?: Stretch;
}

export function placeable(source: Source, region?: Region): Placeable {
  if (!region) return { source: source.id };
  return { source: source.id, name: `${source.name} · ${region.name}`, part: { from: region.from, to: region.to } };
}

/** What a drag carries of it. */
export function placeableKey(source: Source, region?: Region): string {
  return region ? `${source.id} ${region.id}` : source.id;
}

/** What a drag carried; undefined when that is not there any more. */
export function placeableOf(sources: readonly Source[], key: string): Placeable | undefined {
  const [sourceId, regionId] = key.split(' ');
  const source = sources.find(({ id }) => id === sourceId);
  const region = source?.regions.find(({ id }) => id === regionId);
  return source && (regionId === undefined || region) ? placeable(source, region) : undefined;
}
