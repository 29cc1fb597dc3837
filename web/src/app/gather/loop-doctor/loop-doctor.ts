import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import type { LoopProposal, LoopTracks, SeamMeasure, Source, Stretch } from '@tangled-choir/core';
import { repeatLoop, repeatSeam, seconds, suitingCrossfade } from '@tangled-choir/core';
import type { StoredLoop } from '@tangled-choir/jobs';
import { JobCancelled } from '@tangled-choir/jobs';
import { AudioLibrary } from '../../engine/audio-library';
import { ProjectJobs } from '../../engine/project-jobs';
import { Playback } from '../../state/playback.store';
import { followPointer } from '../../ui/follow-pointer';
import { formatPlace } from '../../ui/quantity';
import { ValueField } from '../../ui/value-field';
import { Waveform } from '../../ui/waveform';
import { TrackChart } from './track-chart';

export interface LoopDoctorRequest {
  readonly source: Source;
  readonly sampleRate: number;
  /** Where to search; the whole source without it. */
  readonly within: Stretch | undefined;
}

interface Part extends Stretch {
  readonly crossfade: number;
}

/** Milliseconds of rest before a changed part is measured. */
const rest = 250;
const heardAround = 0.6;
/** Seconds. Nobody needs longer loops; of an hour, only so much is held. */
const longestProposal = 300;
const heardFor = 60;

/** Proposes the parts of a source that loop best, makes one of them seamless, and shows, and lets hear, what its seam is like. */
@Component({
  selector: 'tc-loop-doctor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatIconModule, MatProgressBarModule, TrackChart, ValueField, Waveform],
  templateUrl: './loop-doctor.html',
  styleUrl: './loop-doctor.scss',
})
export class LoopDoctor {
  private readonly request = inject<LoopDoctorRequest>(MAT_DIALOG_DATA);
  private readonly reference = inject<MatDialogRef<LoopDoctor, StoredLoop>>(MatDialogRef);
  private readonly library = inject(AudioLibrary);
  private readonly jobs = inject(ProjectJobs);
  private readonly playback = inject(Playback);
  private readonly picture = viewChild.required<ElementRef<HTMLElement>>('picture');

  protected readonly source = this.request.source;
  protected readonly total = this.source.frames / this.request.sampleRate;
  protected readonly tracks = signal<LoopTracks | undefined>(undefined);
  protected readonly proposals = signal<readonly LoopProposal[] | undefined>(undefined);
  protected readonly part = signal<Part | undefined>(undefined);
  protected readonly loop = signal<StoredLoop | undefined>(undefined);
  protected readonly problem = signal<string | undefined>(undefined);
  /** Nobody waits for the search once the dialog is closed. */
  private readonly leaving = new AbortController();
  /** Finished share of the search. */
  protected readonly searched = signal(0);

  protected readonly overview = computed(() => this.library.overview(this.source.audio));
  protected readonly crossfadeParameter = computed(() =>
    seconds({
      label: 'Crossfade',
      min: 0.001,
      max: Math.max(0.002, this.part() ? (this.part()!.to - this.part()!.from) / 4 : 1),
      default: 0.1,
    }),
  );
  protected readonly edgeParameter = { ...seconds({ label: 'Edge', min: 0, max: this.total, default: 0 }), scale: 'linear' as const };
  protected readonly seamRows = computed(() => {
    const report = this.loop()?.report;
    if (!report) return [];
    const row = (name: string, measured: SeamMeasure<number>, text: (value: number) => string) => ({
      name,
      seam: text(measured.seam),
      body: text(measured.body),
      fine: measured.seam <= measured.body,
    });
    return [
      row('Level step', report.level, (value) => `${value.toFixed(1)} dB`),
      ...(report.pitch ? [row('Pitch step', report.pitch, (value) => `${value.toFixed(2)} st`)] : []),
      row('Colour step', report.colour, (value) => `${value.toFixed(1)} st`),
      row('Sample step', report.jump, (value) => `${(value * 100).toFixed(1)} %`),
    ];
  });
  protected readonly decibels = (value: number): string => value.toFixed(0).replace('-', '−');
  protected readonly hertz = (value: number): string => (value >= 1_000 ? `${(value / 1_000).toFixed(1)}k` : value.toFixed(0));
  protected readonly heard = this.playback.auditioned;
  protected readonly formatPlace = formatPlace;

