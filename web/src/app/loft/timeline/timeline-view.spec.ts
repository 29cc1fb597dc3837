import type { Clip, Layer } from '@tangled-choir/core';
import { TimelineView } from './timeline-view';

const scroller = (left: number, top: number, width = 1_000, height = 400): HTMLElement => {
  const element = document.createElement('div');
  const values = { scrollLeft: left, scrollTop: top, clientWidth: width, clientHeight: height };
  for (const [name, value] of Object.entries(values)) Object.defineProperty(element, name, { value });
  return element;
};

/** A clip of a second at each whole second. */
const layer = { clips: Array.from({ length: 60 }, (_, start) => ({ start, length: 1, speed: 0, stretch: 1 }) as Clip) } as Layer;

const layerHeight = 58;

describe('what of the timeline is in the page', () => {
  const shownLanes = (view: TimelineView): number[] =>
    Array.from({ length: 200 }, (_, i) => i).filter((index) => view.shows({ top: index * layerHeight, height: layerHeight }));

  it('are all lanes in view and some around them', () => {
    const view = new TimelineView();
    view.follow(scroller(0, 3_000));
    const lanes = shownLanes(view);
    for (let index = Math.floor(3_000 / layerHeight); index <= Math.ceil(3_400 / layerHeight); index++) expect(lanes).toContain(index);
    expect(lanes.length).toBeLessThan(40);
    expect(lanes[0]).toBeGreaterThan(30);
  });

  it('are all clips in view and some around them, at every zoom', () => {
    const view = new TimelineView();
    for (const zoom of [20, 100, 400]) {
      for (const left of [0, 1_234, 5_000]) {
        view.follow(scroller(left, 0));
        const shown = view.clipsIn(layer, zoom);
        for (const clip of layer.clips) {
          const visible = (clip.start + 1) * zoom > left && clip.start * zoom < left + 1_000;
          if (visible) expect(shown).toContain(clip);
        }
        expect(shown.length).toBeLessThanOrEqual(2_800 / zoom + 2);
      }
    }
  });

  it('do not change with every pixel', () => {
    const view = new TimelineView();
    view.follow(scroller(0, 400));
    const before = shownLanes(view);
    view.follow(scroller(0, 590));
    expect(shownLanes(view)).toEqual(before);
  });
});
