import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { EffectStep, NumberParameter, Parameter, ParameterValue } from '@tangled-choir/core';
import { effectsById, mixParameter } from '@tangled-choir/core';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { StepValues } from './step-values';

interface Row {
  readonly key: string;
  readonly label: string;
  readonly parameter: Parameter;
  readonly value: ParameterValue;
}

/** Parameters of a step as fields, made from the effect's definition alone. */
@Component({
  selector: 'tc-parameter-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ValueField],
  template: `
    @for (row of rows(); track row.key) {
      @switch (row.parameter.kind) {
        @case ('number') {
          <tc-value
            [parameter]="asNumber(row.parameter)"
            [label]="row.label"
            [value]="+row.value"
            (valueChange)="setNumber(row.key, $event)"
          />
        }
        @case ('choice') {
          <label class="choice"
            ><span class="quiet">{{ row.label }}</span>
            <select #choice (change)="set(row.key, choice.value)">
              @for (option of optionsOf(row.parameter); track option) {
                <option [value]="option" [selected]="option === row.value">{{ option }}</option>
              }
            </select></label
          >
        }
        @case ('switch') {
          <label class="choice"
            ><span class="quiet">{{ row.label }}</span
            ><input #box type="checkbox" [checked]="row.value" (change)="set(row.key, box.checked)"
          /></label>
        }
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 2px 14px;
      align-content: start;
      padding: 8px 12px;
      overflow: auto;
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
    select {
      height: 24px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--surface-2);
    }
    input {
      accent-color: var(--live);
    }
  `,
})
export class ParameterList {
  readonly step = input.required<EffectStep>();
  /** Which parameters to show, in this order; all of them without it. */
  readonly only = input<readonly string[] | undefined>();
  /** Labels that are shorter than the parameters' own, by key. */
  readonly labels = input<Readonly<Record<string, string>>>({});
  private readonly values = inject(StepValues);

  protected readonly rows = computed((): Row[] => {
    const step = this.step();
    const effect = effectsById.get(step.effect);
    if (!effect) return [];
    const values = this.values.read(step);
    const keys = this.only() ?? [...Object.keys(effect.parameters), 'mix'];
    return keys.flatMap((key): Row[] => {
      if (key === 'mix') return [{ key, label: 'Mix', parameter: mixParameter, value: step.mix }];
      const parameter = effect.parameters[key];
      return parameter ? [{ key, label: this.labels()[key] ?? parameter.label, parameter, value: values[key] ?? parameter.default }] : [];
    });
  });

  protected asNumber(parameter: Parameter): NumberParameter {
    return parameter.kind === 'number' ? parameter : mixParameter;
  }

  protected optionsOf(parameter: Parameter): readonly string[] {
    return parameter.kind === 'choice' ? parameter.options : [];
  }

  protected set(key: string, value: ParameterValue): void {
    this.values.set(this.step(), { [key]: value });
  }

  protected setNumber(key: string, { value, gesture }: ValueChange): void {
    this.values.set(this.step(), { [key]: value }, gesture);
  }
}
