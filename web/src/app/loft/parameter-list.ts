import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { effectsById, mixParameter } from '@tangled-choir/core';
import type { ParameterChange, ParameterRow } from '../ui/parameter-fields';
import { ParameterFields } from '../ui/parameter-fields';
import { ReferenceOffers } from './reference-offers';
import { StepValues } from './step-values';

/** Parameters of a step as fields, made from the effect's definition alone. */
@Component({
  selector: 'tc-parameter-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ParameterFields],
  template: `<tc-parameter-fields [rows]="rows()" (changed)="set($event)" />`,
  styles: `
    :host {
      display: block;
      padding: 8px 12px;
      overflow: auto;
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
  private readonly offers = inject(ReferenceOffers);

  protected readonly rows = computed((): ParameterRow[] => {
    const step = this.step();
    const effect = effectsById.get(step.effect);
    if (!effect) return [];
    const values = this.values.read(step);
    const keys = this.only() ?? [...Object.keys(effect.parameters), 'mix'];
    return keys.flatMap((key): ParameterRow[] => {
      if (key === 'mix')
        return [
          { key, label: 'Mix', parameter: mixParameter, value: this.values.readMix(step), automated: this.values.isAutomated(step, key) },
        ];
      const parameter = effect.parameters[key];
      if (!parameter) return [];
      const automated = this.values.isAutomated(step, key);
      const value = values[key] ?? parameter.default;
      const pulled = parameter.kind === 'number' ? this.values.pulled(step, key, parameter, Number(value)) : undefined;
      const offers = parameter.kind === 'reference' ? this.offers.of(parameter, String(value)) : undefined;
      const label = this.labels()[key] ?? parameter.label;
      return [{ key, label, parameter, value, automated, ...(pulled && { pulled }), ...(offers && { offers }) }];
    });
  });

  protected set({ key, value, gesture }: ParameterChange): void {
    this.values.set(this.step(), { [key]: value }, gesture);
  }
}
