import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Clip, HeardPitch } from '@tangled-choir/core';
import { PitchTracks } from '../../state/pitch-tracks.store';
import { formatHeard, heldTones, pitchStrokes, strokePath } from '../../ui/pitch-line';

/** Notes that are shown at least, so that a steady tone looks steady. */
const leastNotes = 6;
/** Shares of the height that stay free above and below the line. */
const margin = 0.2;

/** The pitch of a clip as a line over it, with the names of the tones that are held; a lens tells it under the pointer. */
@Component({
  selector: 'tc-clip-pitch',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg preserveAspectRatio="none" [attr.viewBox]="'0 0 ' + width() + ' 100'" aria-hidden="true">
      @for (stroke of strokes(); track $index) {
        <path class="under" [attr.d]="pathOf(stroke)" />
        <path [attr.d]="pathOf(stroke)" [style.opacity]="stroke.confidence" />
      }
    </svg>
    @for (tone of tones(); track tone.x) {
      <small class="number" [style.left.px]="tone.x" [style.top.%]="y(tone.note)">{{ tone.name }}</small>
    }
    @if (told(); as told) {
      <output class="number" [class.left]="pointer()! > width() / 2">{{ told }}</output>
    }
  `,
  styles: `
    :host {
      position: absolute;
      z-index: 1;
      inset: 0;
      pointer-events: none;
    }
    svg {
      position: absolute;
      width: 100%;
      height: 100%;
    }
    path {
      fill: none;
      stroke: var(--text);
      stroke-width: 1.5px;
      vector-effect: non-scaling-stroke;
    }
    .under {
      stroke: var(--background);
      stroke-width: 3.5px;
      opacity: 0.7;
    }
    small,
    output {
      position: absolute;
      padding: 0 3px;
      border-radius: 3px;
      background: var(--background);
      color: var(--text);
      font-size: 10px;
      line-height: 13px;
      white-space: nowrap;
    }
    small {
      transform: translateY(calc(-100% - 3px));
      opacity: 0.85;
    }
    output {
      top: 1px;
      right: 4px;
      font-size: 11px;

      &.left {
        right: auto;
        left: 4px;
      }
    }
  `,
})
export class ClipPitch {
  readonly clip = input.required<Clip>();
  /** Of the whole clip, in pixels. */
  readonly width = input.required<number>();
  readonly duration = input.required<number>();
  /** The part that is seen, in shares of the clip. */
  readonly drawn = input.required<{ readonly from: number; readonly to: number }>();
  /** Where the pointer is over the clip, in pixels from its left edge. */
  readonly pointer = input<number>();
  private readonly tracks = inject(PitchTracks);

  protected readonly strokes = computed(() => {
    const { from, to } = this.drawn();
    return pitchStrokes((x) => this.at(x), from * this.width(), to * this.width());
  });
  protected readonly tones = computed(() => heldTones(this.strokes()));
  private readonly range = computed(() => {
    const notes = this.strokes().flatMap(({ places }) => places.map(({ note }) => note));
    const low = notes.reduce((least, note) => Math.min(least, note), Infinity);
    const high = notes.reduce((most, note) => Math.max(most, note), -Infinity);
    const missing = Math.max(0, leastNotes - (high - low)) / 2;
    return { low: low - missing, high: high + missing };
  });
  /** What is heard under the pointer. */
  protected readonly told = computed(() => {
    const pointer = this.pointer();
    return formatHeard(pointer === undefined ? undefined : this.at(pointer));
  });

  protected readonly y = (note: number): number => {
    const { low, high } = this.range();
    return 100 * (1 - margin - ((1 - 2 * margin) * (note - low)) / (high - low));
  };

  protected pathOf(stroke: ReturnType<typeof pitchStrokes>[number]): string {
    return strokePath(stroke, this.y);
  }

  private at(x: number): HeardPitch | undefined {
    return this.tracks.heard(this.clip(), (x / this.width()) * this.duration());
  }
}
