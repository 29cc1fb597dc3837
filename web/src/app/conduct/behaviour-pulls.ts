import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { PulledProperty } from '@tangled-choir/core';
import { ownTurn, pulledDials } from '@tangled-choir/core';
import { DocumentStore } from '../state/project/document.store';
import { Simulator } from '../state/simulator.store';
import type { Offer } from '../ui/choice-field';
import { ChoiceField, namedOffers } from '../ui/choice-field';
import type { GraphPlace, PointMove } from '../ui/point-graph';
import { PointGraph } from '../ui/point-graph';
import { formatQuantity } from '../ui/quantity';
import { ConductBench } from './conduct-bench';
import type { Axes, Point } from './curve-points';
import { graphPath, graphPoints, withMoved, withPoint } from './curve-points';

/** One drawn curve: what pulls what, or when a child of a Blend has its turn. */
interface Drawn {
  readonly key: string;
  readonly title: string;
  readonly axes: Axes;
  readonly points: readonly Point[];
  readonly parameter: string;
  readonly pull: PulledProperty | undefined;
  readonly now: number | undefined;
}

const isPulled = (key: string): key is PulledProperty => Object.hasOwn(pulledDials, key);
const pulledProperties = Object.entries(pulledDials).flatMap(([key, { label }]): Offer<PulledProperty>[] =>
  isPulled(key) ? [{ value: key, name: label }] : [],
);

/** Heights of these are seldom wanted beyond here: the graph shows so much of them. */
const shownRange: Partial<Record<PulledProperty, readonly [least: number, most: number]>> = { gain: [-48, 24], pitch: [-24, 24] };

/** Curves along which game parameters pull the chosen behaviour. */
@Component({
  selector: 'tc-behaviour-pulls',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChoiceField, PointGraph],
  template: `
    <header>
      <strong>{{ bench.chosen()?.name }}</strong>
      @if (parameters().length > 0) {
        <tc-choice
          label="a parameter"
          spoken="Parameter that pulls"
          [offers]="parameterOffers()"
          [value]="parameter()"
          (chosen)="wished.set($event)"
        />
        <tc-choice
          label="pulls"
          spoken="Property that is pulled"
          [offers]="properties"
          [value]="property()"
          (chosen)="property.set($event)"
        />
        <button class="text-button" (click)="add()">+ Draw a curve</button>
      }
    </header>
    @if (parameters().length === 0) {
      <p class="quiet hint">
        A game parameter is a number that the game sets: the strength of the wind, what is underfoot. Make one under Parameters; then draw
        here how it pulls level, pitch, high cut, chance or rate of this behaviour.
      </p>
    }
    <div class="graphs">
      @for (curve of drawn(); track curve.key) {
        <div class="graph">
          <span class="title"
            ><span>{{ curve.title }}</span
            ><span class="space"></span>
            <button class="text-button" [attr.aria-label]="'Remove ' + curve.title" (click)="set(curve, [])">
              {{ curve.pull ? 'Remove' : 'As at first' }}
            </button></span
          >
          <tc-point-graph
            [name]="curve.title"
            [points]="pointsOf(curve)"
            [path]="pathOf(curve)"
            [now]="curve.now"
            [keyStep]="{ x: 0.02, y: 0.04 }"
            (added)="addPoint(curve, $event)"
            (moved)="movePoint(curve, $event)"
            (removed)="removePoint(curve, $event)"
          />
          <span class="axis quiet number"
            ><span>{{ short(curve.axes.low) }}</span
            ><span>{{ curve.axes.least }} to {{ curve.axes.most }}{{ unitOf(curve) }}</span
            ><span>{{ short(curve.axes.high) }}</span></span
          >
        </div>
      }
    </div>
  `,
  styleUrl: './conduct-panel.scss',
})
export class BehaviourPulls {
  private readonly document = inject(DocumentStore);
  private readonly simulator = inject(Simulator);
  protected readonly bench = inject(ConductBench);
  protected readonly parameters = computed(() => this.bench.conduct()?.parameters ?? []);
  protected readonly parameterOffers = computed(() => namedOffers(this.parameters()));
  protected readonly properties = pulledProperties;
  /** What the next curve joins: the parameter that was chosen last, or the first one, and a property. */
  protected readonly wished = signal('');
  protected readonly parameter = computed(() => {
    const ids = this.parameters().map(({ id }) => id);
    return ids.includes(this.wished()) ? this.wished() : (ids[0] ?? '');
  });
  protected readonly property = signal<PulledProperty>('gain');

