import fc from 'fast-check';
import { fillTemplate, safeFileName } from './file-name';

const fields = {
  project: 'Halda Station',
  sound: 'Slab break',
  number: '03',
  variant: '03',
  stem: 'whole',
  seed: '7',
  recipe: 'abc',
  role: 'Body',
  rate: '48000',
  bits: '24',
  delivery: 'Game',
};
const style = { letters: 'as typed', longest: 120 } as const;

describe('file names', () => {
  it('fills a template and leaves unknown fields to be seen', () => {
    expect(fillTemplate('{project}_{sound}_{number}', fields, style)).toBe('Halda-Station_Slab-break_03');
    expect(fillTemplate('{sond}', fields, style)).toBe('{sond}');
  });

  it('makes folders of the slashes of a template, and of no others', () => {
    const named = { ...fields, sound: 'ice/../wind' };
    expect(fillTemplate('{project}/{sound}/{number}', named, style)).toBe('Halda-Station/ice..wind/03');
    expect(fillTemplate('../{number}', fields, style)).toBe('sound/03');
    expect(fillTemplate('/{number}', fields, style)).toBe('03');
    expect(fillTemplate('{sound}/', fields, style)).toBe('Slab-break/sound');
  });

  it('keeps to letters and length, and keeps the number where it shortens', () => {
    expect(fillTemplate('{project}_{number}', fields, { letters: 'lower', longest: 120 })).toBe('halda-station_03');
    expect(fillTemplate('{project}_{number}', fields, { letters: 'upper', longest: 120 })).toBe('HALDA-STATION_03');
    const short = fillTemplate('{project}_{sound}_{number}', fields, { letters: 'as typed', longest: 12 });
    expect(short).toBe('Halda-St' + 'k_03');
    expect([...short]).toHaveLength(12);
  });

  it('take slashes, quotes and dots away and keep emoji', () => {
    expect(safeFileName('a/b\\c:"d"')).toBe('abcd');
    expect(safeFileName('../../x')).toBe('x');
    expect(safeFileName('ice 🧊 crack')).toBe('ice-🧊-crack');
    expect(safeFileName('CON')).toBe('CON_');
    expect(safeFileName('aux.take.1')).toBe('aux_.take.1');
    expect(safeFileName('com¹')).toBe('com¹_');
    expect(safeFileName('contact')).toBe('contact');
    expect(safeFileName('  ')).toBe('sound');
  });

  it('hold nothing that is not seen, and no halves of characters', () => {
    expect(safeFileName('snow\u202egnp.wav')).toBe('snowgnp.wav');
    expect(safeFileName('\u2066ice\u2069\u200f\ufeff')).toBe('ice');
    expect(safeFileName('half \ud83e of one \udd95')).toBe('half-of-one');
    expect(safeFileName('bell\u0007\u0085x')).toBe('bellx');
    // Families of emoji are joined by what is not seen.
    expect(safeFileName('👩‍🚀')).toBe('👩‍🚀');
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
