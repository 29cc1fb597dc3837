import fc from 'fast-check';
import { DataError } from '../project/parse';
import { noise } from '../testing/signals';
import { ByteWriter } from './byte-writer';
import { isAiff, readAiff } from './aiff-read';

/** Writes an AIFF file as the specification describes it: big-endian chunks, an 80-bit sampling rate. */
function aiff(
  samples: Float32Array[],
  bits: 16 | 24,
  options: { type?: 'sowt' | 'in24'; rate?: number; marks?: [string, number][] } = {},
): Uint8Array {
  const bytes: number[] = [];
  const u16 = (value: number): number[] => [(value >> 8) & 255, value & 255];
  const u32 = (value: number): number[] => [...u16(Math.floor(value / 65_536)), ...u16(value % 65_536)];
  const text = (value: string): number[] => [...value].map((char) => char.charCodeAt(0));
  const chunk = (id: string, body: number[]): number[] => [...text(id), ...u32(body.length), ...body, ...(body.length % 2 ? [0] : [])];
  const rate = options.rate ?? 48_000;
  const exponent = Math.floor(Math.log2(rate));
  const extended = [...u16(16_383 + exponent), ...u32((rate / 2 ** exponent) * 2 ** 31), ...u32(0)];
  const common = [...u16(samples.length), ...u32(samples[0]!.length), ...u16(bits), ...extended];
  if (options.type) common.push(...text(options.type), 0, 0);
  const data: number[] = [];
  for (let i = 0; i < samples[0]!.length; i++) {
    for (const channel of samples) {
      const value = Math.round(channel[i]! * 2 ** (bits - 1));
      const parts = bits === 16 ? [value >> 8, value] : [value >> 16, value >> 8, value];
      data.push(...(options.type === 'sowt' ? parts.reverse() : parts).map((part) => part & 255));
    }
  }
  bytes.push(...chunk('COMM', common));
  if (options.marks) {
    const marks = options.marks.flatMap(([name, frame], i) => [
      ...u16(i + 1),
      ...u32(frame),
      name.length,
      ...text(name),
      ...(name.length % 2 ? [] : [0]),
    ]);
    bytes.push(...chunk('MARK', [...u16(options.marks.length), ...marks]));
  }
  bytes.push(...chunk('SSND', [...u32(0), ...u32(0), ...data]));
  return Uint8Array.from([...text('FORM'), ...u32(bytes.length + 4), ...text(options.type ? 'AIFC' : 'AIFF'), ...bytes]);
}

const grid = (bits: number, seed: number): Float32Array =>
  noise(301, seed, -3).map((value) => Math.round(value * 2 ** (bits - 1)) / 2 ** (bits - 1));

describe('reading AIFF', () => {
  it.each([
    ['16 bit', 16 as const, {}],
    ['24 bit', 24 as const, {}],
    ['16 bit, little-endian', 16 as const, { type: 'sowt' as const }],
    ['24 bit, little-endian', 24 as const, { type: 'sowt' as const }],
    ['at 44.1 kHz', 16 as const, { rate: 44_100 }],
  ])('gives every sample of %s', (_, bits, options) => {
    const channels = [grid(bits, 1), grid(bits, 2)];
    const file = readAiff(aiff(channels, bits, options));
    expect(file.audio.channels).toEqual(channels);
    expect(file.audio.sampleRate).toBe('rate' in options ? options.rate : 48_000);
    expect(file.encoding).toBe(`${bits} bit`);
  });

  it('goes by the type of AIFF-C, whatever the header says of bits beside it', () => {
    const channels = [grid(24, 1), grid(24, 2)];
    const bytes = aiff(channels, 24, { type: 'in24' });
    // The bits of COMM, which some writers leave at 16.
    bytes[27] = 16;
    expect(readAiff(bytes).audio.channels).toEqual(channels);
    expect(readAiff(bytes).encoding).toBe('24 bit');
  });

  it('turns markers into cues', () => {
    const file = readAiff(
      aiff([grid(16, 1)], 16, {
        marks: [
          ['Crack', 20],
          ['Slab', 250],
          ['Beyond', 9_000],
        ],
      }),
    );
    expect(file.details.cues).toEqual([
      { name: 'Crack', frame: 20 },
      { name: 'Slab', frame: 250 },
    ]);
  });

  it('refuses what it cannot read, by name', () => {
    expect(() => readAiff(new TextEncoder().encode('no aiff at all'), '“a.aif”')).toThrow('“a.aif” is not an AIFF file');
    const odd = aiff([grid(16, 1)], 16);
    odd.set(new TextEncoder().encode('XXXX'), 12);
    expect(() => readAiff(odd)).toThrow('no “COMM” chunk');
  });

  it('either reads a file cut anywhere, with a note, or says what is wrong', () => {
    const whole = aiff([grid(24, 1), grid(24, 2)], 24, { marks: [['Crack', 20]] });
    fc.assert(
      fc.property(fc.nat(whole.length - 1), (length) => {
        const part = whole.slice(0, length);
        try {
          const file = readAiff(part);
          expect(file.notes).toHaveLength(1);
          expect(file.audio.channels[0]!.length).toBeLessThan(301);
        } catch (error) {
          expect(error).toBeInstanceOf(DataError);
        }
      }),
      { numRuns: 200 },
    );
  });

  it('lives with bytes changed at random', () => {
    const whole = aiff([grid(16, 1)], 16, { marks: [['Crack', 20]] });
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(80), fc.nat(255)), { minLength: 1, maxLength: 4 }), (changes) => {
        const damaged = whole.slice();
        for (const [at, value] of changes) damaged[at] = value;
        try {
          readAiff(damaged);
        } catch (error) {
          expect(error).toBeInstanceOf(DataError);
        }
      }),
      { numRuns: 300 },
    );
  });

  it('is told from other files by its first bytes', () => {
    expect(isAiff(aiff([grid(16, 1)], 16))).toBe(true);
    const riff = new ByteWriter(16);
    riff.id('RIFF');
    expect(isAiff(riff.finish())).toBe(false);
  });
});
