import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { EffectStep } from '@tangled-choir/core';
import { ParameterList } from './parameter-list';
import { StepValues } from './step-values';

/** The parameters of a band by the end of their names, and what they are called within its column. */
const parts: Readonly<Record<string, string>> = { Frequency: 'Frequency', Q: 'Width (Q)', Threshold: 'Threshold', Range: 'Range' };

/** The dynamic EQ: its bands side by side, and what holds for all of them. */
@Component({
  selector: 'tc-dynamic-editor',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ParameterList],
  template: `
    @for (band of bands; track band.number) {
      <tc-parameter-list [class.on]="isOn(band.number)" [step]="step()" [only]="band.keys" [labels]="band.labels" />
    }
    <tc-parameter-list [step]="step()" [only]="['key', 'attack', 'release', 'mix']" />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: repeat(4, minmax(0, 1fr)) minmax(0, 1.3fr);
      min-height: 0;
    }
    tc-parameter-list {
      --columns: 1fr;
      border-right: 1px solid var(--line);
    }
    tc-parameter-list:last-child {
      border-right: 0;
    }
    .on {
      background: color-mix(in srgb, var(--surface-2) 60%, transparent);
    }
  `,
})
export class DynamicEditor {
  readonly step = input.required<EffectStep>();
  private readonly values = inject(StepValues);
  protected readonly bands = [1, 2, 3, 4].map((number) => ({
    number,
    keys: ['On', ...Object.keys(parts)].map((part) => `band${number}${part}`),
    labels: {
      [`band${number}On`]: `Band ${number}`,
      ...Object.fromEntries(Object.entries(parts).map(([part, label]) => [`band${number}${part}`, label])),
    },
  }));

  protected isOn(number: number): boolean {
    return this.values.read(this.step())[`band${number}On`] === true;
  }
}
