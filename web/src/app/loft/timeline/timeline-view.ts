import { signal } from '@angular/core';
import type { Layer } from '@tangled-choir/core';
import { clipEnd } from '@tangled-choir/core';

/** How far beyond the edges lanes and clips are in the page already. */
const margin = 600;
/** The view is taken over in steps, so that scrolling does not change the page at every pixel. */
const step = 200;

/** What part of the timeline can be seen; only the lanes and clips around it are in the page. */
export class TimelineView {
  private readonly box = signal({ left: 0, top: 0, width: 4_000, height: 2_000 }, { equal: sameBox });

  /** Takes over where an element is scrolled to; one without a size, as in tests, shows all of a small sound. */
  follow(scroller: HTMLElement): void {
    const snapped = (value: number): number => Math.floor(value / step) * step;
    this.box.set({
      left: snapped(scroller.scrollLeft),
      top: snapped(scroller.scrollTop),
      width: snapped(scroller.clientWidth || 4_000) + step,
      height: snapped(scroller.clientHeight || 2_000) + step,
    });
  }

  /** True for a row that can be seen, or nearly. */
  shows(row: { readonly top: number; readonly height: number }): boolean {
    const { top, height } = this.box();
    return row.top + row.height > top - margin && row.top < top + height + margin;
  }

  /** The stretch of time that can be seen, or nearly. */
  stretch(pixelsPerSecond: number): { from: number; to: number } {
    const { left, width } = this.box();
    return { from: (left - margin) / pixelsPerSecond, to: (left + width + margin) / pixelsPerSecond };
  }

  /** The clips of a layer that can be seen, or nearly. */
  clipsIn(layer: Layer, pixelsPerSecond: number): Layer['clips'] {
    const { from, to } = this.stretch(pixelsPerSecond);
    return layer.clips.filter((clip) => clip.start < to && clipEnd(clip) > from);
  }
}

interface Box {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

function sameBox(a: Box, b: Box): boolean {
  return a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height;
}
