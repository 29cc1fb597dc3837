import { InputModalityDetector } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, output, signal } from '@angular/core';
import type { MatSelect, MatSelectChange } from '@angular/material/select';
import { MatSelectModule } from '@angular/material/select';

/** Something that can be chosen, and what it is called. */
export interface Offer<T extends string | number | boolean = string> {
  readonly value: T;
  readonly name: string;
}

/** Offers that stand together under a name. */
export interface OfferGroup<T extends string | number | boolean = string> {
  readonly name: string;
  readonly offers: readonly Offer<T>[];
}

/** Words that are their own names. */
export function offersOf<T extends string | number>(values: readonly T[]): readonly Offer<T>[] {
  return values.map((value) => ({ value, name: `${value}` }));
}

/** What has an id and a name, behind nothing where that can be chosen, too. */
export function namedOffers(items: readonly { readonly id: string; readonly name: string }[], nothing?: string): readonly Offer[] {
  const offers = items.map(({ id, name }): Offer => ({ value: id, name }));
  return nothing === undefined ? offers : [{ value: '', name: nothing }, ...offers];
}

/** Sources by name, behind nothing where that can be chosen, too. */
export function sourceOffers(sources: readonly { readonly id: string; readonly name: string }[], nothing?: string): readonly Offer[] {
  return namedOffers(
    [...sources].sort((a, b) => a.name.localeCompare(b.name)),
    nothing,
  );
}

/**
 * One of several: Material's select in our density, with its label before it. What it shows is what it is given: a choice that is refused
 * stands nowhere.
 */
@Component({
  selector: 'tc-choice',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatSelectModule],
  host: { '[class.bare]': 'bare()', '(pointerenter)': 'met.set(true)', '(focusin)': 'met.set(true)', '(click)': 'met.set(true)' },
  template: `
    @if (!bare()) {
      <span class="quiet" aria-hidden="true">{{ label() }}</span>
    }
    <mat-select
      #box
      panelClass="choice-panel"
      [panelWidth]="null"
      hideSingleSelectionIndicator
      disableRipple
      [aria-label]="spoken() ?? label()"
      [placeholder]="placeholder()"
      [disabled]="disabled()"
      [value]="value()"
      (selectionChange)="take($event)"
      (openedChange)="$event || letGo()"
      (keydown.escape)="leave($event, box)"
    >
      @for (offer of shown(); track offer.value) {
        <mat-option [value]="offer.value">{{ offer.name }}</mat-option>
      }
      @for (group of shownGroups(); track $index) {
        <mat-optgroup [label]="group.name">
          @for (offer of group.offers; track offer.value) {
            <mat-option [value]="offer.value">{{ offer.name }}</mat-option>
          }
        </mat-optgroup>
      }
    </mat-select>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: var(--choice-columns, minmax(min-content, 1fr) minmax(0, max-content));
      gap: 6px;
      align-items: center;
      min-width: 0;
      font-size: 12px;
    }
    :host(.bare) {
      grid-template-columns: minmax(0, 1fr);
    }
    span {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    mat-select {
      min-width: 56px;
      height: var(--choice-height, 24px);
      padding: 0 6px;
      border: var(--choice-border, 1px solid var(--line));
      border-radius: var(--choice-radius, 4px);
      background: var(--choice-surface, var(--surface-2));
      line-height: calc(var(--choice-height, 24px) - 2px);
    }
    mat-select:hover {
      border-color: var(--quiet);
    }
    :host(.automated) span,
    :host(.automated) mat-select {
      color: var(--live);
    }
    mat-select.mat-mdc-select-disabled {
      opacity: 0.5;
    }
  `,
})
export class ChoiceField<T extends string | number | boolean> {
  readonly label = input.required<string>();
  /** Undefined where it is none of them, such as what several have in different ways. */
  readonly value = input.required<T | undefined>();
  readonly offers = input<readonly Offer<T>[]>([]);
  readonly groups = input<readonly OfferGroup<T>[]>([]);
  /** What it is called by who cannot see what it belongs to. */
  readonly spoken = input<string>();
  /** Shows no label: what stands around it says what it is. */
  readonly bare = input(false, { transform: (value: boolean | '') => value !== false });
  /** What is shown while the value is none of the offers. */
  readonly placeholder = input('');
  readonly disabled = input(false);
  readonly chosen = output<T>();

  private readonly modality = inject(InputModalityDetector);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly all = computed(() => [...this.offers(), ...this.groups().flatMap(({ offers }) => offers)]);
  /** Lists are long, and most are never opened: until somebody comes to it there is one offer, because without any it would not open. */
  protected readonly met = signal(false);
  private readonly resting = computed(() => this.all().find(({ value }) => value === this.value()) ?? this.all()[0]);
  protected readonly shown = computed(() => (this.met() ? this.offers() : this.offers().filter((offer) => offer === this.resting())));
  protected readonly shownGroups = computed(() => {
    const resting = this.resting();
    if (this.met() || !resting) return this.groups();
    return this.groups().flatMap(({ name, offers }) => (offers.includes(resting) ? [{ name, offers: [resting] }] : []));
  });

  /** Who chose with the pointer goes on elsewhere: the next key is the view's, not the box's. */
  protected letGo(): void {
    const modality = this.modality.mostRecentModality;
    // The box takes the focus after it has said that it closes.
    if (modality === 'mouse' || modality === 'touch')
      void Promise.resolve().then(() => this.element.querySelector<HTMLElement>('mat-select')?.blur());
  }

  /** Within a menu, only the list is left. */
  protected leave(event: Event, box: MatSelect): void {
    if (!box.panelOpen) return;
    box.close();
    event.stopPropagation();
  }

  protected take({ source, value }: MatSelectChange<unknown>): void {
    source.value = this.value();
    const chosen = this.all().find((offer) => offer.value === value);
    if (chosen) this.chosen.emit(chosen.value);
  }
}
