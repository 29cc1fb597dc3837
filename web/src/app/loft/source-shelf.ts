import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, output, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import { RouterLink } from '@angular/router';
import type { Region, Source, Stretch } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { searchSources, sourceUses } from '../state/search-sources';
import { DocumentStore } from '../state/project/document.store';
import type { Placeable } from '../state/placeable';
import { placeable, placeableKey } from '../state/placeable';
import { Playback } from '../state/playback.store';
import { OpenMake } from '../sounds/open-make';
import { MenuAnchor } from '../ui/menu-anchor';
import { formatDuration } from '../ui/quantity';
import { roleColour } from '../ui/roles';
import { Waveform } from '../ui/waveform';
import { draggedSourceType } from './timeline/timeline';

/** A source, or a good part of one. */
interface ShelfEntry {
  readonly id: string;
  readonly source: Source;
  readonly region?: Region;
  readonly name: string;
  readonly length: string;
  /** What its waveform shows. */
  readonly frames: Stretch;
}

/** The sources and their good parts at hand while building: listen, drag to a lane, or place with a key. */
@Component({
  selector: 'tc-source-shelf',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatMenuModule, MatTooltipModule, MenuAnchor, RouterLink, ScrollingModule, Waveform],
  templateUrl: './source-shelf.html',
  styleUrl: './source-shelf.scss',
})
export class SourceShelf {
  /** Place as a new layer. */
  readonly asLayer = output<Placeable>();
  /** Place as a clip on the selected layer. */
  readonly asClip = output<Placeable>();
  /** Lay under the sound as its guide. */
  readonly asGuide = output<string>();
  protected readonly document = inject(DocumentStore);
  protected readonly making = inject(OpenMake);
  private readonly library = inject(AudioLibrary);
  private readonly playback = inject(Playback);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly menu = viewChild.required(MenuAnchor);
  /** What the menu was opened for. */
  protected readonly asked = signal<ShelfEntry | undefined>(undefined);
  protected readonly query = signal('');
  protected readonly roleColour = roleColour;
  protected readonly idOf = (_index: number, { id }: ShelfEntry): string => id;
  private readonly all = computed(() => this.document.project()?.sources ?? []);
  /** Not sought anew with every edit of a sound: there may be thousands. */
  protected readonly sources = computed(() => searchSources(this.all(), this.query(), () => new Set(this.uses().keys())));
  /** The sources, each with its good parts below it. */
  protected readonly entries = computed((): ShelfEntry[] =>
    this.sources().flatMap((source) => [this.entryOf(source), ...source.regions.map((region) => this.entryOf(source, region))]),
  );
  private readonly uses = computed(() => sourceUses(this.document.project()!));

  protected overview(source: Source) {
    return this.library.overview(source.audio);
  }

  protected isPlaying({ source, region }: ShelfEntry): boolean {
    return this.playback.auditioned() === (region ? `${source.name}: ${region.name}` : source.name);
  }

  protected listen({ source, region }: ShelfEntry): void {
    this.playback.auditionSource(source, region);
  }

  protected drag(event: DragEvent, { source, region }: ShelfEntry): void {
    event.dataTransfer?.setData(draggedSourceType, placeableKey(source, region));
  }

  protected place({ source, region }: ShelfEntry): void {
    this.asLayer.emit(placeable(source, region));
  }

  protected placeOnLayer({ source, region }: ShelfEntry): void {
    this.asClip.emit(placeable(source, region));
  }

  protected openMenu(event: MouseEvent, entry: ShelfEntry): void {
    event.preventDefault();
    this.asked.set(entry);
    this.menu().openAt({ x: event.clientX, y: event.clientY });
  }

  /** From the search field, the arrow down and Enter lead to the first of what was found. */
  protected leaveSearch(event: KeyboardEvent): void {
    if (event.key !== 'ArrowDown' && event.key !== 'Enter') return;
    event.preventDefault();
    this.host.nativeElement.querySelector<HTMLElement>('.row')?.focus();
  }

  protected key(event: KeyboardEvent, entry: ShelfEntry): void {
    if (event.key === 'Enter') this.listen(entry);
    else if (event.key === 'P') this.placeOnLayer(entry);
    else if (event.key === 'p') this.place(entry);
    else if (event.key === 'g') this.asGuide.emit(entry.source.id);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') this.moveFocus(event);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private entryOf(source: Source, region?: Region): ShelfEntry {
    const rate = this.document.project()?.sampleRate ?? 48_000;
    const { from, to } = region ?? { from: 0, to: source.frames / rate };
    return {
      id: placeableKey(source, region),
      source,
      ...(region && { region }),
      name: region?.name ?? source.name,
      length: formatDuration(to - from),
      frames: { from: from * rate, to: to * rate },
    };
  }

  private moveFocus(event: KeyboardEvent): void {
    const row = event.currentTarget;
    if (!(row instanceof HTMLElement)) return;
    const next = event.key === 'ArrowDown' ? row.nextElementSibling : row.previousElementSibling;
    if (next instanceof HTMLElement) next.focus();
  }
}
