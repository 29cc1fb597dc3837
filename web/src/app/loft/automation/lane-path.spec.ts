import type { AutomationLane, NumberParameter } from '@tangled-choir/core';
import { gainParameter, valueAtPlace } from '@tangled-choir/core';
import { bendHandles, lanePath, pointHandles, shownRange, valueOfY } from './lane-path';

const scale = { pixelsPerSecond: 100, top: 20, bottom: 80, seconds: 10 };
const lane = (points: [number, number][], more: Partial<AutomationLane> = {}): AutomationLane => ({
  id: 'lane-1',
  address: 'layer/l/gain',
  enabled: true,
  stepped: false,
  trim: 0,
  points: points.map(([time, value]) => ({ time, value, bend: 0 })),
  ...more,
});
const frequency: NumberParameter = { kind: 'number', label: 'Frequency', unit: 'Hz', min: 20, max: 20_000, default: 1_000, scale: 'log' };
const corners = (path: string): number[][] =>
  [...path.matchAll(/[ML]([\d.]+) ([\d.]+)/g)].map((match) => [Number(match[1]), Number(match[2])]);

describe('the drawing of a lane', () => {
  it('runs from the beginning of the axis to its end, with the top and the bottom of its range at the edges', () => {
    expect(
      corners(
        lanePath(
          lane([
            [2, 12],
            [4, -60],
          ]),
          gainParameter,
          scale,
        ),
      ),
    ).toEqual([
      [0, 20],
      [200, 20],
      [400, 80],
      [1_000, 80],
    ]);
    expect(
      corners(
        lanePath(
          lane([
            [1, 20_000],
            [2, 20],
          ]),
          frequency,
          scale,
        ),
      ),
    ).toEqual([
      [0, 20],
      [100, 20],
      [200, 80],
      [1_000, 80],
    ]);
  });

  it('goes at right angles where values are held, and up and down with the trim', () => {
    expect(
      corners(
        lanePath(
          lane(
            [
              [0, 12],
              [5, -60],
            ],
            { stepped: true },
          ),
          gainParameter,
          scale,
        ),
      ),
    ).toEqual([
      [0, 20],
      [0, 20],
      [500, 20],
      [500, 80],
      [1_000, 80],
    ]);
    const trimmed = corners(lanePath(lane([[0, -24]], { trim: 36 }), gainParameter, scale));
    expect(trimmed[0]![1]).toBe(20);
  });

  it('gives back the value that is drawn at a height, whatever the trim', () => {
    for (const [parameter, trim] of [
      [gainParameter, 6],
      [gainParameter, 0],
      [frequency, 7],
      [frequency, -12],
    ] as const) {
      for (const y of [32, 50, 70]) {
        const one = lane([[0, valueOfY(lane([[0, 0]], { trim }), parameter, scale, y)]], { trim });
        expect(pointHandles(one, parameter, scale, { from: 0, to: 1 })[0]!.y).toBeCloseTo(y, 6);
      }
    }
    // The lower edge of a level is silence, however far that is.
    expect(valueOfY(lane([[0, 0]]), gainParameter, scale, 80)).toBe(-96);
    expect(valueAtPlace(shownRange(gainParameter), 1)).toBe(12);
  });

  it('has handles at points that can be told apart, and between them where there is something to bend', () => {
    const several = lane([
      [0, 0],
      [2, -30],
      [2.01, -30],
      [5, -30],
      [8, 0],
    ]);
    const points = pointHandles(several, gainParameter, scale, { from: 0, to: 10 });
    expect(points.map(({ index }) => index)).toEqual([0, 3, 4]);
    expect(bendHandles(several, gainParameter, scale, points).map(({ index }) => index)).toEqual([3]);
    expect(bendHandles({ ...several, stepped: true }, gainParameter, scale, points)).toEqual([]);
    expect(pointHandles(several, gainParameter, scale, { from: 4, to: 6 }).map(({ index }) => index)).toEqual([3]);
  });
});
