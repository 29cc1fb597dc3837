import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createRandom, memorySource, openFlac } from '@tangled-choir/core';

const folder = mkdtempSync(join(tmpdir(), 'flac-'));
const frames = 20_123;

/** Loud and soft noise, a tone, silence and full scale: every kind of subframe that encoders write. */
function sound(channels: number): Buffer {
  const random = createRandom(7);
  const samples = new Int32Array(frames * channels);
  for (let i = 0; i < frames; i++)
    for (let c = 0; c < channels; c++) {
      const tone = Math.sin((i * (c + 1)) / 30) * (i < 9_000 ? 0.6 : 0.01);
      const value =
        i > 12_000 && i < 14_000
          ? 0
          : i > 15_000 && i < 15_050
            ? i % 2
              ? 0.9999
              : -1
            : tone + 0.2 * (random.next() - 0.5) * (i > 6_000 ? 1 : 0.001);
      samples[i * channels + c] = Math.round(value * 2_147_480_000);
    }
  return Buffer.from(samples.buffer);
}

function encoded(name: string, channels: number, rate: number, options: readonly string[]): Uint8Array {
  const file = join(folder, `${name}.flac`);
  const raw = ['-f', 's32le', '-ar', String(rate), '-ac', String(channels), '-i', 'pipe:0'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...raw, ...options, file], { input: sound(channels) });
  return readFileSync(file);
}

/** Interleaved, as ffmpeg reads a file. */
function reference(bytes: Uint8Array): Float32Array {
  const raw = execFileSync('ffmpeg', ['-v', 'error', '-i', 'pipe:0', '-f', 'f32le', 'pipe:1'], { input: bytes, maxBuffer: 2 ** 28 });
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.length));
}

async function read(bytes: Uint8Array) {
  const stream = (await openFlac(memorySource(bytes), '“test.flac”'))!;
  const pieces: Float32Array[] = [];
  for await (const channels of stream.pieces()) {
    const interleaved = new Float32Array(channels.length * channels[0]!.length);
    channels.forEach((channel, c) => channel.forEach((sample, i) => (interleaved[i * channels.length + c] = sample)));
    pieces.push(interleaved);
  }
  const samples = new Float32Array(pieces.reduce((sum, { length }) => sum + length, 0));
  pieces.reduce((at, piece) => (samples.set(piece, at), at + piece.length), 0);
  return { stream, samples };
}

describe('reading FLAC', () => {
  it.each([
    ['16 bit stereo', 2, 48_000, ['-sample_fmt', 's16', '-compression_level', '8']],
    ['24 bit stereo at 192 kHz, whose rate the blocks tell in kHz', 2, 192_000, ['-sample_fmt', 's32', '-bits_per_raw_sample', '24']],
    ['mono at 64 kHz, without prediction', 1, 64_000, ['-sample_fmt', 's16', '-compression_level', '0']],
    ['six channels at a strange rate', 6, 12_345, ['-sample_fmt', 's16']],
    ['24 bit at a rate in tens of Hz', 1, 176_410, ['-sample_fmt', 's32', '-compression_level', '12']],
    ['mid and side alone', 2, 44_100, ['-sample_fmt', 's16', '-ch_mode', 'mid_side']],
    ['left and side alone', 2, 44_100, ['-sample_fmt', 's16', '-ch_mode', 'left_side']],
    ['right and side alone', 2, 44_100, ['-sample_fmt', 's32', '-ch_mode', 'right_side']],
  ] as const)('gives what ffmpeg gives: %s', async (name, channels, rate, options) => {
    const bytes = encoded(name.replaceAll(/\W/g, ''), channels, rate, options);
    const { stream, samples } = await read(bytes);
    expect(stream).toMatchObject({ sampleRate: rate, channelCount: channels, expectedFrames: frames });
    expect(samples).toEqual(reference(bytes));
    expect(stream.notes()).toEqual([]);
  });

  it('reads what the tool of its makers writes, in blocks of any size, 8 bit too, and its tags', async () => {
    const raw = join(folder, 'raw.wav');
    for (const [bits, ...options] of [
      [8, '--best'],
      [16, '--lax', '--blocksize=1000', '-e', '-p'],
      [24, '--fast'],
    ] as const) {
      const codec = bits === 8 ? 'pcm_u8' : `pcm_s${bits}le`;
      const made = ['-f', 'lavfi', '-i', 'sine=300:duration=0.4', '-af', 'tremolo=f=9:d=0.9', '-ac', '2', '-c:a', codec];
      execFileSync('ffmpeg', ['-v', 'error', '-y', ...made, '-fflags', '+bitexact', raw]);
      const file = join(folder, `own-${bits}.flac`);
      execFileSync('flac', ['-s', '-f', ...options, '-T', 'TITLE=Åskan', '-T', 'DATE=2026-11-29', '-o', file, raw]);
      const bytes = readFileSync(file);
      const { stream, samples } = await read(bytes);
      expect(samples).toEqual(reference(bytes));
      expect(stream.details).toMatchObject({ description: 'Åskan', date: '2026-11-29' });
    }
  });

  it('puts silence in the place of damaged blocks, says where, and keeps the rest in its place', async () => {
    const bytes = Uint8Array.from(encoded('whole', 2, 48_000, ['-sample_fmt', 's16']));
    const { samples: whole } = await read(bytes);
    const broken = bytes.slice();
    for (let i = 0; i < 40; i++) broken[Math.round(bytes.length * 0.3) + i] = 0xff;
    const { stream, samples } = await read(broken);
    expect(samples).toHaveLength(whole.length);
    expect(stream.notes().join()).toMatch(/^Damaged at 0\.\d{3} s: 4608 frames could not be decoded and are silent\.$/);
    const differing = [...samples].flatMap((sample, i) => (sample === whole[i] ? [] : [i >> 1]));
    expect(differing.at(-1)! - differing[0]!).toBeLessThan(4_608);
    for (const at of differing) expect(samples[2 * at]).toBe(0);
  });

  it('reads a file that is cut off as far as it goes, and refuses one without a block by name', async () => {
    const bytes = encoded('cut', 1, 48_000, ['-sample_fmt', 's16']);
    const { stream, samples } = await read(bytes.slice(0, Math.round(bytes.length / 2)));
    expect(samples.length).toBeGreaterThan(1_000);
    expect(samples).toEqual(reference(bytes).subarray(0, samples.length));
    expect(stream.notes()).toEqual([expect.stringMatching(/^The file promises 0\.4 s and holds 0\.\d s; read as far as it goes\.$/)]);
    await expect(read(bytes.slice(0, 100))).rejects.toThrow('“test.flac”');
    await expect(read(bytes.slice(0, 20))).rejects.toThrow('“test.flac”');
    expect(await openFlac(memorySource(Uint8Array.from([1, 2, 3])), 'x')).toBeUndefined();
  });

  it('survives bytes that are changed anywhere', async () => {
    const bytes = encoded('any', 2, 48_000, ['-sample_fmt', 's16']);
    const random = createRandom(11);
    for (let round = 0; round < 60; round++) {
      const changed = Uint8Array.from(bytes);
      for (let n = 0; n < 5; n++) changed[42 + Math.floor(random.next() * (changed.length - 42))] = Math.floor(random.next() * 256);
      const { samples } = await read(changed).catch((error: Error) => {
        expect(error.message).toContain('“test.flac”');
        return { samples: new Float32Array(0) };
      });
      expect(samples.length).toBeLessThanOrEqual(2 * frames);
    }
  });
});
