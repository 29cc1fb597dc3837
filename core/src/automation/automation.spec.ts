import * as fc from 'fast-check';
import { gainParameter } from '../project/address';
import { axisOf } from '../project/axis';
import type { NumberParameter } from '../project/parameters';
import { choice, hertz, placeOfValue } from '../project/parameters';
import type { AutomationPoint } from '../project/schema';
import { bendThrough, laneCourse, laneValue } from './lane-value';
import type { LfoSettings } from './lfo-shape';
import { lfoPoints, turnsAt } from './lfo-shape';
import { drawStroke, insertPoint, pastePoints, pointsWithin, scaleStretch, smoothStretch, thinPoints } from './point-edits';

const frequency: NumberParameter = hertz({ label: 'Frequency', min: 20, max: 20_000, default: 1_000 });
const at = (time: number, value: number, bend = 0): AutomationPoint => ({ time, value, bend });
const lane = (points: AutomationPoint[], more: { stepped?: boolean; trim?: number } = {}) => ({ stepped: false, trim: 0, points, ...more });

describe('the value of a lane', () => {
  it('holds before the first and behind the last point, and is each point at its time', () => {
    const curve = lane([at(1, -6), at(2, 0), at(4, -12)]);
    expect(laneValue(curve, gainParameter, 0)).toBe(-6);
    expect(laneValue(curve, gainParameter, 2)).toBe(0);
    expect(laneValue(curve, gainParameter, 9)).toBe(-12);
    expect(laneValue(curve, gainParameter, 3)).toBeCloseTo(-6, 10);
  });

  it('moves frequencies by equal intervals', () => {
    const curve = lane([at(0, 100), at(2, 1_600)]);
    // Four octaves in two seconds: one in half a second.
    for (const octave of [1, 2, 3]) expect(laneValue(curve, frequency, octave / 2)).toBeCloseTo(100 * 2 ** octave, 6);
  });

  it('bends late above 0 and early below, through both ends', () => {
    const middle = (bend: number): number => laneValue(lane([at(0, -40, bend), at(1, 0)]), gainParameter, 0.5);
    expect(middle(0.5)).toBeLessThan(-25);
    expect(middle(-0.5)).toBeGreaterThan(-15);
    // The curve of a bend turned round in time and height is the curve of the opposite bend.
    expect(middle(0.5) + middle(-0.5)).toBeCloseTo(-40, 9);
  });

  it('jumps in steps only when asked to, and is moved as a whole by its trim', () => {
    const points = [at(0, -20), at(1, 0)];
    expect(laneValue(lane(points, { stepped: true }), gainParameter, 0.99)).toBe(-20);
    expect(laneValue(lane(points, { trim: 3 }), gainParameter, 0.5)).toBeCloseTo(-7, 9);
    expect(laneValue(lane([at(0, 500)], { trim: 12 }), frequency, 3)).toBeCloseTo(1_000, 6);
    expect(laneValue(lane(points, { trim: 500 }), gainParameter, 0.5)).toBe(36);
  });
});

describe('a lane of stages', () => {
  const note = axisOf(choice('Note', ['1/16', '1/8', '1/4', '1/2'], '1/8'))!;

  it('holds each stage until the next point, whether it is asked to or not, and its trim goes by whole stages', () => {
    const points = [at(0, 0), at(1, 2)];
    expect(laneValue(lane(points), note, 0.99)).toBe(0);
    expect(laneValue(lane(points), note, 1)).toBe(2);
    expect(laneValue(lane(points, { trim: 0.8 }), note, 0.5)).toBe(1);
    expect(laneValue(lane(points, { trim: 5 }), note, 0.5)).toBe(3);
    expect(laneCourse(lane(points), note).map(({ time, place }) => [time, place])).toEqual([
      [0, 0],
      [1, 0],
      [1, 2 / 3],
    ]);
  });
});

describe('the drawn course of a lane', () => {
  it('passes through the values at the places of the parameter', () => {
    const curve = lane([at(0, -60, 0.6), at(1, 0), at(2, -20, -0.3), at(3, 12)], { trim: -2 });
    for (const { time, place } of laneCourse(curve, gainParameter))
      expect(place).toBeCloseTo(placeOfValue(gainParameter, laneValue(curve, gainParameter, time)), 9);
    expect(laneCourse(lane([at(0, 0), at(1, -6)], { stepped: true }), gainParameter).map(({ time }) => time)).toEqual([0, 1, 1]);
  });

  it('is bent through any point at half of the way', () => {
    for (const share of [0.05, 0.3, 0.5, 0.9]) {
      const value = laneValue(lane([at(0, -40, bendThrough(share)), at(1, 0)]), gainParameter, 0.5);
      expect(value).toBeCloseTo(-40 + 40 * share, 6);
    }
  });
});

