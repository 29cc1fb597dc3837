import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import type { ParameterChange } from '../../ui/parameter-fields';
import { ParameterFields } from '../../ui/parameter-fields';
import { PropertyRows } from './property-rows';
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
  private readonly properties = inject(PropertyRows);

  protected readonly rows = computed(() => this.properties.rowsOf(this.values.withMix(this.step()), this.only(), this.labels()));

  protected set({ key, value, gesture }: ParameterChange): void {
    this.values.set(this.step(), { [key]: value }, gesture);
  }
}
