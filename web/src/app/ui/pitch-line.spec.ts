import type { HeardPitch } from '@tangled-choir/core';
import { formatPitch, heldTones, pitchStrokes, strokePath } from './pitch-line';

const sure = (note: number | undefined): HeardPitch => ({ note, confidence: note === undefined ? 0.2 : 0.9 });

describe('the line of a pitch track', () => {
  it('breaks where nothing has a pitch and where it leaps', () => {
    const strokes = pitchStrokes((x) => sure(x < 20 ? 57 : x < 40 ? undefined : x < 60 ? 60 + x / 100 : 69), 0, 100);
    expect(strokes.map(({ places }) => [places[0]!.x, places.at(-1)!.x])).toEqual([
      [0, 18],
      [40, 58],
      [60, 100],
    ]);
    expect(strokes[0]!.confidence).toBeCloseTo(0.9);
  });

  it('leaves out what is not sure and what is not known', () => {
    expect(pitchStrokes(() => ({ note: 57, confidence: 0.5 }), 0, 100)).toEqual([]);
    expect(pitchStrokes(() => undefined, 0, 100)).toEqual([]);
  });

  it('names tones that are held, and glides not', () => {
    const strokes = pitchStrokes((x) => sure(x < 100 ? 57 : x < 200 ? 57 + (x - 100) / 5 : 77), 0, 300);
    expect(heldTones(strokes)).toEqual([
      { x: 0, note: 57, name: 'A3' },
      { x: 200, note: 77, name: 'F5' },
    ]);
  });

  it('is a path', () => {
    expect(
      strokePath(
        {
          places: [
            { x: 0, note: 57 },
            { x: 2, note: 58 },
          ],
          confidence: 1,
        },
        (note) => 60 - note,
      ),
    ).toBe('M0.0 3.0L2.0 2.0');
  });

  it('says what a note is off by', () => {
    expect(formatPitch(69)).toBe('A4 · 440.0 Hz');
    expect(formatPitch(69.25)).toBe('A4 +25 ct · 446.4 Hz');
    expect(formatPitch(95.9)).toMatch(/^C7 −10 ct · 20\d\d Hz$/);
  });
});
