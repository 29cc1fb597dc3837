import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { EncodeInput } from './index';
import { encodeFile } from './index';
import { packetsOf, pagesOf, readOgg, writeOgg } from './ogg';

const folder = mkdtempSync(join(tmpdir(), 'encoders-'));

function fileOf(name: string, bytes: Uint8Array): string {
  const file = join(folder, name);
  writeFileSync(file, bytes);
  return file;
}

/** The samples that ffmpeg finds in a file, interleaved. */
function decoded(file: string, codec: 's16le' | 's24le' | 'f32le'): Buffer {
  return execFileSync('ffmpeg', ['-v', 'error', '-i', file, '-f', codec, '-c:a', `pcm_${codec}`, '-'], { maxBuffer: 2 ** 28 });
}

/** A tone that fades, with a click in its middle by which places are found. */
function tone(frames: number, sampleRate: number, frequency: number): Float32Array {
  return Float32Array.from({ length: frames }, (_, i) => {
    const fading = Math.exp((-2 * i) / frames);
    return 0.4 * fading * Math.sin((2 * Math.PI * frequency * i) / sampleRate) + (i === frames >> 1 ? 0.5 : 0);
  });
}

const comments = ['TITLE=Åskan över Halda', 'LOOPSTART=0', 'LOOPLENGTH=48000'];

/** Whole numbers over their full range, both ends included. */
function wholeNumbers(count: number, bits: 16 | 24): Uint8Array {
  const bytes = new Uint8Array((count * bits) / 8);
  const most = 2 ** (bits - 1);
  for (let i = 0; i < count; i++) {
    const value = i % 97 === 0 ? most - 1 : i % 89 === 0 ? -most : Math.round(Math.sin(i * i * 0.001) * (most - 1));
    for (let b = 0; b < bits / 8; b++) bytes[(i * bits) / 8 + b] = value >> (8 * b);
  }
  return bytes;
}

describe('FLAC', () => {
  it.each([
    [16, 1, 22_050, 1],
    [16, 2, 44_100, 50_000],
    [24, 1, 96_000, 4_096],
    [24, 2, 48_000, 131_073],
    [24, 6, 48_000, 9_001],
  ] as const)('gives back %i bit in %i channels at %i Hz, %i frames, bit by bit', async (bits, channelCount, sampleRate, frames) => {
    const samples = wholeNumbers(frames * channelCount, bits);
    const { bytes } = await encodeFile({ format: 'flac', sampleRate, channelCount, bits, samples, comments });
    const file = fileOf(`${bits}-${channelCount}.flac`, bytes);
    execFileSync('flac', ['--test', '--silent', '--warnings-as-errors', file]);
    expect(decoded(file, bits === 16 ? 's16le' : 's24le').equals(samples)).toBe(true);
    const told = execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=duration_ts,sample_rate:format_tags', file]).toString();
    expect(told).toContain(`duration_ts=${frames}`);
    expect(told).toContain(`sample_rate=${sampleRate}`);
    expect(told).toContain('TITLE=Åskan över Halda');
  });
});

