import { formatName } from './format-names';

const bytes = (text: string): Uint8Array => Uint8Array.from([...text].map((letter) => letter.charCodeAt(0)));

describe('formats that nobody reads', () => {
  it('are called by their names', () => {
    expect(formatName(bytes('caff\u0000\u0001'))).toBe('a Core Audio file (CAF)');
    expect(formatName(Uint8Array.of(0x30, 0x26, 0xb2, 0x75, 0x8e))).toBe('a Windows Media file');
    expect(formatName(bytes(`OggS${' '.repeat(24)}\u007fFLAC`))).toBe('FLAC in an Ogg file');
    expect(formatName(bytes('Dear Halda'))).toBeUndefined();
    expect(formatName(bytes(''))).toBeUndefined();
  });
});
