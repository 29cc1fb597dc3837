import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { RouterLink } from '@angular/router';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Source } from '@tangled-choir/core';
import { characterDistance } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { isTyping } from '../ui/typing';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { Playback } from '../state/playback.store';
import { PlaceInLoft } from '../state/place-in-loft';
import type { FileToImport, ImportFailure } from '../state/project/project-transfer.store';
import { ProjectTransfer } from '../state/project/project-transfer.store';
import { WorkbenchStore } from '../state/workbench.store';
import { formatDuration, formatLevel } from '../ui/quantity';
import { RoleGlyph } from '../ui/role-glyph';
import { roleColour } from '../ui/roles';
import { newGesture } from '../ui/value-field';
import { Waveform } from '../ui/waveform';
import type { CharacterBox, MapPoint } from './character-map';
import { CharacterMap, isInside } from './character-map';
import { CloseUp } from './close-up/close-up';
import { chosenFiles, droppedFiles } from './dropped-files';
import { facets, toggleFacet } from './facets';
import { OpenMake } from '../sounds/open-make';
import { RecordPanel } from '../sounds/record-panel';
import { searchSources, sourceUses } from '../state/search-sources';
import { SourceChoice } from './source-choice';
import { SourceInspector } from './source-inspector';
import { SourcesInspector } from './sources-inspector';
import { gatherProviders } from './gather-providers';

const shownArriving = 6;

/** The project's sources: bring them in, find them by word and by character, listen, keep them in order. */
@Component({
  selector: 'tc-gather-view',
  providers: gatherProviders,
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    CharacterMap,
    CloseUp,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatProgressBarModule,
    RouterLink,
    MatTooltipModule,
    RecordPanel,
    RoleGlyph,
    ScrollingModule,
    SourceInspector,
    SourcesInspector,
    Waveform,
  ],
  templateUrl: './gather-view.html',
  styleUrl: './gather-view.scss',
  host: {
    '(document:keydown)': 'key($event)',
    '(dragenter)': 'dragOver($event)',
    '(dragover)': 'dragOver($event)',
    '(dragleave)': 'dragLeave($event)',
    '(drop)': 'drop($event)',
    '[class.dropping]': 'dropping()',
  },
})
export class GatherView {
  private readonly document = inject(DocumentStore);
  private readonly transfer = inject(ProjectTransfer);
  private readonly library = inject(AudioLibrary);
  private readonly playback = inject(Playback);
  private readonly placing = inject(PlaceInLoft);
  private readonly notices = inject(Notices);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly choice = inject(SourceChoice);

