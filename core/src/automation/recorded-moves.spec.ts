import type { NumberParameter } from '../project/parameters';
import type { LaneCurve } from './lane-value';
import { laneValue } from './lane-value';
import { recordedMoves } from './recorded-moves';

const level: NumberParameter = { kind: 'number', label: 'Level', unit: 'dB', min: -96, max: 12, default: 0, scale: 'linear' };
const lane = (points: LaneCurve['points'], trim = 0): LaneCurve => ({ points, trim, stepped: false });
const point = (time: number, value: number) => ({ time, value, bend: 0 });
const ramp = Array.from({ length: 101 }, (_, i) => ({ time: 1 + i / 100, value: -20 + i / 10 }));

describe('recorded moves', () => {
  it('follow what was moved within a hundredth of the range, in few points', () => {
    const points = recordedMoves(lane([point(0, -6)]), level, ramp);
    expect(points.length).toBeLessThan(8);
    for (const { time, value } of ramp) expect(Math.abs(laneValue(lane(points), level, time) - value)).toBeLessThan(1.09);
    expect(laneValue(lane(points), level, 0.99)).toBeCloseTo(-6, 6);
    expect(laneValue(lane(points), level, 9)).toBeCloseTo(-10, 6);
  });

  it('stand still where the control did, and then leave at once', () => {
    const points = recordedMoves(lane([point(0, 0)]), level, [...ramp, { time: 4, value: -30 }]);
    expect(laneValue(lane(points), level, 3.9)).toBeCloseTo(-10, 6);
    expect(laneValue(lane(points), level, 4)).toBeCloseTo(-30, 6);
  });

  it('take the place of that stretch alone, with what the trim had made of the rest', () => {
    const before = lane([point(0, -20), point(10, -10)], 6);
    const heard = (time: number): number => laneValue(before, level, time);
    const points = recordedMoves(before, level, [
      { time: 4, value: 0 },
      { time: 4.02, value: -1 },
    ]);
    for (const time of [0, 2, 3.9, 5, 8, 10]) expect(laneValue(lane(points), level, time)).toBeCloseTo(heard(time), 1);
    expect(laneValue(lane(points), level, 4.01)).toBeCloseTo(-0.5, 6);
    expect(recordedMoves(lane([point(0, -20)]), level, [])).toEqual([point(0, -20)]);
  });

  it('stay within the range', () => {
    expect(recordedMoves(lane([point(0, 0)]), level, [{ time: 1, value: 500 }]).at(-1)?.value).toBe(12);
  });
});
