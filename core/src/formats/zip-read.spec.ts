import { unzipSync, zipSync } from 'fflate';
import { memorySource } from './byte-source';
import { collectBytes, zipFiles } from './zip';
import { readZip } from './zip-read';

const bytes = Uint8Array.of(1, 2, 3);
const isWav = (path: string): boolean => path.endsWith('.wav');

const read = (zip: Uint8Array, what = 'x') => readZip(memorySource(zip), isWav, what, collectBytes);

describe('reading a zip', () => {
  it('gives the wanted files with their paths, and neither folders nor hidden ones', async () => {
    const zip = zipSync({
      'ice/crack.wav': bytes,
      'ice/readme.txt': bytes,
      '.hidden.wav': bytes,
      '__MACOSX/crack.wav': bytes,
      'a.wav': bytes,
    });
    expect([...(await read(zip)).keys()].sort()).toEqual(['a.wav', 'ice/crack.wav']);
  });

  it('refuses what is none, what is damaged, and what would unpack to far too much', async () => {
    await expect(read(new TextEncoder().encode('a text that is long enough to be one'), '“x.zip”')).rejects.toThrow('“x.zip” is not a zip');
    const whole = zipSync({ 'a.wav': new Uint8Array(5_000).map((_, i) => (i * 7_919) % 251) });
    await expect(read(whole.slice(0, whole.length - 40))).rejects.toThrow('cannot be unpacked');
    await expect(read(zipSync({ 'a.wav': new Uint8Array(30_000_000) }, { level: 9 }))).rejects.toThrow('far more than it should');
  });

  it('gives back what was packed, and tells when it was altered', async () => {
    const content = new Uint8Array(200_000).map((_, i) => (i * 7_919) % 251);
    const zip = await zipFiles({ 'a.wav': content, 'b.wav': bytes });
    const files = await read(zip);
    expect(Buffer.from(files.get('a.wav')!).equals(content)).toBe(true);
    expect(files.get('b.wav')).toEqual(bytes);
    // Others read it, too.
    expect(Object.keys(unzipSync(zip))).toEqual(['a.wav', 'b.wav']);
    const altered = zip.slice();
    altered[1_000]! ^= 1;
    await expect(read(altered)).rejects.toThrow('cannot be unpacked');
  });
});
