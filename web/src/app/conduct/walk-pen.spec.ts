import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Walk } from '@tangled-choir/core';
import { Simulator } from '../state/simulator.store';
import { WalkPen } from './walk-pen';

describe('the pen for ways', () => {
  const walked: [Walk, string | undefined][] = [];
  const walks = signal(new Map<string, Walk>());
  let pen: WalkPen;

  beforeEach(() => {
    walked.length = 0;
    const simulator = { walks, walk: (walk: Walk, who?: string) => Promise.resolve(walked.push([walk, who])) };
    TestBed.configureTestingModule({ providers: [WalkPen, { provide: Simulator, useValue: simulator }] });
    pen = TestBed.inject(WalkPen);
    pen.toggle();
  });

  const drawn = () => pen.ways().find((way) => way.drawn)?.points;

  it('draws by steps: those in one direction are one line, a turn begins another', () => {
    const start = { x: 2, y: -1 };
    for (const by of [
      { x: 1, y: 0 },
      { x: 1, y: 0 },
      { x: 0, y: 1 },
      { x: 0, y: -1 },
    ])
      pen.step('drill', start, by);
    // There and back is a way, too.
    expect(drawn()).toEqual([start, { x: 4, y: -1 }, { x: 4, y: 0 }, { x: 4, y: -1 }]);
    pen.speed.set(3);
    pen.way.set('round');
    pen.go();
    expect(walked).toEqual([[{ points: [start, { x: 4, y: -1 }, { x: 4, y: 0 }, { x: 4, y: -1 }], speed: 3, way: 'round' }, 'drill']]);
    expect(drawn()).toBeUndefined();
  });

  it('begins anew with somebody else, and sends nobody who has no way', () => {
    pen.step('drill', { x: 0, y: 0 }, { x: 1, y: 0 });
    pen.step(undefined, { x: 5, y: 5 }, { x: 0, y: 1 });
    expect(drawn()).toEqual([
      { x: 5, y: 5 },
      { x: 5, y: 6 },
    ]);
    expect(pen.drop()).toBe(true);
    expect(pen.drop()).toBe(false);
    pen.go();
    expect(walked).toEqual([]);
  });

  it('shows the ways that are walked, closed where they go round', () => {
    const points = [
      { x: 0, y: 0 },
      { x: 1, y: 1 },
    ];
    walks.set(new Map([['', { points, speed: 1, way: 'round' }]]));
    expect(pen.ways()).toEqual([{ points, closed: true, drawn: false }]);
    walks.set(new Map());
  });
});
