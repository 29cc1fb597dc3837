import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { DrawnMode, ParameterValues, PartKind } from '@tangled-choir/core';
import { pictureOfModes, pictureOfPart } from '@tangled-choir/core';

/** How much of a steady wave is drawn, and of what changes while it sounds. */
const fewPeriods = 0.0136;
const aWhile = 0.08;
const columns = 220;
/** Where lines of modes stand, and how tall the strongest is: their number is told above, the axis below. */
const foot = 84;
const tall = 64;

/** The beginning of what a part makes, in front of its envelope; of what rings, its modes over frequency. */
@Component({
  selector: 'tc-part-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 220 100" preserveAspectRatio="none" role="img" [attr.aria-label]="'What ' + kind().label + ' makes'">
      @if (modes(); as lines) {
        @for (decade of decades; track decade) {
          <line [attr.x1]="decade" [attr.x2]="decade" y1="20" y2="84" />
        }
        <path class="lasting" [attr.d]="linesOf(lines, true)" />
        <path class="passing" [attr.d]="linesOf(lines, false)" />
      } @else {
        <line x1="0" x2="220" y1="50" y2="50" />
        <path [attr.d]="path()" />
      }
    </svg>
    @if (modes()) {
      <span class="number quiet scale" aria-hidden="true">100 Hz</span>
      <span class="number quiet scale second" aria-hidden="true">1 k</span>
      <span class="number quiet scale third" aria-hidden="true">10 k</span>
    }
    <span class="number quiet" [class.above]="modes()">{{ told() }}</span>
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
    .passing {
      opacity: 0.45;
    }
    span {
      position: absolute;
      right: 4px;
      bottom: 1px;
      font-size: 10px;
    }
    .above {
      inset: 1px 4px auto auto;
    }
    .scale {
      inset: auto auto 1px 24%;
    }
    .second {
      left: 57%;
    }
    .third {
      left: 84%;
    }
  `,
})
export class PartPictureView {
  readonly kind = input.required<PartKind>();
  readonly values = input.required<ParameterValues>();
  private readonly picture = computed(() => pictureOfPart(this.kind(), this.values(), this.kind().modulated ? fewPeriods : aWhile));
  /** Of what rings, its modes say more than its wave. */
  protected readonly modes = computed(() => pictureOfModes(this.kind(), this.values()));
  protected readonly decades = [1, 2, 3].map((decade) => (columns * (decade + Math.log10(5) - 1)) / 3);

  /** Modes as lines from the bottom: those that ring as long as half of them, and those that are over sooner. */
  protected linesOf(modes: readonly DrawnMode[], lasting: boolean): string {
    const decays = modes.map(({ decay }) => decay).sort((a, b) => a - b);
    const middle = decays[Math.floor(decays.length / 2)] ?? 0;
    return modes
      .filter(({ decay }) => decay >= middle === lasting)
      .map(({ place, height }) => `M${(place * columns).toFixed(1)} ${foot}V${(foot - tall * height).toFixed(1)}`)
      .join('');
  }

  /** Parts that play a source have nothing to show by themselves. */
  protected readonly told = computed(() => {
    const modes = this.modes();
    if (modes) {
      const longest = modes.reduce((most, { decay }) => Math.max(most, decay), 0);
      return `${modes.length} ${modes.length === 1 ? 'mode' : 'modes'} at A3, up to ${longest.toFixed(longest < 1 ? 2 : 1)} s`;
    }
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
