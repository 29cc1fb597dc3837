import { CdkVirtualScrollViewport, ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { Source } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { isTyping } from '../frame/shortcuts';
import { DocumentStore } from '../state/document.store';
import { Notices } from '../state/notices';
import { Playback } from '../state/playback';
import { PlaceInLoft } from '../state/place-in-loft';
import type { ImportFailure } from '../state/project-transfer';
import { ProjectTransfer } from '../state/project-transfer';
import { WorkbenchStore } from '../state/workbench.store';
import { formatLevel } from '../ui/quantity';
import { RoleGlyph } from '../ui/role-glyph';
import { roleColour } from '../ui/roles';
import { Waveform } from '../ui/waveform';
import { searchSources, sourceUses } from './search-sources';
import { SourceInspector } from './source-inspector';

/** The project's sources: bring them in, find them, listen, keep them in order. */
@Component({
  selector: 'tc-gather-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatProgressBarModule, MatTooltipModule, RoleGlyph, ScrollingModule, SourceInspector, Waveform],
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

  private readonly inspector = viewChild(SourceInspector);
  private readonly viewport = viewChild(CdkVirtualScrollViewport);
  protected readonly query = signal('');
  protected readonly dropping = signal(false);
  protected readonly importing = signal(0);
  protected readonly failures = signal<readonly ImportFailure[]>([]);
  protected readonly notes = signal<readonly string[]>([]);
  protected readonly project = this.document.project;
  protected readonly uses = computed(() =>
    this.project() ? sourceUses(this.project()!) : new Map<string, { sound: string; clips: number }[]>(),
  );
  protected readonly sources = computed(() => searchSources(this.project()?.sources ?? [], this.query(), new Set(this.uses().keys())));
  protected readonly selected = computed(() => this.workbench.source() ?? this.sources()[0]);
  protected readonly roleColour = roleColour;
  protected readonly trackById = (_index: number, source: Source): string => source.id;

  protected overview(source: Source) {
    return this.library.get(source.audio)?.overview;
  }

  protected length(source: Source): string {
    return `${(source.frames / (this.project()?.sampleRate ?? 48_000)).toFixed(2)} s`;
  }

  protected level(source: Source): string {
    const missing = this.library.missing().get(source.audio);
    const measured = this.library.get(source.audio)?.measured;
    return missing ? 'missing' : measured ? formatLevel(measured.integratedLufs, 'LUFS') : '…';
  }

  protected isPlaying(source: Source): boolean {
    return this.playback.auditioned() === source.name;
  }

  protected useText(source: Source): string {
    return (this.uses().get(source.id) ?? []).map((use) => use.sound).join(', ') || 'unused';
  }

  protected async importFiles(list: FileList | readonly File[] | null): Promise<void> {
    const files = [...(list ?? [])];
    if (files.length === 0) return;
    this.importing.update((count) => count + files.length);
    try {
      const { imported, failures, notes } = await this.transfer.importFiles(files);
      this.failures.set(failures);
      this.notes.set(notes);
      if (imported > 0) {
        this.notices.info(imported === 1 ? 'One source imported.' : `${imported} sources imported.`);
        this.workbench.selectSource(this.project()?.sources.at(-1)?.id);
      }
    } finally {
      this.importing.update((count) => count - files.length);
    }
  }

  protected audition(source: Source): void {
    this.workbench.selectSource(source.id);
    const loaded = this.library.get(source.audio);
    if (this.isPlaying(source)) this.playback.stop();
    else if (loaded) this.playback.audition(source.name, loaded.audio);
  }

  protected place(source: Source): void {
    this.placing.asLayer(source.id);
  }

  protected remove(source: Source): void {
    const index = this.sources().indexOf(source);
    if (this.document.edit('removeSource', { source: source.id }))
      this.workbench.selectSource(this.sources()[Math.min(index, this.sources().length - 1)]?.id);
  }

  protected key(event: KeyboardEvent): void {
    if (isTyping(event) || event.ctrlKey || event.altKey || event.metaKey) return;
    const list = this.sources();
    const source = this.selected();
    if (!source) return;
    const index = list.indexOf(source);
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const target = Math.max(0, Math.min(list.length - 1, index + (event.key === 'ArrowDown' ? 1 : -1)));
      this.workbench.selectSource(list[target]?.id);
      const row = document.getElementById(`row-${list[target]?.id ?? ''}`);
      // Rows far outside the view are not in the page.
      if (row) row.scrollIntoView({ block: 'nearest' });
      else this.viewport()?.scrollToIndex(target);
    } else if (event.key === 'Enter') this.audition(source);
    else if (event.key === 'F2') this.inspector()?.startRenaming();
    else if (event.key.toLowerCase() === 'p') this.place(source);
    else if (event.key === 'Delete') this.remove(source);
    else return;
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
    void this.importFiles(event.dataTransfer?.files ?? null);
  }
}
