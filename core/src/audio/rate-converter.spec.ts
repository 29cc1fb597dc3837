import fc from 'fast-check';
import { noise } from '../testing/signals';
import { RateConverter } from './rate-converter';
import { convertSampleRate } from './resample';

/** Converts in pieces whose sizes come again and again. */
function inPieces(channels: readonly Float32Array[], from: number, to: number, sizes: readonly number[]): Float32Array[] {
  const converter = new RateConverter(from, to, channels.length);
  const out: Float32Array[][] = channels.map(() => []);
  const take = (piece: readonly Float32Array[]): void => piece.forEach((samples, c) => out[c]!.push(samples));
  for (let at = 0, n = 0; at < channels[0]!.length; n++) {
    const end = at + sizes[n % sizes.length]!;
    take(converter.push(channels.map((channel) => channel.subarray(at, end))));
    at = end;
  }
  take(converter.finish());
  return out.map((pieces) => Float32Array.from(pieces.flatMap((piece) => [...piece])));
}

const same = (a: Float32Array, b: Float32Array): boolean => Buffer.from(a.buffer).equals(Buffer.from(b.buffer));

describe('converting rates piece by piece', () => {
  it('gives the samples of the whole, whatever the pieces', () => {
    const channels = [noise(20_000, 1), noise(20_000, 2)];
    for (const [from, to] of [
      [44_100, 48_000],
      [96_000, 48_000],
      [22_050, 48_000],
    ] as const) {
      const whole = convertSampleRate({ sampleRate: from, channels }, to).channels;
      fc.assert(
        fc.property(fc.array(fc.integer({ min: 40, max: 9_000 }), { minLength: 1, maxLength: 5 }), (sizes) => {
          expect(inPieces(channels, from, to, sizes).every((channel, c) => same(channel, whole[c]!))).toBe(true);
        }),
        // Also a frame at a time, now and then.
        { numRuns: 8, examples: [[[1, 900]]] },
      );
    }
  });

  it('differs by rounding only where rates have no small ratio', () => {
    const channels = [noise(20_000, 3)];
    const whole = convertSampleRate({ sampleRate: 44_056, channels }, 48_000).channels[0]!;
    const [pieces] = inPieces(channels, 44_056, 48_000, [777, 2_048, 13]);
    expect(pieces).toHaveLength(whole.length);
    const worst = pieces!.reduce((most, value, i) => Math.max(most, Math.abs(value - whole[i]!)), 0);
    expect(worst).toBeLessThan(1e-6);
  });

  it('keeps a recording of one sample and one of none', () => {
    expect(inPieces([Float32Array.of(0.5)], 44_100, 48_000, [1])[0]).toHaveLength(1);
    expect(new RateConverter(44_100, 48_000, 1).finish()[0]).toHaveLength(0);
  });
});
