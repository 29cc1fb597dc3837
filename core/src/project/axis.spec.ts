import * as fc from 'fast-check';
import { effects } from '../effects';
import { axisOf, fromAxis, toAxis } from './axis';
import { choice, reference, toggle } from './parameters';

const note = choice('Note', ['1/16', '1/8', '1/4'], '1/8');

describe('axes of parameters', () => {
  it('are there for all numbers, choices and switches, and for nothing else', () => {
    for (const { parameters } of effects)
      for (const parameter of Object.values(parameters))
        expect(axisOf(parameter) !== undefined).toBe(['number', 'choice', 'switch'].includes(parameter.kind));
    expect(axisOf(reference('Key', 'layer', 'its own sound'))).toBeUndefined();
    expect(axisOf(note)).toMatchObject({ min: 0, max: 2, default: 1, names: ['1/16', '1/8', '1/4'] });
    expect(axisOf(toggle('Freeze', true))).toMatchObject({ min: 0, max: 1, default: 1, names: ['off', 'on'] });
  });

  it('lead every value there and back', () => {
    for (const option of note.options) expect(fromAxis(note, toAxis(note, option))).toBe(option);
    for (const value of [true, false]) expect(fromAxis(toggle('On', false), toAxis(toggle('On', false), value))).toBe(value);
  });

  it('give the nearest stage for any place, also beyond the ends', () => {
    fc.assert(
      fc.property(fc.double({ min: -10, max: 10, noNaN: true }), (place) => {
        const stage = Math.max(0, Math.min(2, Math.round(place)));
        expect(fromAxis(note, place)).toBe(note.options[stage]);
        expect(fromAxis(toggle('On', false), place)).toBe(place >= 0.5);
      }),
    );
  });
});
