import { ChangeDetectionStrategy, Component } from '@angular/core';
import { spectrogramRange } from '@tangled-choir/core';

const { low, high } = spectrogramRange;
const labels = [
  { frequency: 100, text: '100' },
  { frequency: 1_000, text: '1k' },
  { frequency: 10_000, text: '10k' },
];

/** Where a frequency lies in a spectrogram, from its lower edge. */
export const frequencyShare = (frequency: number): number => Math.log(frequency / low) / Math.log(high / low);

/** Names frequencies along the right edge of a spectrogram that fills its box. */
@Component({
  selector: 'tc-frequency-axis',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (label of labels; track label.text) {
      <span class="number" [style.bottom.%]="label.place">{{ label.text }}</span>
    }
  `,
  styles: `
    :host {
      position: absolute;
      right: 4px;
      bottom: 0;
      pointer-events: none;
    }
    span {
      position: absolute;
      right: 0;
      /* Spectrograms are dark in both themes. */
      color: #ece5d6;
      font-size: 10px;
      line-height: 12px;
      opacity: 0.75;
      transform: translateY(50%);
    }
  `,
  host: { 'aria-hidden': 'true' },
})
export class FrequencyAxis {
  protected readonly labels = labels.map(({ frequency, text }) => ({
    text,
    place: 100 * frequencyShare(frequency),
  }));
}
