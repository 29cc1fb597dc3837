import { inject, Injectable, signal } from '@angular/core';
import type { Region, Source, Stretch } from '@tangled-choir/core';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from '../state/project/document.store';
import { PlaceInLoft } from '../state/place-in-loft';
import { placeable } from '../state/placeable';
import { Playback } from '../state/playback.store';
import { formatPlace } from '../ui/quantity';

/** The good parts of the source that is looked at: which one is chosen, changing them, and hearing parts of the source. */
@Injectable()
export class SourceRegions {
  private readonly document = inject(DocumentStore);
  private readonly engine = inject(LiveEngine);
  private readonly playback = inject(Playback);
  private readonly placing = inject(PlaceInLoft);
  readonly chosen = signal<string | undefined>(undefined);
  /** What somebody asked to see: the close-up brings it into view. */
  readonly sought = signal<Stretch | undefined>(undefined);
  /** Where what is heard begins in the source, in seconds. */
  private readonly heardFrom = signal(0);
  /** True when a part of the source is heard for its own sake, and not the source from somewhere on. */
  private readonly heardApart = signal(false);

  add(source: Source, { from, to }: Stretch): void {
    const { id, regions } = source;
    if (!this.document.edit('addRegions', { source: id, regions: [{ name: `Part ${regions.length + 1}`, from, to }] })) return;
    const before = new Set(regions.map((region) => region.id));
    const after = this.document.project()?.sources.find((candidate) => candidate.id === id)?.regions ?? [];
    this.chosen.set(after.find((region) => !before.has(region.id))?.id);
  }

  change(source: Source, region: Region, change: Partial<Omit<Region, 'id'>>, gesture?: string): void {
    this.document.edit('setRegion', { source: source.id, region: region.id, change }, gesture);
  }

  /** Moves an edge on from where it is, which may be further than what is drawn by now. */
  moveEdge(source: Source, region: Region, edge: 'from' | 'to', by: number): void {
    const regions = this.document.project()?.sources.find(({ id }) => id === source.id)?.regions;
    const current = regions?.find(({ id }) => id === region.id) ?? region;
    this.change(source, region, { [edge]: current[edge] + by });
  }

  remove(source: Source, regions: readonly Region[]): void {
    this.document.edit('removeRegions', { source: source.id, regions: regions.map(({ id }) => id) });
  }

  place(source: Source, region: Region): void {
    this.placing.asLayer(placeable(source, region));
  }

  choose({ id, from, to }: Region): void {
    this.chosen.set(id);
    this.sought.set({ from, to });
  }

  play(source: Source, region: Region): void {
    this.choose(region);
    this.playPart(source, region, region.name);
  }

  playFrom(source: Source, time: number, end: number): void {
    this.playPart(source, { from: time, to: end }, `from ${formatPlace(time)}`);
    this.heardApart.set(false);
  }

  playPart(source: Source, { from, to }: Stretch, name: string): void {
    this.heardFrom.set(from);
    this.heardApart.set(true);
    this.playback.auditionSource(source, { from, to, name });
  }

  /** Where in a source, in seconds, what is heard stands; undefined when it is not heard. */
  playheadIn({ name }: Source): number | undefined {
    const heard = this.playback.auditioned();
    if (heard === name) return this.engine.position();
    return heard?.startsWith(`${name}: `) ? this.engine.position() + this.heardFrom() : undefined;
  }

  /** The same, to be followed: undefined, too, while a part is heard, which has its place in view. */
  pageIn(source: Source): number | undefined {
    const whole = this.playback.auditioned() === source.name;
    return whole || !this.heardApart() ? this.playheadIn(source) : undefined;
  }
}
