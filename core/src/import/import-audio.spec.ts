import { readWav } from '../formats/wav-read';
import { hashBytes } from '../formats/hash';
import { writeWav } from '../formats/wav-write';
import { amplitudeAt, mono, noise, sine } from '../testing/signals';
import type { ImportedSource } from './import-audio';
import { importAudio, readUncompressed } from './import-audio';

async function importWav(bytes: Uint8Array, path: string, sampleRate: number): Promise<ImportedSource> {
  return importAudio(readUncompressed(bytes, path)!, path, sampleRate);
}

describe('importing WAV', () => {
  it.each(['16', '24', '32f'] as const)('keeps every sample of a %s file at the project rate', async (encoding) => {
    const grid = 2 ** (encoding === '16' ? 15 : 23);
    const samples = noise(500).map((value) => (encoding === '32f' ? value : Math.round(value * grid) / grid));
    const imported = await importWav(writeWav(mono(samples), { encoding }), 'ice_crack-03.wav', 48_000);
    expect(readWav(imported.wav).audio.channels[0]).toEqual(samples);
    expect(imported.source).toMatchObject({ name: 'ice crack 03', frames: 500, channels: 1, audio: hashBytes(imported.wav) });
    expect(imported.notes).toEqual([]);
  });

  it.each(['16', '24'] as const)(
    'keeps the bytes of a %s file that our own writer would have written, and nothing else of it',
    async (encoding) => {
      const file = writeWav(
        { sampleRate: 48_000, channels: [noise(501, 1), noise(501, 2)] },
        { encoding, loop: { from: 5, to: 400 }, info: { INAM: 'Ice' } },
      );
      const { wav, audio } = await importWav(file, 'ice.wav', 48_000);
      expect(wav).toEqual(writeWav(audio, { encoding }));
      expect(wav.length).toBeLessThan(file.length);
    },
  );

  it('converts other rates and remembers the original one', async () => {
    const imported = await importWav(writeWav(mono(sine(1_000, 1, 44_100, -6), 44_100), { encoding: '16' }), 'a.wav', 48_000);
    expect(imported.source.frames).toBe(48_000);
    expect(imported.source.origin).toEqual({ file: 'a.wav', sampleRate: 44_100, encoding: '16 bit' });
    expect(20 * Math.log10(amplitudeAt(imported.audio.channels[0]!, 1_000, 48_000, 8_000, 40_000))).toBeCloseTo(-6, 2);
    expect(imported.notes).toEqual(['Converted from 44100 to 48000 Hz.']);
  });

  it('names the file in errors and gives every file a name', async () => {
    await expect(importWav(new Uint8Array(3), 'broken.wav', 48_000)).rejects.toThrow('“broken.wav” is too short');
    expect((await importWav(writeWav(mono(noise(9)), { encoding: '16' }), '.wav', 48_000)).source.name).toBe('Unnamed');
  });

  it('makes tags of folders, and leaves other formats to others', async () => {
    const imported = await importWav(writeWav(mono(noise(9)), { encoding: '16' }), 'Halda day_2/Ice/crack.wav', 48_000);
    expect(imported.source.tags).toEqual(['halda day 2', 'ice']);
    expect(imported.source.name).toBe('crack');
    expect(readUncompressed(new TextEncoder().encode('fLaC and so on, much more'), 'a.flac')).toBeUndefined();
  });
});
