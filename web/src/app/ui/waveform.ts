import { ChangeDetectionStrategy, Component, computed, effect, ElementRef, inject, input, signal, viewChild } from '@angular/core';
import type { Overview } from '@tangled-choir/core';
import type { FramePlaces } from './draw-waveform';
import { drawWaveform } from './draw-waveform';

/** A waveform that fills its box, in one tint. */
@Component({
  selector: 'tc-waveform',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #canvas aria-hidden="true"></canvas>`,
  styles: `
    :host {
      display: block;
      min-width: 0;
      overflow: hidden;
    }
    canvas {
      display: block;
      width: 100%;
      height: 100%;
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
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly size = signal({ width: 0, height: 0 });
  private readonly course = computed((): FramePlaces => {
    const from = this.from() ?? 0;
    const to = this.to() ?? this.overview()?.frames ?? 0;
    return this.places() ?? ((share) => from + share * (to - from));
  });

  constructor() {
    if (typeof ResizeObserver !== 'undefined') {
      const observer = new ResizeObserver(
        ([entry]) => entry && this.size.set({ width: Math.round(entry.contentRect.width), height: Math.round(entry.contentRect.height) }),
      );
      observer.observe(this.host.nativeElement);
    }
    effect(() => this.draw());
  }

  private draw(): void {
    const { width, height } = this.size();
    const overview = this.overview();
    const course = this.course();
    const gain = this.gain();
    const colour = this.colour();
    const canvas = this.canvas().nativeElement;
    if (width === 0 || height === 0) return;
    const scale = window.devicePixelRatio || 1;
    canvas.width = Math.round(width * scale);
    canvas.height = Math.round(height * scale);
    const context = canvas.getContext('2d');
    if (!context || !overview) return;
    context.fillStyle = colour.startsWith('var(') ? getComputedStyle(canvas).color : colour;
    drawWaveform(context, overview, course, canvas.width, canvas.height, gain);
  }
}