  constructor() {
    void this.search();
    effect((cleanUp) => {
      const part = this.part();
      if (!part) return;
      // What was made of another part is not offered any more.
      this.loop.set(undefined);
      const timer = setTimeout(() => void untracked(() => this.measure(part)), rest);
      cleanUp(() => clearTimeout(timer));
    });
    this.reference.beforeClosed().subscribe(() => {
      this.leaving.abort();
      if (this.heard()?.startsWith('Loop: ')) this.playback.stop();
    });
  }

  protected share(time: number): number {
    return (time / this.total) * 100;
  }

  protected choose({ from, to, crossfade }: LoopProposal): void {
    this.part.set({ from, to, crossfade });
  }

  protected isChosen({ from, to }: LoopProposal): boolean {
    return this.part()?.from === from && this.part()?.to === to;
  }

  protected change(change: Partial<Part>): void {
    this.part.update((part) => part && { ...part, ...change });
  }

  protected setEdge(edge: 'from' | 'to', time: number): void {
    const part = this.part();
    if (!part) return;
    const least = 0.05;
    const from = edge === 'from' ? Math.min(time, part.to - least) : part.from;
    const to = edge === 'to' ? Math.max(time, part.from + least) : part.to;
    this.part.set({ from, to, crossfade: Math.min(part.crossfade, (to - from) / 4) });
  }

  /** Drags the nearer end of the part, or draws a new part where there is none yet. */
  protected drag(event: PointerEvent): void {
    if (event.button !== 0) return;
    const box = this.picture().nativeElement.getBoundingClientRect();
    const timeAt = (clientX: number): number => Math.max(0, Math.min(1, (clientX - box.left) / box.width)) * this.total;
    const start = timeAt(event.clientX);
    const part = this.part();
    if (!part) return;
    const edge = Math.abs(start - part.from) < Math.abs(start - part.to) ? 'from' : 'to';
    this.setEdge(edge, start);
    followPointer(event, (moved) => this.setEdge(edge, timeAt(moved.clientX)));
  }

  protected listen(what: 'seam' | 'loop'): void {
    const loop = this.loop();
    if (!loop) return;
    const name = `Loop: ${what}`;
    if (this.heard() === name) {
      this.playback.stop();
      return;
    }
    const seamless = { audio: loop.audio, join: loop.join };
    this.playback.audition(name, what === 'seam' ? repeatSeam(seamless, heardAround, heardFor) : repeatLoop(seamless, heardFor));
  }

  protected accept(): void {
    const loop = this.loop();
    if (loop) this.reference.close(loop);
  }

  private async search(): Promise<void> {
    const { from, to } = this.request.within ?? { from: 0, to: this.total };
    try {
      const stored = await this.library.stored(this.source);
      const length = to - from;
      const wishes = { shortest: Math.min(1, length / 3), longest: Math.min(length, longestProposal), count: 6 };
      const found = await this.jobs.run('findLoops', { ...stored, from, to, wishes }, `Looking for loops in ${this.source.name}`, {
        signal: this.leaving.signal,
        onProgress: (share) => this.searched.set(share),
      });
      this.tracks.set(found.tracks);
      this.proposals.set(found.proposals);
      const [best] = found.proposals;
      this.part.set(
        best ? { from: best.from, to: best.to, crossfade: best.crossfade } : { from, to, crossfade: suitingCrossfade(0, length) },
      );
    } catch (error) {
      this.tell(error);
    }
  }

  private async measure(part: Part): Promise<void> {
    try {
      const stored = await this.library.stored(this.source);
      const loop = await this.jobs.run('joinLoop', { ...stored, source: this.source, part }, 'Joining the loop', { quiet: true });
      if (this.part() === part) this.loop.set(loop);
    } catch (error) {
      this.tell(error);
    }
  }

  private tell(error: unknown): void {
    if (error instanceof JobCancelled) this.reference.close();
    else this.problem.set(error instanceof Error ? error.message : String(error));
  }
}