  protected readonly drawn = computed((): readonly Drawn[] => {
    const chosen = this.bench.chosen();
    if (!chosen) return [];
    const pulls = chosen.pulls.flatMap(({ parameter, property, points }): Drawn[] => {
      const range = this.parameters().find(({ id }) => id === parameter);
      if (!range) return [];
      const { label, min, max } = pulledDials[property];
      const [least, most] = shownRange[property] ?? [min, max];
      const axes = { low: range.low, high: range.high, least, most };
      const title = `${range.name} pulls ${label.toLowerCase()}`;
      return [{ key: `${parameter} ${property}`, title, axes, points, parameter, pull: property, now: this.placeOf(parameter) }];
    });
    const turn = this.turnCurve();
    return turn ? [turn, ...pulls] : pulls;
  });

  /** In a Blend: the curve of the chosen child's turn. */
  private turnCurve(): Drawn | undefined {
    const [chosen, parent] = [this.bench.chosen(), this.bench.parent()];
    if (!chosen || parent?.play.kind !== 'blend') return undefined;
    const siblings = this.bench.rows().filter(({ behaviour }) => behaviour.parent === parent.id);
    const index = siblings.findIndex(({ behaviour }) => behaviour.id === chosen.id);
    const points = chosen.slot.curve.length > 0 ? chosen.slot.curve : ownTurn(index, siblings.length);
    const { parameter } = parent.play;
    const title = `Its turn in ${parent.name}`;
    return {
      key: 'turn',
      title,
      axes: { low: 0, high: 1, least: 0, most: 1 },
      points,
      parameter,
      pull: undefined,
      now: this.placeOf(parameter),
    };
  }

  /** Where a parameter stands in its range, in percent. */
  private placeOf(id: string): number | undefined {
    this.simulator.frame();
    const range = this.parameters().find((each) => each.id === id);
    if (!range) return undefined;
    const value = this.simulator.engine()?.state.parameters.get(id)?.value ?? this.simulator.values().get(id) ?? range.start;
    return Math.max(0, Math.min(100, ((value - range.low) / (range.high - range.low)) * 100));
  }

  protected pointsOf(curve: Drawn) {
    return graphPoints(curve.axes, curve.points, ({ at, value }) => {
      const height = curve.pull ? formatQuantity(value, pulledDials[curve.pull]) : `${Math.round(value * 100)} % of the power`;
      return `${height} at ${this.short(at)}`;
    });
  }

  protected pathOf = (curve: Drawn): string => graphPath(curve.axes, curve.points);
  protected short = (value: number): string => String(Math.round(value * 100) / 100);
  protected unitOf = ({ pull }: Drawn): string =>
    pull === undefined ? ' of the power' : pulledDials[pull].unit === '%' ? '' : ` ${pulledDials[pull].unit || 'oct'}`;

  protected add(): void {
    const chosen = this.bench.chosen();
    const property = this.property();
    const range = this.parameters().find(({ id }) => id === this.parameter());
    if (!chosen || !range) return;
    const points = [
      { at: range.low, value: 0 },
      { at: range.high, value: 0 },
    ];
    this.document.edit('setGamePull', { behaviour: chosen.id, parameter: range.id, property, points });
  }

  protected set({ pull, parameter }: Drawn, points: readonly Point[], gesture?: string): void {
    const chosen = this.bench.chosen();
    if (!chosen) return;
    if (pull) this.document.edit('setGamePull', { behaviour: chosen.id, parameter, property: pull, points }, gesture);
    else {
      const change = { slot: { ...chosen.slot, curve: [...points] } };
      this.document.edit('setBehaviour', { behaviour: chosen.id, change, label: 'Turn' }, gesture);
    }
  }

  /** The points of the document: two keys in a row come faster than what is shown. */
  private stored(curve: Drawn): Drawn {
    return this.drawn().find(({ key }) => key === curve.key) ?? curve;
  }

  protected addPoint(shown: Drawn, place: GraphPlace): void {
    const curve = this.stored(shown);
    this.set(curve, withPoint(curve.axes, curve.points, place));
  }

  protected movePoint(shown: Drawn, move: PointMove): void {
    const curve = this.stored(shown);
    this.set(curve, withMoved(curve.axes, curve.points, move), move.gesture);
  }

  protected removePoint(shown: Drawn, index: number): void {
    const curve = this.stored(shown);
    if (curve.points.length > 1)
      this.set(
        curve,
        curve.points.filter((_, i) => i !== index),
      );
  }
}
