import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { ChangeReading } from '@tangled-choir/core';
import { audibleChange } from '@tangled-choir/core';
import { formatLevel, signed } from '../../ui/quantity';

const lowest = -60;
const highest = 6;

/** How much a step changes the sound, band by band from low to high, and as a number. */
@Component({
  selector: 'tc-change-bars',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + bars().length * 4 + ' 40'" preserveAspectRatio="none" aria-hidden="true">
      <line x1="0" [attr.x2]="bars().length * 4" [attr.y1]="thresholdAt" [attr.y2]="thresholdAt" />
      @for (bar of bars(); track $index) {
        <rect [attr.x]="$index * 4" width="3" [attr.y]="40 - bar.height" [attr.height]="bar.height" [class.audible]="bar.audible" />
      }
    </svg>
    @if (labelled()) {
      <span class="number" [class.quiet]="!reading()?.audible">{{ text() }}</span>
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      gap: 6px;
      align-items: center;
    }
    svg {
      width: 44px;
      height: 20px;
    }
    line {
      stroke: var(--line);
      stroke-dasharray: 3 3;
      vector-effect: non-scaling-stroke;
    }
    rect {
      fill: var(--quiet);
      opacity: 0.6;
    }
    .audible {
      fill: var(--live);
      opacity: 1;
    }
    .number {
      min-width: 56px;
      white-space: nowrap;
      font-size: 12px;
      text-align: right;
    }
  `,
  host: { '[attr.title]': 'explanation()', '[attr.aria-label]': 'explanation()', role: 'img' },
})
export class ChangeBars {
  readonly reading = input.required<ChangeReading | undefined>();
  readonly labelled = input(true);
  protected readonly thresholdAt = 40 - heightOf(audibleChange);
  protected readonly bars = computed(() =>
    (this.reading()?.bands ?? Array.from({ length: 28 }, () => -Infinity)).map((level) => ({
      height: heightOf(level),
      audible: level > audibleChange,
    })),
  );
  protected readonly text = computed(() => {
    const reading = this.reading();
    if (!reading) return 'change –';
    return reading.audible ? `Δ ${formatLevel(reading.residual, 'dB')}` : 'no change';
  });
  protected readonly explanation = computed(() => {
    const reading = this.reading();
    if (!reading) return 'Change meter: plays nothing now';
    const louder = `${signed(reading.gain, 1)} dB in level`;
    return reading.audible
      ? `Changes the sound by ${formatLevel(reading.residual, 'dB')} at the same loudness; ${louder}`
      : `No audible change at the same loudness; ${louder}`;
  });
}

function heightOf(level: number): number {
  return Math.max(0, Math.min(1, (level - lowest) / (highest - lowest))) * 40;
}
