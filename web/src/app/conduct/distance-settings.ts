import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatCheckboxModule } from '@angular/material/checkbox';
import type { GameBehaviour } from '@tangled-choir/core';
import { distanceDials, levelAt, lowestDrawn, startingDistance } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import type { Offer } from '../ui/choice-field';
import { ChoiceField } from '../ui/choice-field';
import type { GraphPlace, PointMove } from '../ui/point-graph';
import { PointGraph } from '../ui/point-graph';
import type { ValueChange } from '../ui/value-field';
import { ValueField } from '../ui/value-field';
import { ConductBench } from './conduct-bench';
import type { Point } from './curve-points';
import { graphPath, graphPoints, withMoved, withPoint } from './curve-points';

type Distance = NonNullable<GameBehaviour['distance']>;
type DistanceDial = keyof typeof distanceDials;

const laws: readonly Offer<Distance['law']>[] = [
  { value: 'inverse', name: '6 dB per doubling' },
  { value: 'even', name: 'evenly in dB' },
  { value: 'slow', name: 'late' },
  { value: 'drawn', name: 'as it is drawn' },
];

const columns = 100;
/** Levels below this are not shown. */
const floor = lowestDrawn;
const axes = { low: 0, high: 1, least: lowestDrawn, most: 0 };

/** A few points of how something falls off, over the way from its inner size to its outer end. */
function drawnFrom(distance: Distance): Point[] {
  return [0, 0.1, 0.25, 0.5, 0.75, 1].map((at) => {
    const level = levelAt(distance, distance.inner + at * (distance.outer - distance.inner));
    return { at, value: Math.max(lowestDrawn, Math.round(200 * Math.log10(Math.max(1e-9, level))) / 10) };
  });
}

/** How the chosen root is heard from afar. */
@Component({
  selector: 'tc-distance-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, MatCheckboxModule, PointGraph, ValueField],
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
            <tc-choice label="Falls off" [offers]="laws" [value]="distance.law" (chosen)="setLaw($event)" />
            @for (dial of dials; track dial.key) {
              <tc-value [parameter]="dial.parameter" [value]="distance[dial.key]" (valueChange)="turn(dial.key, $event)" />
            }
          </div>
          <figure>
            @if (distance.law === 'drawn') {
              <tc-point-graph
                name="Level over distance"
                [points]="points()"
                [path]="curvePath()"
                [now]="undefined"
                [keyStep]="{ x: 0.02, y: 0.04 }"
                (added)="draw(add($event))"
                (moved)="draw(move($event), $event.gesture)"
                (removed)="removePoint($event)"
              />
              <figcaption class="quiet number">
                <span>{{ distance.inner }} m</span><span>level from the inner size to the outer end, {{ floor }} to 0 dB</span
                ><span>{{ distance.outer }} m</span>
              </figcaption>
            } @else {
              <svg viewBox="0 0 100 100" preserveAspectRatio="none" role="img" aria-label="Level over distance">
                <path [attr.d]="path()" />
              </svg>
              <figcaption class="quiet number">
                <span>0 m</span><span>level over distance, {{ floor }} to 0 dB</span><span>{{ reach() }} m</span>
              </figcaption>
            }
            @if (distance.roomFar + distance.roomNear > 0 && !hasRoom()) {
              <p class="quiet hint">Its bus has no room yet: put one around it under Buses.</p>
            }
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
  protected readonly laws = laws;
  private readonly document = inject(DocumentStore);
  private readonly bench = inject(ConductBench);
  protected readonly floor = floor;
  protected readonly dials = (['inner', 'outer', 'highCut', 'width', 'doppler', 'roomNear', 'roomFar'] as const).map((key) => ({
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

  protected readonly points = computed(() => {
    const distance = this.root()?.distance;
    if (!distance) return [];
    const { inner, outer } = distance;
    return graphPoints(axes, distance.curve, ({ at, value }) => `${value.toFixed(1)} dB at ${(inner + at * (outer - inner)).toFixed(1)} m`);
  });
  protected readonly curvePath = computed(() => graphPath(axes, this.root()?.distance?.curve ?? []));
  /** Whether a room is around its bus, or around one that this goes into. */
  protected readonly hasRoom = computed(() => {
    const buses = this.bench.conduct()?.buses ?? [];
    const seen = new Set<string>();
    for (let at = this.root()?.bus; at !== undefined && !seen.has(at); at = buses.find(({ id }) => id === at)?.into) {
      if (buses.some(({ id, room }) => id === at && room)) return true;
      seen.add(at);
    }
    return false;
  });

  protected add = (place: GraphPlace): Point[] => withPoint(axes, this.root()?.distance?.curve ?? [], place);
  protected move = (move: PointMove): Point[] => withMoved(axes, this.root()?.distance?.curve ?? [], move);

  protected draw(curve: readonly Point[], gesture?: string): void {
    const distance = this.root()?.distance;
    if (distance) this.set({ ...distance, curve: [...curve] }, 'Falling off', gesture);
  }

  protected removePoint(index: number): void {
    const curve = this.root()?.distance?.curve ?? [];
    if (curve.length > 1) this.draw(curve.filter((_, i) => i !== index));
  }

  private set(distance: Distance | undefined, label: string, gesture?: string): void {
    const root = this.root();
    const change = { distance, ...(distance && !root?.place && { place: { x: 0, y: 5 } }) };
    if (root) this.document.edit('setBehaviour', { behaviour: root.id, change, label }, gesture);
  }

  protected toggle(on: boolean): void {
    this.set(on ? startingDistance : undefined, 'Distance');
  }

  protected turn(key: DistanceDial, { value, gesture }: ValueChange): void {
    const distance = this.root()?.distance;
    if (distance) this.set({ ...distance, [key]: value }, distanceDials[key].label, gesture);
  }

  protected setLaw(law: Distance['law']): void {
    const distance = this.root()?.distance;
    if (!distance) return;
    // What is drawn begins as it fell off before.
    const curve = law === 'drawn' && distance.curve.length === 0 ? drawnFrom(distance) : distance.curve;
    this.set({ ...distance, law, curve }, 'Falling off');
  }
}
