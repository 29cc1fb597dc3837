import { booleanAttribute, ChangeDetectionStrategy, Component, computed, DestroyRef, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatIconModule } from '@angular/material/icon';
import type { Source } from '@tangled-choir/core';
import { LiveEngine } from '../engine/live/live-engine';
import { Recorder } from '../engine/record/recorder';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { Playback } from '../state/playback.store';
import { ProjectTransfer } from '../state/project/project-transfer.store';
import { WorkbenchStore } from '../state/workbench.store';
import { ChoiceField } from '../ui/choice-field';
import { formatDuration, formatLevel } from '../ui/quantity';

const countIns = [0, 1, 2, 3, 5] as const;

/** A take that was kept, where it belongs on the time axis, and the gesture that more of the same undo step takes. */
export interface KeptTake {
  readonly source: string;
  readonly startedAt: number;
  readonly gesture: string;
}

/** Records takes from a microphone, if wanted while the sound and its picture play: input, level, count-in, and the takes of this session, each an ordinary source. */
@Component({
  selector: 'tc-record-panel',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatButtonModule, MatCheckboxModule, MatIconModule],
  templateUrl: './record-panel.html',
  styleUrl: './record-panel.scss',
})
export class RecordPanel {
  /** Whether takes can be recorded along with what is worked on. */
  readonly besideSound = input(false, { transform: booleanAttribute });
  readonly closed = output();
  /** A take was recorded along with the sound. */
  readonly taken = output<KeptTake>();
  protected readonly recorder = inject(Recorder);
  private readonly engine = inject(LiveEngine);
  private readonly document = inject(DocumentStore);
  private readonly transfer = inject(ProjectTransfer);
  private readonly playback = inject(Playback);
  private readonly workbench = inject(WorkbenchStore);
  private readonly notices = inject(Notices);
  protected readonly countIns = countIns.map((value) => ({ value, name: value === 0 ? 'none' : `${value} s` }));
  protected readonly microphones = computed(() => this.recorder.microphones().map(({ id, label }) => ({ value: id, name: label })));
  private readonly wished = signal('');
  protected readonly microphone = computed(() => this.wished() || (this.microphones()[0]?.value ?? ''));
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly countIn = signal<(typeof countIns)[number]>(0);
  protected readonly along = signal(true);
  /** Seconds left until recording begins. */
  protected readonly counting = signal<number | undefined>(undefined);
  private readonly takeIds = signal<readonly string[]>([]);
  private timer: ReturnType<typeof setInterval> | undefined;
  protected readonly takes = computed(() => {
    const sources = new Map(this.document.project()?.sources.map((source) => [source.id, source]));
    return this.takeIds().flatMap((id): Source[] => (sources.has(id) ? [sources.get(id)!] : []));
  });
  protected readonly levelShare = computed(() => {
    const level = this.recorder.level();
    return Math.max(0, Math.min(100, 100 + (level > 0 ? 20 * Math.log10(level) : -100) * (100 / 60)));
  });
  protected readonly levelText = computed(() => {
    const level = this.recorder.level();
    return formatLevel(level > 0 ? 20 * Math.log10(level) : -Infinity, 'dBFS');
  });

  constructor() {
    void this.open();
    inject(DestroyRef).onDestroy(() => {
      clearInterval(this.timer);
      this.recorder.close();
    });
  }

  protected choose(microphone: string): void {
    this.wished.set(microphone);
    void this.open(microphone);
  }

  protected async open(id?: string): Promise<void> {
    this.problem.set(undefined);
    await this.recorder.open(id).catch((error: unknown) => this.problem.set(error instanceof Error ? error.message : String(error)));
  }

  protected toggle(): void {
    if (this.recorder.recording()) void this.finish();
    else if (this.counting() !== undefined) this.cancelCount();
    else if (this.countIn() === 0) this.begin();
    else this.count();
  }

  protected listen(take: Source): void {
    this.workbench.selectSource(take.id);
    this.playback.auditionSource(take);
  }

  protected isPlaying(take: Source): boolean {
    return this.playback.auditioned() === take.name;
  }

  protected discard(take: Source): void {
    this.document.edit('removeSources', { sources: [take.id] });
  }

  protected seconds(take: Source): string {
    return formatDuration(take.frames / (this.document.project()?.sampleRate ?? 48_000));
  }

  private begin(): void {
    if (!this.besideSound() || !this.along()) {
      this.recorder.start();
      return;
    }
    this.playback.stop();
    this.recorder.start(() => this.engine.heardNow());
    this.playback.play();
  }

  private count(): void {
    this.counting.set(this.countIn());
    this.timer = setInterval(() => {
      const left = (this.counting() ?? 1) - 1;
      if (left > 0) this.counting.set(left);
      else {
        this.cancelCount();
        this.begin();
      }
    }, 1_000);
  }

  private cancelCount(): void {
    clearInterval(this.timer);
    this.counting.set(undefined);
  }

  private async finish(): Promise<void> {
    const { audio, droppedFrames, startedAt } = this.recorder.stop();
    const along = this.besideSound() && this.along();
    if (along) this.playback.stop();
    if (audio.channels[0]!.length === 0) return;
    try {
      const taken = this.document.project()?.sources.map((source) => source.name) ?? [];
      let number = 1;
      while (taken.includes(`Take ${number}`)) number++;
      const gesture = `take ${number} of ${audio.channels[0]!.length} frames`;
      const id = await this.transfer.storeTake(audio, `Take ${number}`, droppedFrames, gesture);
      if (id !== undefined) {
        // Where nothing was there to play along with, the playhead is where it belongs.
        if (along) this.taken.emit({ source: id, startedAt: startedAt ?? this.playback.startPosition(), gesture });
        this.takeIds.update((ids) => [...ids, id]);
        this.workbench.selectSource(id);
      }
    } catch (error) {
      this.notices.error(error instanceof Error ? error.message : String(error));
    }
  }
}
