import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBarModule } from '@angular/material/progress-bar';
import { MatTooltipModule } from '@angular/material/tooltip';
import { soundEnd } from '@tangled-choir/core';
import { AudioLibrary } from '../engine/audio-library';
import { JobPool } from '../engine/job-pool';
import { LiveEngine } from '../engine/live/live-engine';
import { DocumentStore } from '../state/project/document.store';
import { Playback } from '../state/playback.store';
import { Transport } from '../state/transport';
import { WorkbenchStore } from '../state/workbench.store';
import { MenuPanel } from '../ui/menu-panel';
import { formatLevel, formatTime, signed } from '../ui/quantity';
import { EvenCompareControl } from './even-compare';
import { ListeningLamp } from './listening-lamp';

const meterFloor = -60;

/** Play, loop, time, loudness, monitor level, and what is being computed; the same in every view. */
@Component({
  selector: 'tc-bottom-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    EvenCompareControl,
    ListeningLamp,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatProgressBarModule,
    MatTooltipModule,
    MenuPanel,
  ],
  templateUrl: './bottom-bar.html',
  styleUrl: './bottom-bar.scss',
})
export class BottomBar {
  protected readonly engine = inject(LiveEngine);
  protected readonly playback = inject(Playback);
  protected readonly workbench = inject(WorkbenchStore);
  protected readonly pool = inject(JobPool);
  protected readonly transport = inject(Transport);
  /** What is played in the place of the sound; a recording that is listened to comes before it. */
  private readonly instead = computed(() => (this.playback.playing() ? undefined : this.transport.instead()));
  private readonly library = inject(AudioLibrary);
  private readonly document = inject(DocumentStore);

  protected readonly time = computed(() => formatTime(this.instead()?.seconds() ?? this.engine.position()));
  protected readonly what = computed(() => {
    const auditioned = this.playback.auditioned();
    if (auditioned) return auditioned;
    const instead = this.instead();
    if (instead) return instead.name;
    const sound = this.workbench.sound();
    return sound ? `${sound.name} · ${soundEnd(sound).toFixed(2)} s` : 'no sound yet';
  });
  private readonly levels = computed(() => {
    const instead = this.instead();
    return instead ? instead.levels() : this.engine.meters();
  });
  protected readonly meters = computed(() => {
    const meters = this.levels();
    return {
      shortTerm: formatLevel(meters?.shortTerm, ''),
      integrated: formatLevel(meters?.integrated, 'LUFS'),
      truePeak: formatLevel(meters?.truePeak, 'dBTP'),
      over: (meters?.truePeak ?? -Infinity) > 0,
    };
  });
  /** Output of the worklet as a share of the meter. */
  protected readonly output = computed(() => {
    const peak = Math.max(this.engine.outputPeak(), this.instead()?.peak() ?? 0);
    const level = Math.max(meterFloor, peak > 0 ? 20 * Math.log10(peak) : meterFloor);
    return { level, share: Math.max(0, Math.min(1, (level - meterFloor) / -meterFloor)) * 100 };
  });
  /** What left and right have in common, from -1 to 1. */
  protected readonly field = computed(() => {
    const value = this.levels()?.correlation;
    const known = value !== undefined;
    const told = !known
      ? 'nothing to compare'
      : value > 0.98
        ? 'mono'
        : value < 0
          ? `${signed(value, 2)}, cancels in mono`
          : signed(value, 2);
    return { known, value: value ?? 0, place: ((value ?? 0) + 1) * 50, text: told };
  });
  /** Recordings of the sound are on their way: what they hold is silent until they are there. */
  private readonly loading = computed(() => {
    const project = this.document.project();
    const sound = this.workbench.sound();
    return project !== undefined && sound !== undefined && !this.library.settled(project, sound);
  });
  protected readonly health = computed(() => {
    const problem = this.engine.problem();
    if (problem) return { text: problem, state: 'bad' };
    const jobs = this.pool.busy();
    if (this.loading())
      return { text: jobs > 0 ? `loading audio, ${jobs === 1 ? '1 job' : `${jobs} jobs`}` : 'loading audio', state: 'busy' };
    if (jobs > 0) return { text: jobs === 1 ? '1 job' : `${jobs} jobs`, state: 'busy' };
    return { text: this.engine.state() === 'ready' ? 'ready' : 'idle', state: 'good' };
  });

  protected setMonitor(value: string): void {
    this.engine.setMonitorLevel(Number(value));
  }

  protected monitorText(): string {
    const level = this.engine.monitorLevel();
    return level <= -60 ? 'silent' : formatLevel(level, 'dB');
  }

  protected percent(share: number): number {
    return Math.round(share * 100);
  }
}