const randomPoints = fc
  .array(fc.record({ time: fc.double({ min: 0, max: 10, noNaN: true }), value: fc.double({ min: -60, max: 12, noNaN: true }) }), {
    minLength: 2,
    maxLength: 60,
  })
  .map((points) => points.sort((a, b) => a.time - b.time).map(({ time, value }) => at(time, value)));

describe('edits of points', () => {
  it('thinning leaves out what the curve does not need, and nothing else', () => {
    fc.assert(
      fc.property(randomPoints, fc.double({ min: 0.001, max: 0.2, noNaN: true }), (points, tolerance) => {
        const thin = thinPoints(points, gainParameter, tolerance);
        expect(thin[0]).toEqual(points[0]);
        expect(thin.at(-1)).toEqual(points.at(-1));
        for (const point of points) {
          // Where several points share a moment, the course jumps; each of them lies on the way up or down.
          if (points.some((other) => other !== point && Math.abs(other.time - point.time) < 1e-9)) continue;
          const off = placeOfValue(gainParameter, laneValue(lane(thin), gainParameter, point.time));
          expect(Math.abs(off - placeOfValue(gainParameter, point.value))).toBeLessThanOrEqual(tolerance + 1e-9);
        }
      }),
      { numRuns: 200, seed: 3 },
    );
    expect(thinPoints([at(0, 0), at(1, -3), at(2, -6), at(3, 0)], gainParameter, 0.001)).toEqual([at(0, 0), at(2, -6), at(3, 0)]);
  });

  it('a stroke replaces what lies under it; the course on both sides stays', () => {
    const before = lane([at(0, 0), at(4, -40)]);
    const drawn = lane(drawStroke(before, gainParameter, [at(2, -6), at(1, 0), at(1.5, -3)]));
    for (const time of [0.2, 0.7, 2.2, 3]) expect(laneValue(drawn, gainParameter, time)).toBeCloseTo(-10 * time, 6);
    expect(laneValue(drawn, gainParameter, 1.5)).toBeCloseTo(-3, 6);
    expect(drawn.points.every((point, i) => i === 0 || point.time >= drawn.points[i - 1]!.time)).toBe(true);
  });

  it('a point put onto the curve leaves the curve as it was, bends included', () => {
    const curve = lane([at(0, -40, 0.7), at(2, 0, -0.4), at(3, -20)]);
    for (const time of [0.3, 1.5, 2, 2.4, 5]) {
      const { points, index } = insertPoint(curve, gainParameter, { time, value: laneValue(curve, gainParameter, time) });
      expect(points[index]!.time).toBe(time);
      for (let look = 0; look < 4; look += 0.07)
        expect(laneValue(lane(points), gainParameter, look)).toBeCloseTo(laneValue(curve, gainParameter, look), 8);
    }
  });

  it('a copied stretch repeats its course where it is pasted', () => {
    const curve = lane([at(0, 0), at(1, -10, 0.4), at(2, -3), at(8, 0)]);
    const copied = pointsWithin(curve, gainParameter, { from: 1, to: 2 });
    const pasted = lane(pastePoints(curve, gainParameter, copied, 5));
    for (const share of [0.1, 0.5, 0.9])
      expect(laneValue(pasted, gainParameter, 5 + share)).toBeCloseTo(laneValue(curve, gainParameter, 1 + share), 6);
    expect(laneValue(pasted, gainParameter, 4)).toBeCloseTo(laneValue(curve, gainParameter, 4), 6);
    expect(laneValue(pasted, gainParameter, 7)).toBeCloseTo(laneValue(curve, gainParameter, 7), 6);
  });

  it('scaling to nothing leaves the mean, doubling doubles the way from it', () => {
    const curve = lane([at(0, -10), at(1, -20), at(2, -10)]);
    const flat = lane(scaleStretch(curve, gainParameter, { from: 0, to: 2 }, 0));
    for (const time of [0, 0.5, 1, 2]) expect(laneValue(flat, gainParameter, time)).toBeCloseTo(-15, 1);
    const twice = lane(scaleStretch(curve, gainParameter, { from: 0, to: 2 }, 2));
    expect(laneValue(twice, gainParameter, 1)).toBeCloseTo(-25, 1);
  });

  it('smoothing keeps the ends and takes a spike down to a fraction', () => {
    const curve = lane([at(0, -20), at(0.98, -20), at(1, 0), at(1.02, -20), at(2, -20)]);
    const smooth = lane(smoothStretch(curve, gainParameter, { from: 0, to: 2 }, 0.4));
    expect(laneValue(smooth, gainParameter, 0)).toBeCloseTo(-20, 2);
    expect(laneValue(smooth, gainParameter, 2)).toBeCloseTo(-20, 2);
    const peak = Math.max(...Array.from({ length: 200 }, (_, i) => laneValue(smooth, gainParameter, i / 100)));
    expect(peak).toBeLessThan(-15);
    expect(peak).toBeGreaterThan(-20);
  });
});

