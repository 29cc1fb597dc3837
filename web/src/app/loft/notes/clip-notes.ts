import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Clip } from '@tangled-choir/core';
import { heardNotes } from '@tangled-choir/core';

/** Softer notes are drawn fainter, in so many steps. */
const shades = 4;
/** Fewer semitones than these are drawn as if there were so many, so that a single note lies in the middle. */
const leastRange = 8;

/** The notes of a clip as small bars, pitch upwards. */
@Component({
  selector: 'tc-clip-notes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 1000 100" preserveAspectRatio="none" aria-hidden="true">
      @for (path of paths(); track $index) {
        <path [attr.d]="path" [style.opacity]="0.4 + (0.6 * ($index + 1)) / shades" />
      }
    </svg>
  `,
  styles: `
    svg {
      position: absolute;
      inset: 3px 0 16px;
      width: 100%;
      height: calc(100% - 19px);
      pointer-events: none;
    }
    path {
      fill: var(--hue);
    }
  `,
})
export class ClipNotes {
  readonly clip = input.required<Clip>();
  readonly duration = input.required<number>();
  protected readonly shades = shades;

  protected readonly paths = computed(() => {
    const { start } = this.clip();
    const notes = heardNotes(this.clip());
    const pitches = notes.map(({ pitch }) => pitch);
    const low = Math.min(...pitches);
    const high = Math.max(...pitches);
    const range = Math.max(leastRange, high - low + 2);
    const lowest = (low + high) / 2 - range / 2;
    const paths = Array.from({ length: shades }, () => '');
    for (const note of notes) {
      const x = ((note.start - start) / this.duration()) * 1_000;
      const width = Math.max(2, ((note.end - note.start) / this.duration()) * 1_000);
      const y = 100 - ((note.pitch - lowest + 0.5) / range) * 100;
      const height = Math.min(14, 100 / range);
      paths[Math.min(shades - 1, Math.floor(note.strength * shades))] +=
        `M${x.toFixed(1)} ${y.toFixed(1)}h${width.toFixed(1)}v${height.toFixed(1)}h${(-width).toFixed(1)}z`;
    }
    return paths;
  });
}
