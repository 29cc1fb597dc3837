import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { ConductScript, Performance } from '@tangled-choir/core';
import { JobCancelled } from '@tangled-choir/jobs';
import { ProjectJobs } from '../engine/project-jobs';
import { ConductTakes } from '../state/conduct-takes.store';
import { DocumentStore } from '../state/project/document.store';
import { Notices } from '../state/notices';
import { ProjectTransfer } from '../state/project/project-transfer.store';
import { Simulator } from '../state/simulator.store';
import { ConductBench } from './conduct-bench';

/** Scripts of moves: kept, played again, and recorded as sources. */
@Component({
  selector: 'tc-conduct-scripts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatTooltipModule],
  template: `
    <h2>Scripts</h2>
    @for (script of scripts(); track script.id) {
      <p class="script">
        <button mat-icon-button [attr.aria-label]="'Play ' + script.name" [disabled]="takes.busy()" (click)="simulator.playScript(script)">
          <mat-icon svgIcon="play" />
        </button>
        <span class="name" [title]="script.name">{{ script.name }}</span>
        <span class="quiet number">{{ script.seconds.toFixed(1) }} s</span>
        <button
          mat-icon-button
          matTooltip="Record it as a source"
          [attr.aria-label]="'Record ' + script.name"
          [disabled]="takes.busy() || recording()"
          (click)="record(script.name, script)"
        >
          <mat-icon svgIcon="print" />
        </button>
        <button mat-icon-button [attr.aria-label]="'Remove ' + script.name" (click)="remove(script)"><mat-icon svgIcon="close" /></button>
      </p>
    } @empty {
      <p class="quiet">What you call and move can be kept as a script, and played again: the same moves give the same sound.</p>
    }
    <p class="now">
      <button mat-button class="tonal" [disabled]="done().moves.length === 0" (click)="keep()">Keep these moves</button>
      <button
        mat-button
        class="tonal"
        [disabled]="done().moves.length === 0 || takes.busy() || recording()"
        (click)="record('Simulator', done())"
      >
        <mat-icon svgIcon="print" />Record to a source
      </button>
    </p>
  `,
  styleUrl: './conduct-scripts.scss',
})
export class ConductScripts {
  protected readonly simulator = inject(Simulator);
  protected readonly takes = inject(ConductTakes);
  private readonly document = inject(DocumentStore);
  private readonly bench = inject(ConductBench);
  private readonly jobs = inject(ProjectJobs);
  private readonly transfer = inject(ProjectTransfer);
  private readonly notices = inject(Notices);
  protected readonly scripts = computed(() => this.bench.conduct()?.scripts ?? []);
  protected readonly recording = signal(false);
  /** What was done in the simulator since its beginning, or, where that is nothing, before it went back there. */
  protected readonly done = computed((): Performance => {
    const now: Performance = { moves: this.simulator.moves(), seconds: this.simulator.seconds() };
    const { moves, seconds } = now.moves.length > 0 ? now : (this.simulator.last() ?? now);
    return { moves, seconds: Math.max(0.1, seconds) };
  });

  protected keep(): void {
    const { moves, seconds } = this.done();
    const name = `Script ${this.scripts().length + 1}`;
    if (this.document.edit('addScript', { name, seconds, moves: [...moves] })) this.notices.info(`Kept as “${name}”.`);
  }

  protected remove({ id }: ConductScript): void {
    this.document.edit('removeScript', { script: id });
  }

  /** Plays the moves again without being heard, sample by sample as they are heard, and keeps that as a source. */
  protected async record(name: string, { moves, seconds }: Performance): Promise<void> {
    const data = this.takes.data();
    if (!data || this.recording()) return;
    this.recording.set(true);
    try {
      const input = { data, assets: this.takes.assets(), script: { moves, seconds }, name };
      const made = await this.jobs.run('recordPerformance', input, `Recording “${name}”`);
      if (await this.transfer.storeSources([made])) this.notices.info(`“${name}” is in Gather.`);
    } catch (error) {
      if (!(error instanceof JobCancelled)) this.notices.error(error instanceof Error ? error.message : String(error));
    } finally {
      this.recording.set(false);
    }
  }
}
