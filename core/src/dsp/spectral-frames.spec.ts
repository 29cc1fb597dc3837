import fc from 'fast-check';
import { FrameQueue, SpectralFrame } from './spectral-frames';

const size = 256;
const tone = (bin: number, frames: number): Float32Array =>
  Float32Array.from({ length: frames }, (_, i) => Math.sin((2 * Math.PI * bin * i) / size));

describe('a spectral frame', () => {
  it('has the power of a full-scale sine in its bin: size²/16 under a Hann window', () => {
    const frame = new SpectralFrame(size);
    frame.take(tone(20, size), 0);
    expect(frame.power(20)).toBeCloseTo(size ** 2 / 16, 2);
    // The window spreads it over the bins beside, at a quarter of the power, and nowhere else.
    expect(frame.power(21)).toBeCloseTo(size ** 2 / 64, 2);
    expect(frame.power(23)).toBeLessThan(1e-6);
  });

  it('is silent where there are no samples', () => {
    const frame = new SpectralFrame(size);
    for (const start of [-size, 1_000]) {
      frame.take(tone(20, 500), start);
      expect(Math.max(...frame.samples.map(Math.abs))).toBe(0);
    }
  });

  it('takes the mean of channels and a ring as it takes plain samples', () => {
    const [plain, mean, ring] = [new SpectralFrame(size), new SpectralFrame(size), new SpectralFrame(size)];
    const samples = tone(7, size);
    const other = tone(90, size);
    plain.take(
      samples.map((sample, i) => (sample + other[i]!) / 2),
      0,
    );
    mean.takeMean([samples, other], 0);
    for (let bin = 0; bin < plain.bins; bin++) expect(Math.abs(mean.re[bin]! - plain.re[bin]!)).toBeLessThan(1e-5);
    plain.take(samples, 0);
    const turned = samples.map((_, i) => samples[(i + size - 100) % size]!);
    ring.takeRing(turned, 100);
    expect([...ring.re]).toEqual([...plain.re]);
  });
});

describe('a queue of frames', () => {
  it('gives every frame in its order, whatever the blocks', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 64 }), { minLength: 1, maxLength: 20 }), fc.constantFrom(8, 16, 32), (blocks, hop) => {
        const queue = new FrameQueue(1, 32, hop, 64);
        const starts: number[] = [];
        let at = 0;
        for (const frames of blocks) {
          queue.write({ channels: [Float32Array.from({ length: frames }, (_, i) => at + i)], frames });
          queue.advance(frames);
          at += frames;
          for (; queue.full; queue.next()) {
            const [first] = queue.channels;
            starts.push(first![0]!);
            expect(first![31]! - first![0]!).toBe(31);
          }
        }
        expect(starts).toEqual(Array.from({ length: Math.max(0, Math.floor((at - 32) / hop) + 1) }, (_, n) => n * hop));
      }),
    );
  });

  it('is silent where nothing was written before it went on', () => {
    const queue = new FrameQueue(1, 8, 4, 8);
    queue.write({ channels: [new Float32Array(8).fill(1)], frames: 8 });
    queue.advance(8);
    queue.next();
    queue.advance(4);
    expect([...queue.channels[0]!.subarray(0, 8)]).toEqual([1, 1, 1, 1, 0, 0, 0, 0]);
  });
});
