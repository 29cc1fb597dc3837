import { zipSync } from 'fflate';
import { readZip } from './zip-read';

const bytes = Uint8Array.of(1, 2, 3);
const isWav = (path: string): boolean => path.endsWith('.wav');

describe('reading a zip', () => {
  it('gives the wanted files with their paths, and neither folders nor hidden ones', () => {
    const zip = zipSync({
      'ice/crack.wav': bytes,
      'ice/readme.txt': bytes,
      '.hidden.wav': bytes,
      '__MACOSX/crack.wav': bytes,
      'a.wav': bytes,
    });
    expect([...readZip(zip, isWav).keys()].sort()).toEqual(['a.wav', 'ice/crack.wav']);
  });

  it('refuses what is none, what is damaged, and what would unpack to far too much', () => {
    expect(() => readZip(new TextEncoder().encode('a text that is long enough to be one'), isWav, '“x.zip”')).toThrow(
      '“x.zip” is not a zip',
    );
    const whole = zipSync({ 'a.wav': new Uint8Array(5_000).map((_, i) => (i * 7_919) % 251) });
    expect(() => readZip(whole.slice(0, whole.length - 40), isWav)).toThrow('cannot be unpacked');
    expect(() => readZip(zipSync({ 'a.wav': new Uint8Array(30_000_000) }, { level: 9 }), isWav)).toThrow('far more than it should');
  });
});
