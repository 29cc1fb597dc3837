import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { MapPlace, SiblingPair } from '@tangled-choir/core';
import { extent, scaleLinear } from 'd3';

const width = 218;
const height = 176;
const edge = 16;
/** Nothing is drawn larger than this, in dB from side to side: a family of near-twins is to look like one. */
const leastReach = 6;

/** A sibling on the map. */
export interface PlannedSibling {
  readonly index: number;
  readonly state: 'open' | 'kept' | 'dropped';
  readonly place: MapPlace;
}

/** A family laid out by ear: who sounds alike lies together; near-twins are joined, outliers ringed. */
@Component({
  selector: 'tc-family-plan',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="viewBox" role="group" aria-label="Map of the family: who sounds alike lies together">
      @for (pair of joined(); track $index) {
        <line class="twins" [attr.x1]="pair.from.x" [attr.y1]="pair.from.y" [attr.x2]="pair.to.x" [attr.y2]="pair.to.y" />
      }
      @for (dot of dots(); track dot.index) {
        @if (dot.outlier) {
          <circle class="outlier" [attr.cx]="dot.x" [attr.cy]="dot.y" r="14" />
        }
        <g
          role="button"
          tabindex="0"
          [class]="dot.state"
          [class.chosen]="dot.index === chosen()"
          [attr.aria-label]="dot.label"
          [attr.aria-current]="dot.index === chosen()"
          [attr.transform]="'translate(' + dot.x + ' ' + dot.y + ')'"
          (click)="picked.emit(dot.index)"
          (keydown.enter)="picked.emit(dot.index); $event.stopPropagation()"
        >
          <circle r="9" />
          <text dy="3.5">{{ dot.index + 1 }}</text>
        </g>
      }
    </svg>
  `,
  styles: `
    :host {
      display: block;
      border-radius: 6px;
      background: var(--background);
    }
    svg {
      display: block;
      width: 100%;
    }
    g {
      cursor: pointer;
    }
    g circle {
      fill: var(--surface-3);
      stroke: transparent;
      stroke-width: 2;
    }
    text {
      fill: var(--text);
      font-family: var(--mono);
      font-size: 9.5px;
      text-anchor: middle;
      pointer-events: none;
    }
    .kept circle {
      fill: var(--good);
    }
    .kept text {
      fill: var(--background);
    }
    .dropped {
      opacity: 0.45;
    }
    .chosen circle,
    g:focus-visible circle {
      stroke: var(--live);
    }
    g:focus-visible {
      outline: none;
    }
    .twins {
      stroke: var(--warning);
      stroke-width: 2;
    }
    .outlier {
      fill: none;
      stroke: var(--warning);
      stroke-dasharray: 3 3;
      stroke-width: 1.4;
    }
  `,
})
export class FamilyPlan {
  readonly siblings = input.required<readonly PlannedSibling[]>();
  readonly twins = input.required<readonly SiblingPair[]>();
  readonly outliers = input.required<readonly number[]>();
  readonly nearest = input.required<readonly (SiblingPair | undefined)[]>();
  readonly chosen = input.required<number>();
  readonly picked = output<number>();
  protected readonly viewBox = `0 0 ${width} ${height}`;

  private readonly axes = computed(() => {
    const places = this.siblings().map(({ place }) => place);
    const spanOf = (values: readonly number[]): readonly [number, number] => {
      const [low = 0, high = 0] = extent(values);
      return [low, high];
    };
    const xs = spanOf(places.map(({ x }) => x));
    const ys = spanOf(places.map(({ y }) => y));
    // Both axes show as many decibels for as many pixels.
    const perPixel = Math.max(
      (xs[1] - xs[0]) / (width - 2 * edge),
      (ys[1] - ys[0]) / (height - 2 * edge),
      leastReach / (height - 2 * edge),
    );
    const axis = ([low, high]: readonly [number, number], size: number) => {
      const middle = (low + high) / 2;
      const reach = (perPixel * size) / 2;
      return scaleLinear([middle - reach, middle + reach], [0, size]);
    };
    return { x: axis(xs, width), y: axis(ys, height) };
  });
  protected readonly dots = computed(() => {
    const { x, y } = this.axes();
    const outliers = new Set(this.outliers());
    return this.siblings().map(({ index, state, place }) => {
      const near = this.nearest()[index];
      const outlier = outliers.has(index);
      const told = near ? `, nearest ${near.b + 1} at ${near.distance.toFixed(1)} dB` : '';
      return {
        index,
        state,
        outlier,
        x: x(place.x),
        y: y(place.y),
        label: `Sibling ${index + 1} on the map, ${state}${told}${outlier ? ', stands out' : ''}`,
      };
    });
  });
  protected readonly joined = computed(() => {
    const dots = this.dots();
    return this.twins().flatMap(({ a, b }) => (dots[a] && dots[b] ? [{ from: dots[a], to: dots[b] }] : []));
  });
}
