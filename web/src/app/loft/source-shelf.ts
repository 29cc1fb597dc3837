import { ScrollingModule } from '@angular/cdk/scrolling';
import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { Source } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { searchSources, sourceUses } from '../gather/search-sources';
import { DocumentStore } from '../state/document.store';
import { Playback } from '../state/playback';
import { formatDuration } from '../ui/quantity';
import { roleColour } from '../ui/roles';
import { Waveform } from '../ui/waveform';
import { draggedSourceType } from './timeline';

/** The sources at hand while building: listen, drag to a lane, or place with a key. */
@Component({
  selector: 'tc-source-shelf',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, RouterLink, ScrollingModule, Waveform],
  templateUrl: './source-shelf.html',
  styleUrl: './source-shelf.scss',
})
export class SourceShelf {
  /** Place as a new layer. */
  readonly asLayer = output<string>();
  /** Place as a clip on the selected layer. */
  readonly asClip = output<string>();
  protected readonly document = inject(DocumentStore);
  private readonly library = inject(AudioLibrary);
  private readonly playback = inject(Playback);
  protected readonly query = signal('');
  protected readonly roleColour = roleColour;
  private readonly all = computed(() => this.document.project()?.sources ?? []);
  /** Not sought anew with every edit of a sound: there may be thousands. */
  protected readonly sources = computed(() => searchSources(this.all(), this.query(), () => new Set(this.uses().keys())));
  private readonly uses = computed(() => sourceUses(this.document.project()!));

  protected overview(source: Source) {
    return this.library.overview(source.audio);
  }

  protected seconds(source: Source): string {
    return formatDuration(source.frames / (this.document.project()?.sampleRate ?? 48_000));
  }

  protected isPlaying(source: Source): boolean {
    return this.playback.auditioned() === source.name;
  }

  protected listen(source: Source): void {
    this.playback.auditionSource(source);
  }

  protected drag(event: DragEvent, source: Source): void {
    event.dataTransfer?.setData(draggedSourceType, source.id);
  }

  protected key(event: KeyboardEvent, source: Source): void {
    if (event.key === 'Enter') this.listen(source);
    else if (event.key === 'P') this.asClip.emit(source.id);
    else if (event.key === 'p') this.asLayer.emit(source.id);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') this.moveFocus(event);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private moveFocus(event: KeyboardEvent): void {
    const row = event.currentTarget;
    if (!(row instanceof HTMLElement)) return;
    const next = event.key === 'ArrowDown' ? row.nextElementSibling : row.previousElementSibling;
    if (next instanceof HTMLElement) next.focus();
  }
}
