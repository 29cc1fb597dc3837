import { plainStretch } from '../create';
import { movedPin, pinOn } from './pins';

const pins = [
  { at: 0.5, time: 0.5 },
  { at: 1, time: 2 },
];

describe('pins of a clip', () => {
  it('stay between their neighbours, and behind the clip’s start', () => {
    expect(movedPin(pins, 0, 5)[0]!.time).toBeCloseTo(1.999);
    expect(movedPin(pins, 0, -1)[0]!.time).toBeCloseTo(0.001);
    expect(movedPin(pins, 1, 7)[1]!.time).toBe(7);
    expect(movedPin(pins, 1, 7)[0]).toBe(pins[0]);
  });

  it('lie on a mark or do not; those that a cut has left outside do not', () => {
    const clip = { start: 3, offset: 0, length: 4, speed: 0, reversed: false, ...plainStretch, pins };
    expect(pinOn(clip, 5)).toBe(1);
    expect(pinOn(clip, 5.001)).toBe(-1);
    expect(pinOn({ ...clip, pins: [{ at: -1, time: -0.5 }, ...pins] }, 2.5)).toBe(-1);
    expect(pinOn({ ...clip, length: 0.2 }, 5)).toBe(-1);
    const { pins: _pins, ...bare } = clip;
    expect(pinOn(bare, 5)).toBe(-1);
  });
});
