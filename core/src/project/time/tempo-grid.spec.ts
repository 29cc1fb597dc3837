import { divisionNames, gridLines, noteLength, tappedTempo } from './tempo-grid';

describe('the tempo grid', () => {
  it('knows how long notes last', () => {
    expect(noteLength({ bpm: 120 }, '1/4')).toBe(0.5);
    expect(noteLength({ bpm: 120 }, '1/8 triplet') * 3).toBeCloseTo(0.5);
    expect(noteLength({ bpm: 60 }, '1/4 dotted')).toBe(1.5);
    expect(divisionNames).toContain('1/64');
  });

  it('draws lines from any place, and knows bars', () => {
    const lines = gridLines({ bpm: 120, beats: 3, offset: 0.25 }, '1/4', 0, 2);
    expect(lines.map(({ time }) => time)).toEqual([0.25, 0.75, 1.25, 1.75]);
    expect(lines.map(({ bar }) => bar)).toEqual([true, false, false, true]);
  });

  it('follows taps and forgives one that was late', () => {
    expect(tappedTempo([0, 0.5])).toBeUndefined();
    expect(tappedTempo([0, 0.5, 1, 1.5, 2])).toBeCloseTo(120);
    expect(tappedTempo([0, 0.5, 1.3, 1.8, 2.3])).toBeCloseTo(120);
  });
});