describe.each(['opus', 'vorbis'] as const)('%s', (format) => {
  const input = (frames: number, channelCount: 1 | 2, sampleRate = 48_000, bitrate = 96): EncodeInput => ({
    format,
    sampleRate,
    channels: [tone(frames, sampleRate, 440), tone(frames, sampleRate, 660)].slice(0, channelCount),
    bitrate,
    comments,
    serial: 0xdeadbeef,
  });
  const rates = format === 'opus' ? [48_000] : [22_050, 44_100, 48_000, 96_000];

  it.each(rates.flatMap((rate) => [1, 2].map((channels) => [rate, channels as 1 | 2] as const)))(
    'at %i Hz in %i channels comes back as long as it was, in its place',
    async (sampleRate, channelCount) => {
      const frames = 2 * sampleRate + 123;
      const made = input(frames, channelCount, sampleRate);
      const file = fileOf(`${sampleRate}-${channelCount}.${format}`, (await encodeFile(made)).bytes);
      const bytes = decoded(file, 'f32le');
      const samples = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
      expect(samples.length / channelCount).toBe(frames);
      const original = 'channels' in made ? made.channels : [];
      original.forEach((channel, c) => {
        let [wanted, both, own] = [0, 0, 0];
        channel.forEach((sample, i) => {
          const heard = samples[i * channelCount + c]!;
          wanted += sample * sample;
          both += sample * heard;
          own += heard * heard;
        });
        // A shift of one frame would take a tone of 660 Hz to 0.996 of itself at 48 kHz, and the click to nothing.
        expect(both / Math.sqrt(wanted * own)).toBeGreaterThan(0.998);
        expect(both / wanted).toBeGreaterThan(0.97);
      });
    },
  );

  it.each([1, 100, 959, 960, 961])('keeps %i frames', async (frames) => {
    const file = fileOf(`short-${frames}.${format}`, (await encodeFile(input(frames, 1))).bytes);
    expect(decoded(file, 'f32le').length / 4).toBe(frames);
  });

  it('says what it is, and gives the same bytes twice', async () => {
    const { bytes } = await encodeFile(input(48_000, 2));
    expect((await encodeFile(input(48_000, 2))).bytes).toEqual(bytes);
    const told = execFileSync('ffprobe', [
      '-v',
      'error',
      '-show_entries',
      'stream=codec_name:stream_tags',
      fileOf(`tags.${format}`, bytes),
    ]);
    expect(told.toString()).toContain(`codec_name=${format}`);
    expect(told.toString()).toContain('TITLE=Åskan över Halda');
    expect(told.toString()).toContain('LOOPLENGTH=48000');
    if (format === 'opus') execFileSync('opusinfo', [join(folder, `tags.${format}`)]);
  });

  it('grows with its bitrate', async () => {
    const sizes = await Promise.all(
      [48, 96, 192, 384].map(async (rate) => (await encodeFile(input(96_000, 2, 48_000, rate))).bytes.length),
    );
    expect(sizes).toEqual(sizes.toSorted((a, b) => a - b));
    expect(sizes.at(-1)!).toBeGreaterThan(1.5 * sizes[0]!);
  });
});

describe.each(['opus', 'vorbis'] as const)('what %s sounds like', (format) => {
  it.each([1, 2] as const)('is told as another decoder hears it in %i channels, above full scale too', async (channelCount) => {
    // A square at full scale: a low bitrate bends it far beyond.
    const square = Float32Array.from({ length: 30_007 }, (_, i) => ((i * 223) % 48_000 < 24_000 ? 0.99 : -0.99));
    const channels = [square, square.map((sample) => -0.5 * sample)].slice(0, channelCount);
    const { bytes, heard } = await encodeFile({ format, sampleRate: 48_000, channels, bitrate: 32, comments, serial: 1 });
    const wav = join(folder, `square-${channelCount}.wav`);
    const file = fileOf(`square-${channelCount}.${format}`, bytes);
    if (format === 'opus') execFileSync('opusdec', ['--float', '--quiet', file, wav]);
    const other = decoded(format === 'opus' ? wav : file, 'f32le');
    const samples = new Float32Array(other.buffer.slice(other.byteOffset, other.byteOffset + other.length));
    expect(heard).toHaveLength(channelCount);
    heard!.forEach((channel, c) => {
      expect(channel.length).toBe(samples.length / channelCount);
      let worst = 0;
      channel.forEach((sample, i) => (worst = Math.max(worst, Math.abs(sample - samples[i * channelCount + c]!))));
      // Ours gives whole numbers.
      expect(worst).toBeLessThan(0.001);
    });
    expect(heard![0]!.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0)).toBeGreaterThan(1.05);
  });
});

describe('Ogg pages', () => {
  it.each([0, 1, 254, 255, 256, 65_024, 65_025, 65_026, 200_000])('carry a packet of %i bytes, and others around it', (length) => {
    const packets = [Uint8Array.of(1, 2, 3), new Uint8Array(length).fill(7), Uint8Array.of(9)];
    const pages = readOgg(writeOgg(pagesOf(packets, 77n, 2), 5));
    expect(packetsOf(pages).map((packet) => Buffer.from(packet).equals(Buffer.from(packets.shift()!)))).toEqual([true, true, true]);
    expect(pages.at(-1)!.granule).toBe(77n);
    expect(pages.slice(1).some(({ flags }) => flags & 2)).toBe(false);
  });
});
