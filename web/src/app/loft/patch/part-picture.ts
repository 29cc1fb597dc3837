import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { ParameterValues, PartKind } from '@tangled-choir/core';
import { pictureOfPart } from '@tangled-choir/core';

/** How much of a steady wave is drawn, and of what changes while it sounds. */
const fewPeriods = 0.0136;
const aWhile = 0.08;
const columns = 220;

/** The beginning of what a part makes, in front of its envelope. */
@Component({
  selector: 'tc-part-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 220 100" preserveAspectRatio="none" role="img" [attr.aria-label]="'What ' + kind().label + ' makes'">
      <line x1="0" x2="220" y1="50" y2="50" />
      <path [attr.d]="path()" />
    </svg>
    <span class="number quiet">{{ told() }}</span>
  `,
  styles: `
    :host {
      position: relative;
      display: block;
      min-height: 0;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--background);
    }
    svg {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
    }
    line {
      stroke: var(--line);
    }
    path {
      fill: none;
      stroke: var(--role-air);
      stroke-width: 1.4;
      vector-effect: non-scaling-stroke;
    }
    span {
      position: absolute;
      right: 4px;
      bottom: 1px;
      font-size: 10px;
    }
  `,
})
export class PartPictureView {
  readonly kind = input.required<PartKind>();
  readonly values = input.required<ParameterValues>();
  private readonly picture = computed(() => pictureOfPart(this.kind(), this.values(), this.kind().modulated ? fewPeriods : aWhile));
  /** Parts that play a source have nothing to show by themselves. */
  protected readonly told = computed(() => {
    const { wave, seconds } = this.picture();
    return wave.some((sample) => sample !== 0) ? `${(seconds * 1_000).toFixed(0)} ms at A3` : 'plays its source';
  });
  /** From column to column, the lowest and the highest of what falls into it. */
  protected readonly path = computed(() => {
    const { wave } = this.picture();
    const places: string[] = [];
    for (let x = 0; x < columns; x++) {
      const from = Math.floor((x * wave.length) / columns);
      const to = Math.max(from + 1, Math.floor(((x + 1) * wave.length) / columns));
      let low = Infinity;
      let high = -Infinity;
      for (let i = from; i < to; i++) {
        low = Math.min(low, wave[i]!);
        high = Math.max(high, wave[i]!);
      }
      places.push(`${x === 0 ? 'M' : 'L'}${x} ${(50 - 46 * high).toFixed(1)}`);
      if (high - low > 0.02) places.push(`L${x} ${(50 - 46 * low).toFixed(1)}`);
    }
    return places.join('');
  });
}
