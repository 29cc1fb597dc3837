import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { extent, line, scaleLinear } from 'd3';

const width = 1_000;
const height = 48;

/** One measured track over the time of a recording, with the part that loops. */
@Component({
  selector: 'tc-track-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="name"
      ><span>{{ name() }}</span
      ><span class="number quiet">{{ range() }}</span></span
    >
    <svg viewBox="0 0 1000 48" preserveAspectRatio="none" role="img" [attr.aria-label]="name() + ' over time, ' + range()">
      <path [attr.d]="path()" />
    </svg>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 104px 1fr;
      height: 48px;
      border-top: 1px solid var(--line);
    }
    .name {
      display: flex;
      flex-direction: column;
      justify-content: center;
      font-size: 12px;
    }
    svg {
      width: 100%;
      height: 100%;
    }
    path {
      fill: none;
      stroke: var(--text);
      stroke-width: 1.25;
      vector-effect: non-scaling-stroke;
    }
  `,
})
export class TrackChart {
  readonly name = input.required<string>();
  readonly values = input.required<Float64Array>();
  /** Moments of the first value and of the others behind it, in seconds. */
  readonly first = input.required<number>();
  readonly hop = input.required<number>();
  /** Length of the recording in seconds: the whole width. */
  readonly seconds = input.required<number>();
  /** How a value is written; short, because two stand side by side. */
  readonly text = input.required<(value: number) => string>();
  private readonly bounds = computed(() => extent([...this.values()].filter((value) => !Number.isNaN(value))));
  protected readonly range = computed(() => {
    const [low, high] = this.bounds();
    return low === undefined ? 'none' : `${this.text()(low)} to ${this.text()(high)}`;
  });
  protected readonly path = computed(() => {
    const [low, high] = this.bounds();
    if (low === undefined) return null;
    const x = scaleLinear([0, Math.max(0.001, this.seconds())], [0, width]);
    const middle = (low + high) / 2;
    const reach = Math.max((high - low) / 2, 1e-6);
    const y = scaleLinear([middle - reach, middle + reach], [height - 4, 4]);
    return line<number>()
      .defined((value) => !Number.isNaN(value))
      .x((_, n) => x(this.first() + n * this.hop()))
      .y((value) => y(value))([...this.values()]);
  });
}
