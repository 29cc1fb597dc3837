import fc from 'fast-check';
import { noise } from '../testing/signals';
import type { ByteSource } from './byte-source';
import { memorySource } from './byte-source';
import { chunksInMemory, readChunks, riff } from './wav/chunks';
import { openPcm, openWav, pcmRecording } from './open-recording';
import { readWav } from './wav/wav-read';
import { wavFrame, writeWav } from './wav/wav-write';

const audio = { sampleRate: 48_000, channels: [noise(5_000, 1), noise(5_000, 2)] };
const wav = writeWav(audio, { encoding: '32f', loop: { from: 10, to: 900 }, info: { INAM: 'Ice', ICMT: 'from the ridge' } });

/** A source that counts what is read of it. */
function counted(bytes: Uint8Array): ByteSource & { count: number } {
  const source = { size: bytes.length, count: 0, read: (from: number, to: number) => read(from, to) };
  const read = (from: number, to: number): Promise<Uint8Array> => {
    source.count += to - from;
    return Promise.resolve(bytes.subarray(from, to));
  };
  return source;
}

describe('files that are read where it is needed', () => {
  it('have the chunks that they have in memory, without their samples being read', async () => {
    const source = counted(writeWav({ sampleRate: 48_000, channels: [noise(400_000)] }, { encoding: '32f', loop: { from: 1, to: 50 } }));
    const chunks = await readChunks(source, riff);
    expect(chunks.map(({ id, size }) => [id, size])).toEqual([
      ['fmt ', 18],
      ['fact', 4],
      ['data', 1_600_000],
      ['smpl', 60],
    ]);
    expect(source.count).toBeLessThan(70_000);
    expect((await openWav(source, 'x')).details.loop).toEqual({ from: 1, to: 50 });
  });

  it('give any part of their samples', async () => {
    const source = memorySource(wav);
    const recording = pcmRecording(source, await openWav(source, '“ice.wav”'));
    expect(recording).toMatchObject({ sampleRate: 48_000, channelCount: 2, frames: 5_000 });
    await fc.assert(
      fc.asyncProperty(fc.nat(5_000), fc.nat(5_000), async (a, b) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)];
        const part = await recording.read(from, to);
        expect(part.channels).toEqual(audio.channels.map((channel) => channel.slice(from, to)));
      }),
      { numRuns: 40 },
    );
  });

  it('say the same wherever they are cut off or damaged, in memory and when they are read', async () => {
    const outcome = (work: () => unknown): unknown => {
      try {
        return work();
      } catch (error) {
        return String(error);
      }
    };
    await fc.assert(
      fc.asyncProperty(fc.nat(wav.length), fc.nat(wav.length - 1), fc.nat(255), async (length, at, value) => {
        const bytes = wav.slice(0, length);
        if (at < length) bytes[at] = value;
        const whole = outcome(() => {
          const { encoding, details } = readWav(bytes, 'x');
          return { encoding, details };
        });
        const read = await openWav(memorySource(bytes), 'x').then(({ encoding, details }) => ({ encoding, details }), String);
        expect(read).toEqual(whole);
        expect(outcome(() => chunksInMemory(bytes, riff).length)).toEqual((await readChunks(memorySource(bytes), riff)).length);
      }),
      { numRuns: 200 },
    );
  });

  it('are told by their first bytes, or by their names', async () => {
    expect((await openPcm(memorySource(wav), 'take'))?.frames).toBe(5_000);
    await expect(openPcm(memorySource(new Uint8Array(40)), 'a.wav')).rejects.toThrow('“a.wav” is not a WAV file');
    await expect(openPcm(memorySource(new Uint8Array(40)), 'a.aiff')).rejects.toThrow('“a.aiff” is not an AIFF file');
    expect(await openPcm(memorySource(new Uint8Array(40)), 'a.mp3')).toBeUndefined();
  });
});

describe('files of more than four gigabytes', () => {
  it('say their sizes in 64 bits, and are read by that', async () => {
    const layout = { sampleRate: 48_000, channelCount: 8, frames: 3_600 * 48_000, encoding: '32f' as const };
    const { head, tail } = wavFrame(layout, { loop: { from: 48_000, to: 96_000 } });
    const samples = layout.frames * 32;
    const size = head.length + samples + tail.length;
    const view = new DataView(head.buffer);
    expect(String.fromCharCode(...head.subarray(0, 4))).toBe('RF64');
    // The size of all that follows the first eight bytes, and that of the samples (EBU Tech 3306).
    expect(view.getBigUint64(20, true)).toBe(BigInt(size - 8));
    expect(view.getBigUint64(28, true)).toBe(BigInt(samples));
    const silent: ByteSource = {
      size,
      read: (from, to) => {
        const bytes = new Uint8Array(to - from);
        if (from < head.length) bytes.set(head.subarray(from, to));
        return Promise.resolve(bytes);
      },
    };
    const file = await openWav(silent, 'x');
    expect(file).toMatchObject({ channelCount: 8, frames: layout.frames, encoding: '32 bit float', notes: [], start: head.length });
    expect((await pcmRecording(silent, file).read(layout.frames - 10, layout.frames)).channels).toHaveLength(8);
  });
});