describe('LFO shapes', () => {
  const settings: LfoSettings = { shape: 'sine', startRate: 2, endRate: 2, low: -12, high: 0, phase: 0, seed: 1 };

  it('follow a sine within a hundredth of its swing', () => {
    const curve = lane(lfoPoints(gainParameter, { from: 1, to: 4 }, settings));
    for (let time = 1; time < 4; time += 0.013) {
      const expected = -6 - 6 * Math.cos(2 * Math.PI * 2 * (time - 1));
      expect(Math.abs(laneValue(curve, gainParameter, time) - expected)).toBeLessThan(132 * 0.0035);
    }
  });

  it('reach both ends of their swing at the right moments, corners included', () => {
    const triangle = lane(lfoPoints(gainParameter, { from: 0, to: 2 }, { ...settings, shape: 'triangle' }));
    for (const peak of [0.25, 0.75, 1.25, 1.75]) expect(laneValue(triangle, gainParameter, peak)).toBeCloseTo(0, 6);
    for (const valley of [0, 0.5, 1, 1.5]) expect(laneValue(triangle, gainParameter, valley)).toBeCloseTo(-12, 6);
    const saw = lane(lfoPoints(gainParameter, { from: 0, to: 2 }, { ...settings, shape: 'saw up' }));
    for (const jump of [0.5, 1, 1.5]) {
      expect(laneValue(saw, gainParameter, jump - 0.002)).toBeCloseTo(-12 + 12 * 0.996, 1);
      expect(laneValue(saw, gainParameter, jump + 0.002)).toBeCloseTo(-12 + 12 * 0.004, 1);
    }
    expect(laneValue(saw, gainParameter, 2)).toBeCloseTo(0, 3);
    const square = lane(lfoPoints(gainParameter, { from: 0, to: 2 }, { ...settings, shape: 'square' }));
    for (let period = 0; period < 4; period++) {
      expect(laneValue(square, gainParameter, period / 2 + 0.12)).toBeCloseTo(-12, 6);
      expect(laneValue(square, gainParameter, period / 2 + 0.37)).toBeCloseTo(0, 6);
    }
  });

  it('change their rate along the stretch by equal factors in equal times', () => {
    // From 1 to 4 Hz in 3 s: the number of periods is the integral of 4^(t/3).
    expect(turnsAt(1, 3, 1, 4)).toBeCloseTo((3 * (4 - 1)) / Math.log(4), 9);
    expect(turnsAt(0.5, 3, 2, 2)).toBeCloseTo(3, 9);
  });

  it('are random by their seed alone, within their swing', () => {
    const drawn = (seed: number) => lfoPoints(gainParameter, { from: 0, to: 5 }, { ...settings, shape: 'random', seed });
    expect(drawn(7)).toEqual(drawn(7));
    expect(drawn(7)).not.toEqual(drawn(8));
    for (const point of drawn(7)) {
      expect(point.value).toBeGreaterThanOrEqual(-12 - 1e-9);
      expect(point.value).toBeLessThanOrEqual(1e-9);
    }
  });

  it('refuse more periods than a lane can hold', () => {
    expect(() => lfoPoints(gainParameter, { from: 0, to: 3_600 }, { ...settings, startRate: 100, endRate: 100 })).toThrow('periods');
  });
});
