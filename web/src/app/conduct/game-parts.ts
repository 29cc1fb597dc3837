import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { GamePart, GamePartChange, NumberParameter } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { NameField } from '../ui/name-field';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { ConductBench } from './conduct-bench';
import { GameBusRow } from './game-bus';
import { typedDial } from './typed-dial';

/** Shown ranges of what is typed more often than dragged. */
const dials = {
  smoothing: typedDial('Smoothing', 's', 0, 60, 0.1),
  fade: typedDial('Fade', 's', 0, 120, 1),
  level: typedDial('Level', 'dB', -96, 24, 0),
  budget: { ...typedDial('Budget, MB', '', 0.1, 1_024, 8), scale: 'log' },
} as const;

const megabyte = 1024 * 1024;

const texts: Readonly<Record<GamePart, { readonly add: string; readonly name: string; readonly explain: string }>> = {
  parameters: {
    add: '+ Parameter',
    name: 'Parameter',
    explain: 'A number that the game sets. It pulls what is drawn under Pulled, and chooses and blends.',
  },
  buses: {
    add: '+ Bus',
    name: 'Bus',
    explain: 'Behaviours on one bus are louder and softer, cut and in a room together. Buses go into each other, and down under another.',
  },
  moods: {
    add: '+ Mood',
    name: 'Mood',
    explain:
      'Levels of buses under a name, with a fade: what is heard inside, outside, in danger. Buses that it leaves at 0 dB go back to their own.',
  },
  groups: { add: '+ Load group', name: 'Group', explain: 'Behaviours that are in memory together, and how many megabytes they may take.' },
};

/** Game parameters, buses, moods or load groups: a list that one adds to. */
@Component({
  selector: 'tc-game-parts',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [GameBusRow, NameField, ValueField],
  templateUrl: './game-parts.html',
  styleUrl: './conduct-panel.scss',
})
export class GameParts {
  readonly part = input.required<GamePart>();
  private readonly document = inject(DocumentStore);
  private readonly bench = inject(ConductBench);
  protected readonly conduct = this.bench.conduct;
  protected readonly dials = dials;
  protected readonly megabyte = megabyte;
  protected readonly text = computed(() => texts[this.part()]);
  protected readonly count = computed(() => this.conduct()?.[this.part()].length ?? 0);

  protected add(): void {
    this.document.edit('addGamePart', { part: this.part(), name: `${this.text().name} ${this.count() + 1}` });
  }

  protected remove(id: string): void {
    this.document.edit('removeGamePart', { part: this.part(), id });
  }

  protected rename(id: string, name: string): void {
    this.document.edit('setGamePart', { id, part: this.part(), change: { name } });
  }

  protected set(id: string, change: GamePartChange, gesture?: string): void {
    this.document.edit('setGamePart', { id, ...change }, gesture);
  }

  /** Where a parameter starts lies within its range. */
  protected startOf = ({ low, high }: { readonly low: number; readonly high: number }): NumberParameter =>
    typedDial('At the start', '', low, high, low);

  /** An end of a parameter's range; what is no number changes nothing. */
  protected setEnd(id: string, key: 'low' | 'high', text: string): void {
    const value = Number(text);
    if (text.trim() !== '' && Number.isFinite(value)) this.set(id, { part: 'parameters', change: { [key]: value } });
  }

  protected endOf(id: string, key: 'low' | 'high'): number {
    return this.conduct()?.parameters.find((parameter) => parameter.id === id)?.[key] ?? 0;
  }

  protected setParameter(id: string, key: 'start' | 'smoothing', { value, gesture }: ValueChange): void {
    this.set(id, { part: 'parameters', change: { [key]: value } }, gesture);
  }

  protected setLevel(mood: string, bus: string, { value, gesture }: ValueChange): void {
    this.document.edit('setMoodLevel', { mood, bus, level: value }, gesture);
  }
}
