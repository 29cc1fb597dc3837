import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatTooltipModule } from '@angular/material/tooltip';
import type { EffectStep } from '@tangled-choir/core';
import { effectsById, outputKey } from '@tangled-choir/core';
import { OutputMatch as Matching } from '../../state/output-match.store';
import { signed } from '../../ui/quantity';

/** Brings a step that has an output level to the loudness that goes into it, once or with every change, and shows what was measured. */
@Component({
  selector: 'tc-output-match',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, MatTooltipModule],
  template: `
    @if (possible()) {
      <button
        mat-button
        class="tonal"
        [disabled]="matching.measuring() === step().id"
        matTooltip="Sets the output so that the whole sound comes out as loud as it goes in, by measured loudness"
        matTooltipPosition="above"
        (click)="matching.match(step().id)"
      >
        {{ matching.measuring() === step().id ? 'Measuring…' : 'Match output' }}
      </button>
      <mat-checkbox [checked]="kept()" (change)="matching.keep(step().id, $event.checked)">keep matched</mat-checkbox>
      <span class="number quiet" role="status">{{ told() }}</span>
    }
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      align-items: center;
      font-size: 12px;
    }
    button {
      --mat-button-text-container-height: 28px;
    }
  `,
})
export class OutputMatch {
  readonly step = input.required<EffectStep>();
  protected readonly matching = inject(Matching);
  protected readonly possible = computed(() => {
    const effect = effectsById.get(this.step().effect);
    return effect !== undefined && outputKey(effect) !== undefined;
  });
  protected readonly kept = computed(() => this.matching.kept().has(this.step().id));
  /** How much louder it came out before, and what is left where the dial ends. */
  protected readonly told = computed(() => {
    const found = this.matching.found().get(this.step().id);
    if (!found) return '';
    const change = found.after - found.before;
    const was = Math.abs(change) < 0.05 ? 'equally loud' : `was ${signed(change, 1)} LU`;
    return Math.abs(found.rest) < 0.1 ? was : `${was}, ${signed(found.rest, 1)} LU left`;
  });
}
