import fc from 'fast-check';
import { fillTemplate, safeFileName } from './file-name';

const fields = {
  project: 'Halda Station',
  sound: 'Slab break',
  number: '03',
  seed: '7',
  recipe: 'abc',
  role: 'Body',
  rate: '48000',
  bits: '24',
};

describe('file names', () => {
  it('fills a template and leaves unknown fields to be seen', () => {
    expect(fillTemplate('{project}_{sound}_{number}', fields)).toBe('Halda-Station_Slab-break_03');
    expect(fillTemplate('{sond}', fields)).toBe('{sond}');
  });

  it('take slashes, quotes and dots away and keep emoji', () => {
    expect(safeFileName('a/b\\c:"d"')).toBe('abcd');
    expect(safeFileName('../../x')).toBe('x');
    expect(safeFileName('ice 🧊 crack')).toBe('ice-🧊-crack');
    expect(safeFileName('CON')).toBe('CON_');
    expect(safeFileName('  ')).toBe('sound');
  });

  it('are safe for any text', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 400 }), (text) => {
        const name = safeFileName(text);
        return name.length > 0 && !/[/\\<>:"|?*]/.test(name) && !/^[.]|[.]$/.test(name) && new TextEncoder().encode(name).length <= 201;
      }),
    );
  });
});
