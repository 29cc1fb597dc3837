import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { LogEntry } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Simulator } from '../state/simulator.store';
import { saveFile } from '../storage/save-file';

const shown = 200;

/** What was called, what was played of it with its draws, and what was not, and why: the newest first. */
@Component({
  selector: 'tc-conduct-log',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <header>
      <span class="quiet">{{ simulator.moves().length }} moves, {{ entries().length }} decisions</span>
      <span class="space"></span>
      <button class="text-button" [disabled]="entries().length === 0" (click)="download()">Save the log as JSON</button>
    </header>
    <ol aria-label="Log">
      @for (line of latest(); track line.number) {
        <li [class]="line.entry.do">
          <span class="number">{{ line.entry.at.toFixed(3) }}</span>
          <span class="what">{{ line.entry.do }}</span>
          <span>{{ wordsOf(line.entry) }}</span>
        </li>
      } @empty {
        <li class="quiet">Nothing was called yet: call a behaviour in the tree.</li>
      }
    </ol>
  `,
  styleUrls: ['./conduct-panel.scss', './conduct-log.scss'],
})
export class ConductLog {
  protected readonly simulator = inject(Simulator);
  private readonly document = inject(DocumentStore);
  protected readonly entries = this.simulator.log;
  /** Each with its number, so that a line stays the same while others come before it. */
  protected readonly latest = computed(() =>
    this.entries()
      .map((entry, number) => ({ entry, number }))
      .slice(-shown)
      .toReversed(),
  );

  protected wordsOf(entry: LogEntry): string {
    switch (entry.do) {
      case 'call':
        return entry.behaviour;
      case 'play': {
        const level = entry.level === null ? 'silent' : `${entry.level.toFixed(1)} dB`;
        const pitch = entry.pitch === 0 ? '' : `, ${entry.pitch > 0 ? '+' : ''}${entry.pitch.toFixed(2)} st`;
        return `${entry.behaviour}: ${this.takeName(entry.asset)}, ${level}${pitch}, voice ${entry.voice}`;
      }
      case 'stop':
      case 'end':
        return `voice ${entry.voice}`;
      case 'skip':
        return `${entry.behaviour}: ${entry.why}`;
    }
  }

  /** “Snow step 3” for `sound-4/3`. */
  private takeName(asset: string): string {
    const [sound = '', variant] = asset.split('/');
    const name = this.document.project()?.sounds.find(({ id }) => id === sound)?.name ?? sound;
    return variant === 'original' ? name : `${name} ${variant}`;
  }

  protected download(): void {
    const text = `${JSON.stringify(this.entries(), null, 1)}\n`;
    saveFile(new Blob([text]), 'conduct-log.json', 'application/json');
  }
}
