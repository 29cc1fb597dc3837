import fc from 'fast-check';
import { beatsBetween, centsOff, frequencyToNote, nearestInScale, noteName, noteToFrequency, readNote, scaleKinds, stepsInScale } from '.';

const anyScale = fc.record({ root: fc.integer({ min: 0, max: 11 }), kind: fc.constantFrom(...scaleKinds) });
const anyNote = fc.double({ min: 12, max: 120, noNaN: true });

describe('notes', () => {
  it.each([
    [440, 'A4'],
    [261.6256, 'C4'],
    [277.18, 'C♯4'],
    [27.5, 'A0'],
    [16.35, 'C0'],
    [8.1758, 'C-1'],
  ])('%p Hz is %s', (frequency, name) => expect(noteName(frequencyToNote(frequency))).toBe(name));

  it('are read as they are written', () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 127 }), (note) => expect(readNote(noteName(note))).toBe(note)));
    fc.assert(fc.property(anyNote, (note) => expect(frequencyToNote(noteToFrequency(note))).toBeCloseTo(note, 9)));
  });

  it.each([
    ['eb2 +20 ct', 39.2],
    ['A3-15', 56.85],
    ['B♭-1', 10],
  ])('“%s” is note %p', (text, note) => expect(readNote(text)).toBeCloseTo(note, 9));

  it.each(['', 'H4', 'A', 'A10', '440', 'A4 loud'])('“%s” is none', (text) => expect(readNote(text)).toBeUndefined());

  it('lie at most 50 cents from a name', () => {
    expect([centsOff(69.14), centsOff(68.86), centsOff(69)]).toEqual([14, -14, 0]);
  });
});

describe('scales', () => {
  it('have their notes', () => {
    const dMinor = { root: 2, kind: 'minor' } as const;
    const heard = Array.from({ length: 8 }, (_, i) => noteName(stepsInScale(dMinor, 62, i)));
    expect(heard).toEqual(['D4', 'E4', 'F4', 'G4', 'A4', 'A♯4', 'C5', 'D5']);
    expect(nearestInScale(dMinor, 66.4)).toBe(67);
    expect(nearestInScale(dMinor, 65.9)).toBe(65);
  });

  it('go down as they go up, and repeat in every octave', () => {
    fc.assert(
      fc.property(anyScale, anyNote, fc.integer({ min: -20, max: 20 }), (scale, note, steps) => {
        const near = nearestInScale(scale, note);
        expect(Math.abs(near - note)).toBeLessThanOrEqual(1.5);
        expect(nearestInScale(scale, near)).toBe(near);
        expect(stepsInScale(scale, stepsInScale(scale, note, steps), -steps)).toBe(near);
        expect(nearestInScale(scale, near + 12)).toBe(near + 12);
      }),
    );
  });
});

describe('beats', () => {
  it('are the difference of two pitches', () => expect(beatsBetween(440, 443)).toMatchObject({ interval: [1, 1], rate: 3 }));

  it('are heard between the partials that meet', () => {
    // A fifth of 440 to 661: the third partial of the one against the second of the other.
    expect(beatsBetween(661, 440)).toMatchObject({ interval: [3, 2], rate: 2 });
    expect(beatsBetween(110, 220.5)).toMatchObject({ interval: [1, 2], rate: 0.5 });
  });

  it('are none where no simple interval is near', () => expect(beatsBetween(440, 440 * 2 ** (6.1 / 12))).toBeUndefined());
});
