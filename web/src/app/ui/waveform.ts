import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, signal } from '@angular/core';
import type { Overview } from '@tangled-choir/core';
import type { FramePlaces } from './waveform-path';
import { waveformPath } from './waveform-path';

/** A wider one gets columns of more than a pixel. */
const mostColumns = 8_192;

/**
 * A waveform that fills its box, in one tint. It is a path and no canvas: browsers give every canvas a layer of its own, and hundreds of
 * layers make scrolling slow.
 */
@Component({
  selector: 'tc-waveform',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<svg [attr.viewBox]="'0 0 ' + box().width + ' ' + box().height" preserveAspectRatio="none" aria-hidden="true">
    <path [attr.d]="path()" />
  </svg>`,
  styles: `
    :host {
      display: block;
      min-width: 0;
    }
    svg {
      display: block;
      width: 100%;
      height: 100%;
      /* The path lies within; clipping it would cost time with hundreds of them. */
      overflow: visible;
      fill: currentcolor;
    }
  `,
  host: { '[style.color]': 'colour()' },
})
export class Waveform {
  readonly overview = input<Overview | undefined>();
  readonly colour = input('var(--role-air)');
  /** First and last frame to draw; the whole recording without it. */
  readonly from = input<number | undefined>();
  readonly to = input<number | undefined>();
  /** Which frame is drawn where, in place of `from` and `to`. */
  readonly places = input<FramePlaces | undefined>();
  readonly gain = input(1);
  private readonly size = signal({ width: 0, height: 0 });
  private readonly course = computed((): FramePlaces => {
    const from = this.from() ?? 0;
    const to = this.to() ?? this.overview()?.frames ?? 0;
    return this.places() ?? ((share) => from + share * (to - from));
  });
  /** In pixels of the screen. */
  protected readonly box = computed(() => {
    const { width, height } = this.size();
    const scale = window.devicePixelRatio || 1;
    return { width: Math.min(mostColumns, Math.round(width * scale)), height: Math.round(height * scale) };
  });
  protected readonly path = computed(() => {
    const overview = this.overview();
    const { width, height } = this.box();
    return overview && width > 0 && height > 0 ? waveformPath(overview, this.course(), { width, height, gain: this.gain() }) : '';
  });

  constructor() {
    if (typeof ResizeObserver === 'undefined') return;
    const observer = new ResizeObserver(
      ([entry]) => entry && this.size.set({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) }),
    );
    observer.observe(inject<ElementRef<HTMLElement>>(ElementRef).nativeElement);
  }
}
