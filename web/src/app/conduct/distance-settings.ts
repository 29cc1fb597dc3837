import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { GameBehaviour } from '@tangled-choir/core';
import { distanceDials, levelAt } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { ConductBench } from './conduct-bench';

type Distance = NonNullable<GameBehaviour['distance']>;
type DistanceDial = keyof typeof distanceDials;

const first: Distance = { inner: 2, outer: 60, law: 'inverse', highCut: 8_000, width: 1, doppler: 0 };
const columns = 100;
/** Levels below this are not shown. */
const floor = -60;

/** How the chosen root is heard from afar. */
@Component({
  selector: 'tc-distance-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatCheckboxModule, ValueField],
  template: `
    @if (root(); as behaviour) {
      <header>
        <mat-checkbox [checked]="behaviour.distance !== undefined" (change)="toggle($event.checked)"
          >“{{ behaviour.name }}” has a place, and is heard from afar</mat-checkbox
        >
      </header>
      @if (behaviour.distance; as distance) {
        <div class="two">
          <div class="dials">
            <label class="choice"
              ><span class="quiet">Falls off</span>
              <select #law (change)="setLaw(law.value)">
                <option value="inverse" [selected]="distance.law === 'inverse'">6 dB per doubling</option>
                <option value="even" [selected]="distance.law === 'even'">evenly in dB</option>
                <option value="slow" [selected]="distance.law === 'slow'">late</option>
              </select></label
            >
            @for (dial of dials; track dial.key) {
              <tc-value [parameter]="dial.parameter" [value]="distance[dial.key]" (valueChange)="turn(dial.key, $event)" />
            }
          </div>
          <figure>
            <svg viewBox="0 0 100 100" preserveAspectRatio="none" role="img" aria-label="Level over distance">
              <path [attr.d]="path()" />
            </svg>
            <figcaption class="quiet number">
              <span>0 m</span><span>level over distance, {{ floor }} to 0 dB</span><span>{{ reach() }} m</span>
            </figcaption>
          </figure>
        </div>
      } @else {
        <p class="quiet hint">
          Without a place it is as loud everywhere, and in the middle. With one, move it and the listener on the plan.
        </p>
      }
    }
  `,
  styleUrls: ['./conduct-panel.scss', './distance-settings.scss'],
})
export class DistanceSettings {
  private readonly document = inject(DocumentStore);
  private readonly bench = inject(ConductBench);
  protected readonly floor = floor;
  protected readonly dials = (['inner', 'outer', 'highCut', 'width', 'doppler'] as const).map((key) => ({
    key,
    parameter: distanceDials[key],
  }));
  /** The chosen behaviour's root: only that has a place. */
  protected readonly root = computed(() => {
    const chosen = this.bench.chosen();
    const rows = this.bench.rows();
    const at = rows.findIndex(({ behaviour }) => behaviour.id === chosen?.id);
    return rows.slice(0, at + 1).findLast(({ depth }) => depth === 0)?.behaviour;
  });
  protected readonly reach = computed(() => Math.round((this.root()?.distance?.outer ?? 0) * 1.1));
  protected readonly path = computed(() => {
    const distance = this.root()?.distance;
    if (!distance) return '';
    return Array.from({ length: columns + 1 }, (_, i) => {
      const level = 20 * Math.log10(Math.max(1e-4, levelAt(distance, (i / columns) * distance.outer * 1.1)));
      return `${i === 0 ? 'M' : 'L'}${i} ${((Math.max(floor, level) / floor) * 98 + 1).toFixed(2)}`;
    }).join('');
  });

  private set(distance: Distance | undefined, label: string, gesture?: string): void {
    const root = this.root();
    const change = { distance, ...(distance && !root?.place && { place: { x: 0, y: 5 } }) };
    if (root) this.document.edit('setBehaviour', { behaviour: root.id, change, label }, gesture);
  }

  protected toggle(on: boolean): void {
    this.set(on ? first : undefined, 'Distance');
  }

  protected turn(key: DistanceDial, { value, gesture }: ValueChange): void {
    const distance = this.root()?.distance;
    if (distance) this.set({ ...distance, [key]: value }, distanceDials[key].label, gesture);
  }

  protected setLaw(law: string): void {
    const distance = this.root()?.distance;
    if (distance && (law === 'inverse' || law === 'even' || law === 'slow')) this.set({ ...distance, law }, 'Falling off');
  }
}