  private readonly inspector = viewChild(SourceInspector);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly formatDuration = formatDuration;
  protected readonly query = signal('');
  protected readonly chosenFacets = signal<ReadonlySet<string>>(new Set());
  protected readonly box = signal<CharacterBox | undefined>(undefined);
  /** The source that others are ranked by their likeness to. */
  protected readonly alikeTo = signal<string | undefined>(undefined);
  protected readonly hoverPlays = signal(true);
  protected readonly recording = signal(false);
  protected readonly making = inject(OpenMake);
  protected readonly dropping = signal(false);
  protected readonly importing = signal(0);
  /** Those at work, and some that wait. */
  protected readonly arriving = computed(() => this.transfer.arriving().slice(0, shownArriving));
  protected readonly waitingFiles = computed(() => this.transfer.arriving().length - this.arriving().length);
  protected readonly failures = signal<readonly ImportFailure[]>([]);
  protected readonly notes = signal<readonly string[]>([]);
  protected readonly project = this.document.project;
  protected readonly facets = facets;
  protected readonly uses = computed(() =>
    this.project() ? sourceUses(this.project()!) : new Map<string, { sound: string; clips: number }[]>(),
  );
  /** Found by words and facets, before the box of the map. */
  private readonly matching = computed(() => {
    const used = new Set(this.uses().keys());
    const chosen = facets.filter((facet) => this.chosenFacets().has(facet.id));
    const facts = this.library.allFacts();
    const rate = this.project()?.sampleRate ?? 48_000;
    return searchSources(this.project()?.sources ?? [], this.query(), () => used).filter((source) => {
      const subject = { source, seconds: source.frames / rate, facts: facts.get(source.audio), used: used.has(source.id) };
      return chosen.every((facet) => facet.matches(subject));
    });
  });
  protected readonly sources = computed(() => {
    const box = this.box();
    const facts = this.library.allFacts();
    const found = box
      ? this.matching().filter((source) => {
          const known = facts.get(source.audio);
          return known && isInside(known, box);
        })
      : this.matching();
    const model = this.alikeSource();
    const print = model && facts.get(model.audio)?.character.fingerprint;
    if (!print) return found;
    const distance = new Map(
      found.map((source) => [source.id, characterDistance(print, facts.get(source.audio)?.character.fingerprint ?? [])]),
    );
    const measured = found.filter((source) => facts.has(source.audio));
    return measured.sort((a, b) => distance.get(a.id)! - distance.get(b.id)!);
  });
  protected readonly alikeSource = computed(() => this.project()?.sources.find((source) => source.id === this.alikeTo()));
  protected readonly points = computed((): MapPoint[] => {
    const facts = this.library.allFacts();
    const found = new Set(this.matching().map((source) => source.id));
    return (this.project()?.sources ?? []).flatMap((source): MapPoint[] => {
      const known = facts.get(source.audio);
      return known ? [{ source, facts: known, found: found.has(source.id) }] : [];
    });
  });
  protected readonly measuring = computed(() => (this.project()?.sources.length ?? 0) - this.points().length);
  protected readonly filtered = computed(() => this.query() !== '' || this.chosenFacets().size > 0 || this.box() !== undefined);
  protected readonly selected = computed(() => this.workbench.source() ?? this.sources()[0]);
  /** Without a source there is nothing to look at. */
  protected readonly closeUp = computed(() => this.workbench.closeUp() && this.selected() !== undefined);
  protected readonly roleColour = roleColour;
  protected readonly trackById = (_index: number, source: Source): string => source.id;

  protected overview(source: Source) {
    return this.library.overview(source.audio);
  }

  protected length(source: Source): string {
    return formatDuration(source.frames / (this.project()?.sampleRate ?? 48_000));
  }

  protected level(source: Source): string {
    const missing = this.library.missing().get(source.audio);
    const measured = this.library.facts(source.audio)?.measured;
    return missing ? 'missing' : measured ? formatLevel(measured.integratedLufs, 'LUFS') : '…';
  }

  protected defects(source: Source): string {
    const count = this.library.facts(source.audio)?.character.defects.length ?? 0;
    return count === 0 ? '' : count === 1 ? '1 defect' : `${count} defects`;
  }

  protected isPlaying(source: Source): boolean {
    return this.playback.auditioned() === source.name;
  }

  protected toggleFacet(id: string): void {
    this.chosenFacets.update((chosen) => toggleFacet(chosen, id));
  }

  protected showAll(): void {
    this.query.set('');
    this.chosenFacets.set(new Set());
    this.box.set(undefined);
  }

  protected importChosen(input: HTMLInputElement): void {
    void this.importFiles(chosenFiles(input.files));
    input.value = '';
  }

  private async importFiles(files: readonly FileToImport[]): Promise<void> {
    if (files.length === 0) return;
    this.importing.update((count) => count + files.length);
    try {
      const { sources, failures, notes } = await this.transfer.importFiles(files);
      this.failures.set(failures);
      this.notes.set(notes);
      if (sources.length > 0) {
        this.notices.info(sources.length === 1 ? 'One source imported.' : `${sources.length} sources imported.`);
        this.workbench.selectSource(sources.at(-1));
      }
    } finally {
      this.importing.update((count) => count - files.length);
    }
  }

  /** Those that are chosen, or the one that is looked at. */
  private readonly atHand = computed((): readonly Source[] => {
    const several = this.choice.several();
    const one = this.selected();
    return several.length > 0 ? several : one ? [one] : [];
  });
  protected readonly usedOfChosen = computed(() => this.choice.several().filter(({ id }) => this.uses().has(id)).length);

