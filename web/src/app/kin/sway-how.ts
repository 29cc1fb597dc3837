import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { ChancedSway, NewSway, NumberParameter, SwayShape } from '@tangled-choir/core';
import { isChanced, stepOffers, swayShapes } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { WorkbenchStore } from '../state/workbench.store';
import type { Offer } from '../ui/choice-field';
import { ChoiceField } from '../ui/choice-field';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import type { SwayRow } from './sway-text';
import { shapeNames } from './sway-text';

const amountParameter: NumberParameter = { kind: 'number', label: 'By', unit: '%', min: -1, max: 1, default: 1, scale: 'linear' };

/** How a range or a presence is drawn: where draws gather, in which steps, and which other draw they go along with. */
@Component({
  selector: 'tc-sway-how',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, ValueField],
  templateUrl: './sway-how.html',
  styleUrl: './sway-how.scss',
})
export class SwayHow {
  readonly row = input.required<SwayRow>();
  /** All rows, whose draws this one can go along with. */
  readonly rows = input.required<readonly SwayRow[]>();
  private readonly document = inject(DocumentStore);
  private readonly workbench = inject(WorkbenchStore);
  protected readonly amountParameter = amountParameter;
  protected readonly shapes = swayShapes.map((value) => ({ value, name: shapeNames[value] }));
  protected readonly sway = computed(() => {
    const { sway } = this.row();
    return isChanced(sway) ? sway : undefined;
  });
  protected readonly range = computed(() => {
    const sway = this.sway();
    return sway?.kind === 'range' ? sway : undefined;
  });
  /** Steps by the text that stands for them in the list. */
  private readonly steps = computed(() => {
    const { parameter } = this.row();
    const offers = parameter ? stepOffers(parameter) : [];
    const own = this.range()?.steps;
    // What somebody has written into the document by hand stays to be seen.
    const known = own === undefined || offers.some(({ steps }) => steps === own) ? offers : [...offers, { label: String(own), steps: own }];
    return known.map(({ label, steps }) => ({ label, steps, key: String(steps) }));
  });
  protected readonly stepChoices = computed((): readonly Offer[] => [
    { value: '', name: 'none' },
    ...this.steps().map(({ label, key }) => ({ value: key, name: label })),
  ]);
  protected readonly step = computed(() => String(this.range()?.steps ?? ''));
  protected readonly leaders = computed((): readonly Offer[] => {
    const rows = this.rows();
    const leads = (row: SwayRow): SwayRow | undefined => {
      const { sway } = row;
      return isChanced(sway) && sway.follows ? rows.find((other) => other.sway.address === sway.follows!.address) : undefined;
    };
    // Who goes along with this one, however indirectly, cannot lead it.
    const isBehind = (row: SwayRow | undefined, depth = 0): boolean =>
      row !== undefined && depth <= rows.length && (row.sway.id === this.row().sway.id || isBehind(leads(row), depth + 1));
    const leading = rows.filter((row) => isChanced(row.sway) && !isBehind(row));
    return [
      { value: '', name: 'nothing' },
      ...leading.map(({ sway, owner, property }) => ({ value: sway.address, name: `${owner} · ${property}` })),
    ];
  });

  protected setShape(shape: SwayShape): void {
    this.changeRange((sway) => withShape(sway, shape));
  }

  protected setSteps(key: string): void {
    const wanted = this.steps().find((offer) => offer.key === key)?.steps;
    this.changeRange(({ steps: _, ...sway }) => ({ ...sway, ...(wanted !== undefined && { steps: wanted }) }));
  }

  protected follow(address: string): void {
    const amount = this.sway()?.follows?.amount ?? 1;
    this.change(({ follows: _, ...sway }) => ({ ...sway, ...(address && { follows: { address, amount } }) }));
  }

  protected setAmount({ value, gesture }: ValueChange): void {
    this.change(({ follows, ...sway }) => ({ ...sway, ...(follows && { follows: { ...follows, amount: value } }) }), gesture);
  }

  private changeRange(next: (sway: Extract<ChancedSway, { kind: 'range' }>) => NewSway & { kind: 'range' }): void {
    const range = this.range();
    if (range) this.edit(next(range));
  }

  private change(next: (sway: ChancedSway) => NewSway & { kind: ChancedSway['kind'] }, gesture?: string): void {
    const sway = this.sway();
    if (sway) this.edit(next(sway), gesture);
  }

  private edit(sway: NewSway, gesture?: string): void {
    const { owner, property } = this.row();
    this.document.edit('setSway', { sound: this.workbench.sound()!.id, sway, label: `How ${owner}, ${property} is drawn` }, gesture);
  }
}

function withShape({ shape: _, ...sway }: Extract<ChancedSway, { kind: 'range' }>, wanted: SwayShape): NewSway & { kind: 'range' } {
  return { ...sway, ...(wanted !== 'even' && { shape: wanted }) };
}
