import { Injectable, signal } from '@angular/core';

export const leastZoom = 8;
export const mostZoom = 4_000;

/** Zoom of the time axis: shared by the ruler, the lanes and the keys. */
@Injectable()
export class TimelineScale {
  readonly pixelsPerSecond = signal(140);

  zoom(factor: number): void {
    this.pixelsPerSecond.update((now) => Math.max(leastZoom, Math.min(mostZoom, now * factor)));
  }

  /** Shows `seconds` within `width` pixels. */
  fit(seconds: number, width: number): void {
    this.pixelsPerSecond.set(Math.max(leastZoom, Math.min(mostZoom, width / Math.max(0.1, seconds))));
  }
}
