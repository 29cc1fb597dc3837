import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CurveParameter, NumberParameter, Parameter, ParameterValue } from '@tangled-choir/core';
import { axisOf, mixParameter } from '@tangled-choir/core';
import type { Offer } from './choice-field';
import { ChoiceField, offersOf } from './choice-field';
import { CurveField } from './curve-field';
import type { Dial } from './dial-menus';
import { DialMenus } from './dial-menus';
import type { ValueChange } from './value-field';
import { formatQuantity } from './quantity';
import { ValueField } from './value-field';

/** One parameter with its value. */
export interface ParameterRow {
  readonly key: string;
  readonly label: string;
  /** The property of the sound that it is, if it is one. */
  readonly address?: string;
  readonly parameter: Parameter;
  readonly value: ParameterValue;
  /** It moves along a lane; turning it moves the whole lane. */
  readonly automated?: boolean;
  /** Tides, reins or walks that pull at it, and where it is heard now. */
  readonly pulled?: { readonly by: string; readonly now: number };
  /** Between which values it moves. */
  readonly reach?: { readonly low: number; readonly high: number };
  /** Something else decides it now; says what. */
  readonly decidedBy?: string;
  /** What a reference can lead to; the first one is nothing. */
  readonly offers?: readonly Offer[];
}

/** A changed parameter; numbers come with the gesture that they belong to. */
export interface ParameterChange {
  readonly key: string;
  readonly value: ParameterValue;
  readonly gesture?: string;
}

/** Parameters as fields, made from their definitions alone. */
@Component({
  selector: 'tc-parameter-fields',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, CurveField, MatCheckboxModule, ValueField],
  template: `
    @for (row of shown(); track row.key) {
      @switch (row.parameter.kind) {
        @case ('number') {
          <tc-value
            [class.automated]="row.automated || row.pulled"
            [title]="titleOf(row)"
            [heard]="row.pulled?.now"
            [reach]="row.reach"
            [disabled]="row.decidedBy !== undefined"
            [address]="row.address"
            [parameter]="asNumber(row.parameter)"
            [label]="row.label"
            [value]="+row.value"
            (valueChange)="setNumber(row.key, $event)"
          />
        }
        @case ('choice') {
          <tc-choice
            [class.automated]="row.automated || row.pulled"
            [title]="titleOf(row)"
            [label]="row.label"
            [offers]="row.offers"
            [value]="'' + row.value"
            (chosen)="changed.emit({ key: row.key, value: $event })"
            (contextmenu)="menus.ask($event, dialOf(row))"
          />
        }
        @case ('reference') {
          <tc-choice
            [label]="row.label"
            [offers]="row.offers"
            [value]="'' + row.value"
            (chosen)="changed.emit({ key: row.key, value: $event })"
          />
        }
        @case ('curve') {
          @if (asCurve(row.parameter); as curve) {
            <tc-curve-field
              [parameter]="curve"
              [label]="row.label"
              [value]="'' + row.value"
              (valueChange)="changed.emit({ key: row.key, value: $event.value, gesture: $event.gesture })"
            />
          }
        }
        @case ('switch') {
          <mat-checkbox
            class="choice"
            labelPosition="before"
            [class.automated]="row.automated || row.pulled"
            [title]="titleOf(row)"
            [checked]="row.value === true"
            (change)="changed.emit({ key: row.key, value: $event.checked })"
            (contextmenu)="menus.ask($event, dialOf(row))"
            ><span class="quiet">{{ row.label }}</span></mat-checkbox
          >
        }
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: var(--columns, minmax(0, 1fr) minmax(0, 1fr));
      gap: 2px 14px;
      align-content: start;
    }
    tc-choice {
      min-height: 30px;
      padding: 0 4px;
    }
    .choice {
      display: flex;
      gap: 8px;
      align-items: center;
      justify-content: space-between;
      min-height: 30px;
      padding: 0 4px;
      font-size: 12px;
    }
    .choice > span {
      min-width: 34px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .automated,
    .automated > .quiet {
      color: var(--live);
    }
  `,
})
export class ParameterFields {
  readonly rows = input.required<readonly ParameterRow[]>();
  readonly changed = output<ParameterChange>();
  protected readonly menus = inject(DialMenus);
  protected readonly shown = computed(() => this.rows().map((row) => ({ ...row, offers: offersFor(row) })));

  /** Who moves this. */
  protected titleOf(row: ParameterRow): string {
    const { automated, pulled, decidedBy } = row;
    if (decidedBy !== undefined) return decidedBy;
    const axis = axisOf(row.parameter);
    const lane = axis?.names ? 'Automated: a choice sets the stage at the playhead' : 'Automated: turning it moves the whole lane';
    const moved = [automated ? lane : '', pulled ? `Pulled by ${pulled.by}` : ''];
    if (row.reach && axis) moved.push(`Between ${formatQuantity(row.reach.low, axis)} and ${formatQuantity(row.reach.high, axis)}`);
    if (pulled && axis?.names) moved.push(`Now ${formatQuantity(pulled.now, axis)}`);
    return moved.filter(Boolean).join('. ');
  }

  protected dialOf({ key, label: name, address, parameter, value }: ParameterRow): Dial {
    return { name, address, parameter, value, set: (next) => this.changed.emit({ key, value: next }) };
  }

  protected asNumber(parameter: Parameter): NumberParameter {
    return parameter.kind === 'number' ? parameter : mixParameter;
  }

  protected asCurve(parameter: Parameter): CurveParameter | undefined {
    return parameter.kind === 'curve' && !parameter.measured ? parameter : undefined;
  }

  protected setNumber(key: string, { value, gesture }: ValueChange): void {
    this.changed.emit({ key, value, gesture });
  }
}

/** What can be chosen in a row. */
function offersFor({ parameter, offers = [] }: ParameterRow): readonly Offer[] {
  return parameter.kind === 'choice' ? offersOf(parameter.options) : offers;
}
