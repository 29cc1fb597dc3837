import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { EffectStep, Parameter, ParameterSet, ParameterValue } from '@tangled-choir/core';
import { effectsById, isNeeded, mixParameter, needOf } from '@tangled-choir/core';
import type { ParameterChange, ParameterRow } from '../../ui/parameter-fields';
import { ParameterFields } from '../../ui/parameter-fields';
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
      const parameter = key === 'mix' ? mixParameter : effect.parameters[key];
      if (!parameter || !this.isOffered(parameter, effect.parameters, values)) return [];
      const automated = this.values.isAutomated(step, key);
      const value = key === 'mix' ? this.values.readMix(step) : (values[key] ?? parameter.default);
      const reach = this.values.reach(step, key, parameter);
      const decidedBy = countedText(parameter, effect.parameters, values);
      const pulled = this.values.pulled(step, key, parameter);
      const offers = parameter.kind === 'reference' ? this.offers.of(parameter, String(value)) : undefined;
      const label = this.labels()[key] ?? (key === 'mix' ? 'Mix' : parameter.label);
      return [
        {
          key,
          label,
          address: this.values.addressOf(step, key),
          parameter,
          value,
          automated,
          ...(pulled && { pulled }),
          ...(reach && { reach }),
          ...(decidedBy && { decidedBy }),
          ...(offers && { offers }),
        },
      ];
    });
  });

  /** What does nothing is left out, unless what it needs moves along a lane. */
  private isOffered(parameter: Parameter, parameters: ParameterSet, values: Readonly<Record<string, ParameterValue>>): boolean {
    const need = needOf(parameter);
    return isNeeded(parameter, parameters, values) || (need !== undefined && this.values.isAutomated(this.step(), need.of));
  }

  protected set({ key, value, gesture }: ParameterChange): void {
    this.values.set(this.step(), { [key]: value }, gesture);
  }
}

/** Why a time cannot be turned: it is counted in notes of the tempo. */
function countedText(parameter: Parameter, parameters: ParameterSet, values: Readonly<Record<string, ParameterValue>>): string | undefined {
  const key = parameter.kind === 'number' ? parameter.counted : undefined;
  const note = key === undefined ? undefined : parameters[key];
  if (key === undefined || !note || (values[key] ?? note.default) === note.default) return undefined;
  return `“${note.label}” counts it in notes: ${String(values[key])}`;
}
