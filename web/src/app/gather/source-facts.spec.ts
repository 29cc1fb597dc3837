import { noteName } from './source-facts';

describe('facts for reading', () => {
  it('name notes with their deviation', () => {
    expect(noteName(440)).toBe('A4');
    expect(noteName(261.6256)).toBe('C4');
    expect(noteName(440 * 2 ** (25 / 1_200))).toBe('A4 +25 ct');
    expect(noteName(27.5)).toBe('A0');
  });
});
