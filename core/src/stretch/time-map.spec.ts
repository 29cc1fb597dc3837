import fc from 'fast-check';
import { TimeMap } from './time-map';

const map = fc
  .array(fc.tuple(fc.double({ min: 0.1, max: 1_000, noNaN: true }), fc.double({ min: 0.1, max: 1_000, noNaN: true })), {
    minLength: 2,
    maxLength: 8,
  })
  .map((steps) => {
    let [input, output] = [0, 0];
    return TimeMap.through(steps.map(([i, o]) => ({ input: (input += i), output: (output += o) })));
  });

describe('a map of time', () => {
  it('leads there and back', () => {
    fc.assert(
      fc.property(map, fc.double({ min: -5_000, max: 9_000, noNaN: true }), (any, at) => {
        expect(any.inputAt(any.outputAt(at))).toBeCloseTo(at, 5);
      }),
    );
  });

  it('goes on beyond its ends as it goes within', () => {
    const any = TimeMap.through([
      { input: 10, output: 100 },
      { input: 20, output: 120 },
      { input: 30, output: 170 },
    ]);
    expect([0, 10, 15, 25, 40].map((at) => any.outputAt(at))).toEqual([80, 100, 110, 145, 220]);
  });

  it('refuses corners that do not rise', () => {
    expect(() => new TimeMap(Float64Array.of(0, 1, 1), Float64Array.of(0, 1, 2))).toThrow('must rise');
    expect(() => new TimeMap(Float64Array.of(0), Float64Array.of(0))).toThrow('two corners');
  });
});
