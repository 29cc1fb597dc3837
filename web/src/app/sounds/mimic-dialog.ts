import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { Mimicry, Source, Stretch } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { ProjectJobs } from '../engine/project-jobs';
import { PlaceInLoft } from '../state/place-in-loft';
import { Playback } from '../state/playback.store';

/** A source, and which part of it is to be mimicked, in seconds. */
export interface MimicRequest {
  readonly source: Source;
  readonly part: Stretch;
}

/** A difference of so many decibels is heard as another sound, one of so many hardly at all. */
const far = 12;
const near = 4;

/** Makes a patch that comes near to a recording: shows how far it is, lets both be heard, and keeps it as a made layer. */
@Component({
  selector: 'tc-mimic-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatIconModule, MatProgressBarModule],
  templateUrl: './mimic-dialog.html',
  styleUrl: './mimic-dialog.scss',
})
export class MimicDialog {
  protected readonly request = inject<MimicRequest>(MAT_DIALOG_DATA);
  private readonly jobs = inject(ProjectJobs);
  private readonly library = inject(AudioLibrary);
  private readonly playback = inject(Playback);
  private readonly placing = inject(PlaceInLoft);
  private readonly dialog = inject<MatDialogRef<MimicDialog>>(MatDialogRef);
  private readonly ended = new AbortController();
  protected readonly share = signal(0);
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly found = signal<Mimicry | undefined>(undefined);
  private readonly heardAs = `Mimicked: ${this.request.source.name}`;
  protected readonly playingMade = computed(() => this.playback.auditioned() === this.heardAs);
  protected readonly playingSource = computed(() => this.playback.auditioned() === this.sourcePart.name);
  /** How near it is, as a part of the way from plain noise to the recording itself. */
  protected readonly nearness = computed(() => {
    const found = this.found();
    return found ? Math.max(0, Math.min(1, 1 - found.distance / Math.max(1, found.ofNoise))) : 0;
  });
  protected readonly verdict = computed(() => {
    const { distance } = this.found() ?? { distance: 0 };
    if (distance < near) return 'It comes near.';
    return distance < far ? 'It is alike, but can be told apart.' : 'It is another sound; a starting point at most.';
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      this.ended.abort();
      if (this.playingMade() || this.playingSource()) this.playback.stop();
    });
    void this.mimic();
  }

  private get sourcePart() {
    const { source, part } = this.request;
    return { name: `${source.name}: the original`, ...part };
  }

  private async mimic(): Promise<void> {
    const { source, part } = this.request;
    try {
      const stored = await this.library.stored(source);
      const options = { signal: this.ended.signal, onProgress: (share: number) => this.share.set(share) };
      this.found.set(await this.jobs.run('mimic', { ...stored, from: part.from, to: part.to }, `Mimicking ${source.name}`, options));
    } catch (error) {
      this.problem.set(error instanceof Error ? error.message : String(error));
    }
  }

  protected hearSource(): void {
    const { source } = this.request;
    if (this.playingSource()) this.playback.stop();
    else this.playback.auditionSource(source, { ...this.sourcePart, name: 'the original' });
  }

  protected async hearMade(): Promise<void> {
    const found = this.found();
    if (this.playingMade()) this.playback.stop();
    else if (found) {
      // Whoever has closed it does not want to hear it any more.
      const audio = await this.jobs.run('make', found, this.heardAs, { quiet: true, signal: this.ended.signal }).catch(() => undefined);
      if (audio) this.playback.audition(this.heardAs, audio);
    }
  }

  protected keep(): void {
    const found = this.found();
    if (!found) return;
    const { source } = this.request;
    this.playback.stop();
    this.placing.asMadeLayer({ name: `${source.name}, mimicked`, role: source.role ?? 'Body', ...found });
    this.dialog.close();
  }
}
