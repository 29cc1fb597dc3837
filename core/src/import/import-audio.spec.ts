import type { Audio } from '../audio/audio';
import { measureOverview } from '../audio/overview';
import { convertSampleRate } from '../audio/resample';
import { memorySource } from '../formats/byte-source';
import { hashBytes } from '../formats/hash';
import { openPcm } from '../formats/open-recording';
import { readWav } from '../formats/wav/wav-read';
import { writeWav } from '../formats/wav/wav-write';
import { MemoryTarget } from '../testing/memory-target';
import { amplitudeAt, mono, noise, sine } from '../testing/signals';
import { memoryStream, pcmStream } from './audio-stream';
import type { ImportedSource, ImportOptions } from './import-audio';
import { importAudio } from './import-audio';

type Imported = ImportedSource & { wav: Uint8Array; audio: Audio; written: number };

async function importFile(bytes: Uint8Array, path: string, options: Partial<ImportOptions> = {}): Promise<Imported> {
  const source = memorySource(bytes);
  const file = await openPcm(source, path);
  const target = new MemoryTarget(bytes);
  const imported = await importAudio(pcmStream(source, file!), path, target, { sampleRate: 48_000, columns: 100, ...options });
  return { ...imported, wav: target.wav, audio: readWav(target.wav).audio, written: target.written.length };
}

describe('importing WAV', () => {
  it.each(['16', '24', '32f'] as const)('keeps every sample of a %s file at the project rate', async (encoding) => {
    const grid = 2 ** (encoding === '16' ? 15 : 23);
    const samples = noise(500).map((value) => (encoding === '32f' ? value : Math.round(value * grid) / grid));
    const imported = await importFile(writeWav(mono(samples), { encoding }), 'ice_crack-03.wav');
    expect(imported.audio.channels[0]).toEqual(samples);
    expect(imported.source).toMatchObject({ name: 'ice crack 03', frames: 500, channels: 1, audio: hashBytes(imported.wav) });
    expect(imported.overview).toEqual(measureOverview(mono(samples), 100));
    expect(imported.notes).toEqual([]);
  });

  it.each(['16', '24'] as const)('takes the bytes of a %s file that our own writer would have written as they are', async (encoding) => {
    const file = writeWav(
      { sampleRate: 48_000, channels: [noise(501, 1), noise(501, 2)] },
      { encoding, loop: { from: 5, to: 400 }, info: { INAM: 'Ice' } },
    );
    const { wav, audio, written } = await importFile(file, 'ice.wav');
    expect(written).toBe(0);
    expect(wav).toEqual(writeWav(audio, { encoding }));
    expect(wav.length).toBeLessThan(file.length);
  });

  it('tells what becomes of more than two channels in a sound that has two', async () => {
    const notesOf = async (channels: number): Promise<string> => {
      const audio = { sampleRate: 48_000, channels: Array.from({ length: channels }, (_, c) => noise(480, c + 1)) };
      return (await importFile(writeWav(audio, { encoding: '24' }), 'ridge.wav')).notes.join();
    };
    expect(await notesOf(2)).toBe('');
    expect(await notesOf(4)).toMatch(/4 channels stay.*folded down.*BS\.775\)\.$/);
    expect(await notesOf(6)).toContain('low-frequency effects, is left out');
  });

  it('pads an odd number of bytes', async () => {
    const { wav } = await importFile(writeWav(mono(noise(501)), { encoding: '24' }), 'odd.wav');
    expect(wav.length % 2).toBe(0);
    expect(readWav(wav).notes).toEqual([]);
  });

  it('converts other rates and remembers the original one', async () => {
    const imported = await importFile(writeWav(mono(sine(1_000, 1, 44_100, -6), 44_100), { encoding: '16' }), 'a.wav');
    expect(imported.source.frames).toBe(48_000);
    expect(imported.source.origin).toEqual({ file: 'a.wav', sampleRate: 44_100, encoding: '16 bit' });
    expect(20 * Math.log10(amplitudeAt(imported.audio.channels[0]!, 1_000, 48_000, 8_000, 40_000))).toBeCloseTo(-6, 2);
    expect(imported.notes).toEqual(['Converted from 44100 to 48000 Hz.']);
  });

  it('names the file in errors and gives every file a name', async () => {
    await expect(importFile(new Uint8Array(3), 'broken.wav')).rejects.toThrow('“broken.wav” is too short');
    expect((await importFile(writeWav(mono(noise(9)), { encoding: '16' }), '.wav')).source.name).toBe('Unnamed');
  });

  it('makes tags of folders, and leaves other formats to others', async () => {
    const imported = await importFile(writeWav(mono(noise(9)), { encoding: '16' }), 'Halda day_2/Ice/crack.wav');
    expect(imported.source.tags).toEqual(['halda day 2', 'ice']);
    expect(imported.source.name).toBe('crack');
    expect(await openPcm(memorySource(new TextEncoder().encode('fLaC and so on, much more')), 'a.flac')).toBeUndefined();
  });

  it('tells of samples that were no numbers', async () => {
    const samples = noise(600_000);
    samples[5] = NaN;
    samples[500_000] = Infinity;
    const { notes, audio } = await importFile(writeWav(mono(samples), { encoding: '32f' }), 'torn.wav');
    expect(notes).toEqual(['2 samples were not numbers and are now silent.']);
    expect([audio.channels[0]![5], audio.channels[0]![500_000]]).toEqual([0, 0]);
  });
});