  protected audition(source: Source): void {
    this.workbench.selectSource(source.id);
    this.playback.auditionSource(source);
  }

  /** Resting on a point of the map plays it, unless the sound that is being built plays. */
  protected rest(source: Source): void {
    if (!this.hoverPlays() || (this.playback.playing() && this.playback.auditioned() === undefined)) return;
    if (!this.isPlaying(source)) this.playback.auditionSource(source);
  }

  protected show(source: Source): void {
    this.choice.only(source);
    // A new source makes the list longer only with the next frame.
    requestAnimationFrame(() => this.viewport()?.scrollToIndex(Math.max(0, this.sources().indexOf(source) - 2)));
  }

  protected place(sources: readonly Source[]): void {
    const gesture = newGesture();
    for (const source of sources) this.placing.asLayer({ source: source.id }, gesture);
  }

  protected rankAlike(source: Source): void {
    this.alikeTo.set(source.id);
    this.viewport()?.scrollToIndex(0);
  }

  protected remove(sources: readonly Source[]): void {
    const index = this.sources().indexOf(sources[0]!);
    if (this.document.edit('removeSources', { sources: sources.map(({ id }) => id) }))
      this.workbench.selectSource(this.sources()[Math.min(index, this.sources().length - 1)]?.id);
  }

  protected removeUnused(): void {
    this.document.edit('removeSources', { sources: this.sources().map((source) => source.id) });
  }

  /** Nothing was imported, and nothing is on its way. */
  protected readonly nothingYet = computed(() => this.project()?.sources.length === 0);

  /** From the search field, the arrow down and Enter lead to the first of what was found. */
  protected leaveSearch(event: KeyboardEvent): void {
    const [first] = this.sources();
    if ((event.key !== 'ArrowDown' && event.key !== 'Enter') || !first) return;
    event.preventDefault();
    event.stopPropagation();
    this.workbench.selectSource(first.id);
    this.viewport()?.scrollToIndex(0);
    document.getElementById(`row-${first.id}`)?.focus();
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.altKey) return;
    if (event.key.toLowerCase() === 'm' && !event.ctrlKey && !event.metaKey) {
      this.making.open();
      event.preventDefault();
      return;
    }
    const list = this.sources();
    const source = this.selected();
    if (!source) return;
    if (event.ctrlKey || event.metaKey) {
      if (event.key.toLowerCase() !== 'a') return;
      this.choice.all(list);
      event.preventDefault();
      return;
    }
    const index = list.indexOf(source);
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const target = Math.max(0, Math.min(list.length - 1, index + (event.key === 'ArrowDown' ? 1 : -1)));
      if (list[target]) this.choice.press(list, list[target], event);
      const row = document.getElementById(`row-${list[target]?.id ?? ''}`);
      // Rows far outside the view are not in the page.
      if (row) row.scrollIntoView({ block: 'nearest' });
      else this.viewport()?.scrollToIndex(target);
    } else if (event.key === 'Enter') this.audition(source);
    else if (event.key === 'F2') this.inspector()?.startRenaming();
    else if (event.key.toLowerCase() === 'p') this.place(this.atHand());
    else if (event.key.toLowerCase() === 'a') this.rankAlike(source);
    else if (event.key.toLowerCase() === 'z') this.workbench.setCloseUp(!this.workbench.closeUp());
    else if (event.key === 'Delete') this.remove(this.atHand());
    else if (event.key === 'Escape') {
      this.choice.clear();
      this.alikeTo.set(undefined);
      this.box.set(undefined);
    } else return;
    event.preventDefault();
  }

  protected dragOver(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    this.dropping.set(true);
  }

  protected dragLeave(event: DragEvent): void {
    if (event.relatedTarget === null) this.dropping.set(false);
  }

  protected drop(event: DragEvent): void {
    event.preventDefault();
    this.dropping.set(false);
    droppedFiles(event.dataTransfer).then(
      (files) => this.importFiles(files),
      () => this.notices.error('What was dropped could not be read.'),
    );
  }
}
