import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDividerModule } from '@angular/material/divider';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { ChainState } from '@tangled-choir/core';
import { chainStates, effectCatalogue, share, standsAs } from '@tangled-choir/core';
import { DocumentStore } from '../../state/project/document.store';
import { WorkbenchStore } from '../../state/workbench.store';
import type { ValueChange } from '../../ui/value-field';
import { ValueField } from '../../ui/value-field';

interface Morph {
  readonly from: ChainState;
  readonly to: ChainState;
  readonly share: number;
}

/** Four states that a chain can be kept in, to go to and fro between them, and a dial that morphs between two. */
@Component({
  selector: 'tc-chain-states',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatDividerModule, MatIconModule, MatMenuModule, MatTooltipModule, ValueField],
  template: `
    <span class="states" role="group" aria-label="States of the chain">
      @for (state of states(); track state.letter) {
        <button
          [class.kept]="state.kept"
          [attr.aria-pressed]="state.holds"
          [attr.aria-label]="state.kept ? 'State ' + state.letter : 'Keep as state ' + state.letter"
          [matTooltip]="
            state.kept ? 'Back to ' + state.letter + '. Shift: keep the chain here as it is now' : 'Keep the chain here as it is now'
          "
          (click)="press(state.letter, $event.shiftKey)"
        >
          {{ state.letter }}
        </button>
      }
      <button [matMenuTriggerFor]="menu" aria-label="More about states" [disabled]="kept().length === 0">
        <mat-icon svgIcon="expand" />
      </button>
    </span>
    @if (morph(); as between) {
      <tc-value
        [parameter]="shareParameter"
        [label]="between.from + ' → ' + between.to"
        [value]="between.share"
        (valueChange)="turn(between, $event)"
      />
    }
    <mat-menu #menu="matMenu">
      @for (letter of kept(); track letter) {
        <button mat-menu-item (click)="keep(letter)">Keep as {{ letter }}</button>
      }
      @for (letter of kept(); track letter) {
        <button mat-menu-item (click)="forget(letter)">Forget {{ letter }}</button>
      }
      <mat-divider />
      @for (pair of pairs(); track pair.from + pair.to) {
        <button mat-menu-item (click)="begin(pair)">Morph {{ pair.from }} → {{ pair.to }}</button>
      }
      @if (morph()) {
        <button mat-menu-item (click)="chosen.set(undefined)">End the morph</button>
      }
    </mat-menu>
  `,
  styles: `
    :host {
      display: flex;
      flex: none;
      gap: 8px;
      align-items: center;
    }
    .states {
      display: flex;
      gap: 1px;
    }
    button {
      display: grid;
      place-items: center;
      width: 24px;
      height: 26px;
      padding: 0;
      border: 0;
      border-radius: 4px;
      background: none;
      color: var(--quiet);
      font-weight: 600;
      cursor: pointer;
    }
    button:hover {
      background: var(--surface-2);
    }
    button:disabled {
      visibility: hidden;
    }
    .kept {
      background: var(--surface-2);
      color: var(--text);
    }
    [aria-pressed='true'] {
      background: var(--surface-3);
      color: var(--live);
    }
    mat-icon {
      width: 16px;
      height: 16px;
    }
    tc-value {
      width: 96px;
    }
  `,
})
export class ChainStates {
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  protected readonly shareParameter = share({ label: 'Morph', default: 0 });
  private readonly channel = computed(() => this.workbench.bus() ?? this.workbench.layer() ?? this.workbench.sound());
  protected readonly states = computed(() => {
    const channel = this.channel();
    return chainStates.map((letter) => {
      const snapshot = channel?.states?.[letter];
      return { letter, kept: snapshot !== undefined, holds: snapshot !== undefined && standsAs(channel!, snapshot, effectCatalogue) };
    });
  });
  protected readonly kept = computed(() => this.states().flatMap(({ letter, kept }) => (kept ? [letter] : [])));
  protected readonly pairs = computed(() => {
    const letters = this.kept();
    return letters.flatMap((from, index) => letters.slice(index + 1).map((to) => ({ from, to })));
  });
  protected readonly chosen = signal<(Morph & { readonly channel: string }) | undefined>(undefined);
  /** The morph at hand, as long as its chain is selected and both of its states are kept. */
  protected readonly morph = computed((): Morph | undefined => {
    const chosen = this.chosen();
    return chosen && chosen.channel === this.channel()?.id && this.pairs().some(({ from, to }) => from === chosen.from && to === chosen.to)
      ? chosen
      : undefined;
  });

  protected press(state: ChainState, again: boolean): void {
    if (again || !this.kept().includes(state)) this.keep(state);
    else this.document.edit('recallState', { ...this.place, state });
  }

  protected keep(state: ChainState): void {
    this.document.edit('keepState', { ...this.place, state });
  }

  protected forget(state: ChainState): void {
    this.document.edit('forgetState', { ...this.place, state });
  }

  protected begin({ from, to }: Pick<Morph, 'from' | 'to'>): void {
    this.chosen.set({ from, to, share: 0, channel: this.channel()?.id ?? '' });
    this.document.edit('recallState', { ...this.place, state: from });
  }

  protected turn({ from, to }: Morph, { value, gesture }: ValueChange): void {
    this.chosen.set({ from, to, share: value, channel: this.channel()?.id ?? '' });
    this.document.edit('morphStates', { ...this.place, from, to, share: value }, gesture);
  }

  private get place() {
    return { sound: this.workbench.sound()?.id ?? '', owner: this.workbench.owner() };
  }
}
