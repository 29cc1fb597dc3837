import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { CurveParameter, NumberParameter, Parameter, ParameterValue } from '@tangled-choir/core';
import { axisOf, mixParameter } from '@tangled-choir/core';
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

/** Something that can be chosen, and what it is called. */
export interface Offer {
  readonly value: string;
  readonly name: string;
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
  imports: [CurveField, MatCheckboxModule, ValueField],
  template: `
    @for (row of rows(); track row.key) {
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
          <label
            class="choice"
            [class.automated]="row.automated || row.pulled"
            [title]="titleOf(row)"
            (contextmenu)="menus.ask($event, dialOf(row))"
            ><span class="quiet">{{ row.label }}</span>
            <select #choice (change)="changed.emit({ key: row.key, value: choice.value })">
              @for (option of optionsOf(row.parameter); track option) {
                <option [value]="option" [selected]="option === row.value">{{ option }}</option>
              }
            </select></label
          >
        }
        @case ('reference') {
          <label class="choice reference"
            ><span class="quiet">{{ row.label }}</span>
            <select #chosen (change)="changed.emit({ key: row.key, value: chosen.value })">
              @for (offer of row.offers; track offer.value) {
                <option [value]="offer.value" [selected]="offer.value === row.value">{{ offer.name }}</option>
              }
            </select></label
          >
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
    .reference select {
      max-width: 62%;
    }
    select {
      min-width: 56px;
      height: 24px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--surface-2);
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

  protected optionsOf(parameter: Parameter): readonly string[] {
    return parameter.kind === 'choice' ? parameter.options : [];
  }

  protected setNumber(key: string, { value, gesture }: ValueChange): void {
    this.changed.emit({ key, value, gesture });
  }
}
