import fc from 'fast-check';
import { maxBlock } from './block';
import { EchoLine } from './echo-line';
import { createRandom, seedOf } from './random';

const sampleRate = 48_000;
const noise = (length: number, seed: number): Float32Array => {
  const random = createRandom(seedOf('echo', seed));
  return Float32Array.from({ length }, () => 2 * random.next() - 1);
};
const full = (value: number): Float64Array => new Float64Array(maxBlock).fill(value);

describe('EchoLine', () => {
  test('gives the same compiled and plain, in blocks of any length, for any lag from 2 frames on', () => {
    const settings = fc.record({
      lag: fc.oneof(fc.integer({ min: 2, max: 900 }), fc.double({ min: 2, max: 900, noNaN: true })),
      highCut: fc.constantFrom(500, 5_500, sampleRate),
      lowCut: fc.constantFrom(undefined, 30, 2_000),
      back: fc.double({ min: 0, max: 0.98, noNaN: true }),
      blocks: fc.array(fc.integer({ min: 1, max: maxBlock }), { minLength: 1, maxLength: 8 }),
      seed: fc.nat(),
    });
    fc.assert(
      fc.property(settings, ({ lag, highCut, lowCut, back, blocks, seed }) => {
        const lines = [new EchoLine(1_000), new EchoLine(1_000, false)];
        let farthest = 0;
        for (const [n, frames] of blocks.entries()) {
          const outputs = lines.map((line) => {
            const samples = noise(frames, seed + n);
            line.tune(highCut, lowCut, sampleRate);
            line.process(samples, frames, lag, full(back), full(0.5));
            return samples;
          });
          outputs[0]!.forEach((sample, i) => (farthest = Math.max(farthest, Math.abs(sample - outputs[1]![i]!))));
        }
        expect(farthest).toBeLessThan(1e-5);
      }),
    );
  });

  test.each([true, false])('repeats a sample after its lag, each time by what goes back, and nothing else (compiled: %s)', (isCompiled) => {
    const line = new EchoLine(1_000, isCompiled);
    const samples = new Float32Array(maxBlock);
    samples[3] = 1;
    line.tune(sampleRate, undefined, sampleRate);
    line.process(samples, maxBlock, 10, full(0.5), full(0.25));
    const wanted = Array.from({ length: 5 }, (_, n) => [3 + 10 * n, n === 0 ? 1 : 0.25 * 0.5 ** (n - 1)]);
    for (const [at, value] of wanted) expect(samples[at!]).toBeCloseTo(value!, 6);
    expect(samples.subarray(0, 53).filter((sample) => Math.abs(sample) > 1e-7)).toHaveLength(5);
  });

  test('goes on alike sample by sample and in blocks', () => {
    const [blocks, single] = [new EchoLine(1_000), new EchoLine(1_000)];
    const samples = noise(100, 1);
    const wanted = samples.slice();
    for (const line of [blocks, single]) line.tune(4_000, 100, sampleRate);
    blocks.process(wanted, 100, 20.5, full(0.6), full(0.4));
    const found = samples.map((sample) => {
      const echo = single.echo(20.5);
      single.write(sample + 0.6 * echo);
      return sample + 0.4 * echo;
    });
    found.forEach((sample, i) => expect(sample).toBeCloseTo(wanted[i]!, 6));
  });

  test('goes on as it was after the memory of kernels has grown', () => {
    const wanted = noise(2 * maxBlock, 3);
    const samples = wanted.slice();
    const line = new EchoLine(1_000);
    const plain = new EchoLine(1_000, false);
    const blocks = (of: EchoLine, all: Float32Array, between: () => void): void => {
      for (const from of [0, maxBlock]) {
        of.tune(from === 0 ? 3_000 : 700, 200, sampleRate);
        of.process(all.subarray(from, from + maxBlock), maxBlock, 300, full(0.7), full(0.6));
        between();
      }
    };
    blocks(plain, wanted, () => undefined);
    const lines: EchoLine[] = [];
    blocks(line, samples, () => lines.push(...Array.from({ length: 8 }, () => new EchoLine(200_000))));
    samples.forEach((sample, i) => expect(Math.abs(sample - wanted[i]!)).toBeLessThan(1e-5));
    lines[0]!.tune(3_000, 200, sampleRate);
    expect(lines[0]!.echo(20)).toBe(0);
  });

  test('comes to rest exactly', () => {
    const line = new EchoLine(1_000);
    line.tune(5_500, 120, sampleRate);
    const block = noise(maxBlock, 2);
    for (let n = 0; n < 400; n++) {
      line.process(block, maxBlock, 60, full(0.5), full(1));
      if (n < 399) block.fill(0);
    }
    expect(block.every((sample) => sample === 0)).toBe(true);
  });
});