describe('importing piece by piece', () => {
  const long = { sampleRate: 44_100, channels: [noise(700_000, 4), noise(700_000, 5)] };

  it('gives what the whole would give, converted or not', async () => {
    const file = writeWav(long, { encoding: '32f' });
    const kept = await importFile(file, 'long.wav', { sampleRate: 44_100 });
    expect(kept.written).toBeGreaterThan(1);
    expect(hashBytes(kept.wav)).toBe(hashBytes(file));
    const converted = await importFile(file, 'long.wav');
    const whole = convertSampleRate(long, 48_000);
    expect(hashBytes(converted.wav)).toBe(hashBytes(writeWav(whole, { encoding: '32f' })));
    expect(converted.overview).toEqual(measureOverview(whole, 100));
  });

  it('shows the waveform as it grows, and reports every step', async () => {
    const seen: number[] = [];
    const shares: number[] = [];
    await importFile(writeWav(long, { encoding: '16' }), 'long.wav', {
      show: ({ low, frames }, seconds) => {
        seen.push(low.length);
        expect(frames).toBeCloseTo(seconds * 48_000, -1);
        expect(seconds).toBeCloseTo(700_000 / 44_100, 6);
      },
      progress: (share) => shares.push(share) > 0,
    });
    expect(seen.length).toBeGreaterThan(1);
    expect(seen.every((count, i) => count > (seen[i - 1] ?? 0))).toBe(true);
    expect(shares.every((share, i) => share >= (shares[i - 1] ?? 0))).toBe(true);
    expect(shares.at(-1)).toBe(1);
  });

  it('stops when it is told to', async () => {
    await expect(importFile(writeWav(long, { encoding: '16' }), 'long.wav', { progress: (share) => share < 0.3 })).rejects.toThrow(
      '“long.wav” was not imported: it was cancelled.',
    );
  });

  it('takes streams that are longer than they promised, and refuses empty ones', async () => {
    const about = { encoding: 'MP3', details: { cues: [] } };
    const options = { sampleRate: 44_100, columns: 100 };
    const target = new MemoryTarget();
    const { source, overview } = await importAudio({ ...memoryStream(long, about), expectedFrames: 10_000 }, 'a.mp3', target, options);
    expect(source.frames).toBe(700_000);
    expect(overview.frames).toBe(700_000);
    expect(hashBytes(target.wav)).toBe(hashBytes(writeWav(long, { encoding: '32f' })));
    await expect(importAudio(memoryStream(mono(new Float32Array(0)), about), 'b.mp3', new MemoryTarget(), options)).rejects.toThrow(
      '“b.mp3” holds no samples',
    );
  });
});
