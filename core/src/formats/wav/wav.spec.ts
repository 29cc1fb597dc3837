import fc from 'fast-check';
import { createRandom } from '../../dsp/random';
import { mono, noise, sine } from '../../testing/signals';
import { DataError } from '../../project/parse';
import { readWav } from './wav-read';
import { writeWav } from './wav-write';

const text = (bytes: Uint8Array, from: number, length: number): string => String.fromCharCode(...bytes.subarray(from, from + length));

/** A WAV file by hand, field by field, so that the reader is not tested with our writer. */
function handMade(options: {
  format?: number;
  channels?: number;
  rate?: number;
  bits?: number;
  data?: Uint8Array;
  dataSize?: number;
  extra?: Uint8Array;
  extensible?: boolean;
}): Uint8Array {
  const {
    format = 1,
    channels = 1,
    rate = 48_000,
    bits = 16,
    data = new Uint8Array(8),
    extra = new Uint8Array(0),
    extensible = false,
  } = options;
  const fmt = extensible ? 40 : 16;
  const bytes = new Uint8Array(12 + 8 + fmt + extra.length + 8 + data.length);
  const view = new DataView(bytes.buffer);
  const put = (offset: number, id: string): void => [...id].forEach((c, i) => view.setUint8(offset + i, c.charCodeAt(0)));
  put(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  put(8, 'WAVE');
  put(12, 'fmt ');
  view.setUint32(16, fmt, true);
  view.setUint16(20, extensible ? 0xfffe : format, true);
  view.setUint16(22, channels, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, (rate * channels * bits) / 8, true);
  view.setUint16(32, (channels * bits) / 8, true);
  view.setUint16(34, bits, true);
  if (extensible) view.setUint16(44, format, true);
  bytes.set(extra, 20 + fmt);
  const at = 20 + fmt + extra.length;
  put(at, 'data');
  view.setUint32(at + 4, options.dataSize ?? data.length, true);
  bytes.set(data, at + 8);
  return bytes;
}

describe('reading WAV', () => {
  it('reads 8-bit unsigned', () => {
    const { audio, encoding } = readWav(handMade({ bits: 8, data: Uint8Array.of(0, 128, 255) }));
    expect(encoding).toBe('8 bit');
    expect([...audio.channels[0]!]).toEqual([-1, 0, 127 / 128]);
  });

  it('reads 16, 24 and 32-bit signed', () => {
    expect([...readWav(handMade({ data: Uint8Array.of(0, 0x80, 0xff, 0x7f) })).audio.channels[0]!]).toEqual([-1, 32_767 / 32_768]);
    expect([...readWav(handMade({ bits: 24, data: Uint8Array.of(0, 0, 0x80, 0, 0, 0x40) })).audio.channels[0]!]).toEqual([-1, 0.5]);
    expect([...readWav(handMade({ bits: 32, data: Uint8Array.of(0, 0, 0, 0x80, 0, 0, 0, 0x20) })).audio.channels[0]!]).toEqual([-1, 0.25]);
  });

  it('reads 32 and 64-bit float, plain and extensible', () => {
    const doubles = new Uint8Array(Float64Array.of(0.5, -0.25).buffer);
    expect([...readWav(handMade({ format: 3, bits: 64, data: doubles })).audio.channels[0]!]).toEqual([0.5, -0.25]);
    const floats = new Uint8Array(Float32Array.of(1.5, -0.25).buffer);
    expect([...readWav(handMade({ format: 3, bits: 32, data: floats, extensible: true })).audio.channels[0]!]).toEqual([1.5, -0.25]);
  });

  it('skips other chunks, also odd ones', () => {
    const odd = Uint8Array.of(0x6a, 0x75, 0x6e, 0x6b, 3, 0, 0, 0, 1, 2, 3, 0);
    expect(readWav(handMade({ extra: odd, data: Uint8Array.of(0, 0x40) })).audio.channels[0]![0]).toBe(0.5);
  });

  it('reads 12 channels, one sample and 384 kHz', () => {
    const twelve = readWav(handMade({ channels: 12, rate: 384_000, data: new Uint8Array(24) }));
    expect(twelve.audio.channels).toHaveLength(12);
    expect(twelve.audio.channels[0]).toHaveLength(1);
    expect(twelve.audio.sampleRate).toBe(384_000);
  });

  it('reads a cut-off file as far as it goes and says so', () => {
    const file = readWav(handMade({ data: new Uint8Array(100), dataSize: 5_000 }));
    expect(file.audio.channels[0]).toHaveLength(50);
    expect(file.notes[0]).toContain('promises 5000 bytes');
  });

  it('makes samples that are not numbers silent and says so', () => {
    const file = readWav(handMade({ format: 3, bits: 32, data: new Uint8Array(Float32Array.of(NaN, Infinity, 0.5).buffer) }));
    expect([...file.audio.channels[0]!]).toEqual([0, 0, 0.5]);
    expect(file.notes[0]).toContain('2 samples');
  });

  it.each([
    ['an empty file', new Uint8Array(0), 'is empty'],
    ['text', new TextEncoder().encode('this is not audio at all'), 'is not a WAV file'],
    ['zero channels', handMade({ channels: 0 }), 'zero channels (“fmt ” chunk at byte 12)'],
    ['an unknown encoding', handMade({ format: 2 }), 'format 2'],
    ['an odd depth', handMade({ bits: 12, format: 3 }), '12 bits'],
    ['no samples', handMade({ data: new Uint8Array(0) }), 'holds no samples'],
    ['an absurd rate', handMade({ rate: 1 }), 'sampling rate of 1 Hz'],
    ['no data chunk', handMade({}).subarray(0, 36), 'no “data” chunk'],
    ['no format', handMade({}).subarray(0, 12), 'no “fmt ” chunk'],
  ])('refuses %s with a sentence', (_, bytes, message) => {
    expect(() => readWav(bytes)).toThrow(DataError);
    expect(() => readWav(bytes)).toThrow(message);
  });

  it('survives any bytes: a result or a DataError, never more samples than bytes', () => {
    const valid = handMade({ data: new Uint8Array(64), channels: 2 });
    const damaged = fc
      .tuple(fc.array(fc.tuple(fc.nat(valid.length - 1), fc.nat(255)), { maxLength: 12 }), fc.nat(valid.length))
      .map(([changes, length]) => {
        const bytes = valid.slice(0, length);
        for (const [at, value] of changes) if (at < length) bytes[at] = value;
        return bytes;
      });
    fc.assert(
      fc.property(fc.oneof(damaged, fc.uint8Array({ maxLength: 200 })), (bytes) => {
        try {
          const { audio } = readWav(bytes);
          return audio.channels.length * audio.channels[0]!.length <= bytes.length;
        } catch (error) {
          return error instanceof DataError;
        }
      }),
      { numRuns: 2_000, seed: 3 },
    );
  });
});

describe('writing WAV', () => {
  it.each(['16', '24', '32f'] as const)('returns every sample on the %s grid bit-exactly', (encoding) => {
    const grid = encoding === '16' ? 32_768 : 8_388_608;
    const samples = noise(1_000, 5).map((value) => (encoding === '32f' ? value : Math.round(value * grid) / grid));
    const { audio } = readWav(writeWav({ sampleRate: 44_100, channels: [samples, samples.slice().reverse()] }, { encoding }));
    expect(audio.sampleRate).toBe(44_100);
    expect(audio.channels[0]).toEqual(samples);
    expect(audio.channels[1]).toEqual(samples.slice().reverse());
  });

  it('writes the fields of the header where the standard puts them', () => {
    const bytes = writeWav(mono(new Float32Array(10)), { encoding: '24' });
    const view = new DataView(bytes.buffer);
    expect(text(bytes, 0, 4) + text(bytes, 8, 8)).toBe('RIFFWAVEfmt ');
    expect(view.getUint32(4, true)).toBe(bytes.length - 8);
    expect([
      view.getUint16(20, true),
      view.getUint16(22, true),
      view.getUint32(24, true),
      view.getUint32(28, true),
      view.getUint16(32, true),
      view.getUint16(34, true),
    ]).toEqual([1, 1, 48_000, 144_000, 3, 24]);
  });

  it('clamps what is too loud instead of wrapping around', () => {
    const { audio } = readWav(writeWav(mono(Float32Array.of(2, -2)), { encoding: '16' }));
    expect([...audio.channels[0]!]).toEqual([32_767 / 32_768, -1]);
  });

  it('dither turns the rounding error into noise: no harmonic of a tone of one step stands out', () => {
    const quiet = sine(1_000, 1, 48_000, -96);
    const third = (samples: Float32Array): number => {
      let s = 0;
      let c = 0;
      samples.forEach((value, i) => {
        s += value * Math.sin((2 * Math.PI * 3_000 * i) / 48_000);
        c += value * Math.cos((2 * Math.PI * 3_000 * i) / 48_000);
      });
      return (2 * Math.hypot(s, c)) / samples.length;
    };
    const plain = readWav(writeWav(mono(quiet), { encoding: '16' })).audio.channels[0]!;
    const dithered = readWav(writeWav(mono(quiet), { encoding: '16', dither: createRandom(1) })).audio.channels[0]!;
    expect(third(plain) / 10 ** (-96 / 20)).toBeGreaterThan(0.2);
    expect(third(dithered) / 10 ** (-96 / 20)).toBeLessThan(0.03);
  });

  it('writes broadcast and LIST INFO chunks that hold what was given, cut within their fields', () => {
    const bytes = writeWav(mono(new Float32Array(4)), {
      encoding: '16',
      broadcast: {
        description: 'ä'.repeat(300),
        reference: 'abc',
        date: '2026-01-02',
        time: '03:04:05',
        timeReference: 5_000_000_000,
        codingHistory: 'A=PCM',
        loudness: { integrated: -23, range: 5, truePeak: -1.5, momentary: -Infinity, shortTerm: -20 },
      },
      info: { INAM: 'Slab “break”', ICMT: 'odd' },
    });
    const view = new DataView(bytes.buffer);
    expect(text(bytes, 12, 4)).toBe('bext');
    const bext = 20;
    expect(bytes.subarray(bext, bext + 256).filter((byte) => byte !== 0)).toHaveLength(256);
    expect(text(bytes, bext + 256, 13)).toBe('Tangled Choir');
    expect(text(bytes, bext + 320, 10)).toBe('2026-01-02');
    expect(view.getUint32(bext + 338, true) + view.getUint32(bext + 342, true) * 2 ** 32).toBe(5_000_000_000);
    expect(view.getInt16(bext + 412, true)).toBe(-2_300);
    expect(view.getInt16(bext + 416, true)).toBe(-150);
    expect(view.getInt16(bext + 418, true)).toBe(0x7fff);
    const all = new TextDecoder().decode(bytes);
    expect(all).toContain('LIST');
    expect(all).toContain('Slab “break”');
    expect(readWav(bytes).audio.channels[0]).toHaveLength(4);
  });
});
