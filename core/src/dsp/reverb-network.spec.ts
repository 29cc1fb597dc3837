import { noise, residual } from '../testing/signals';
import { ReverbNetwork } from './reverb-network';

const rate = 48_000;
const deepest = 0.0006;
const frames = 24_000;

/** What a network makes of a burst, both sides in a row, in blocks of one size; without loss from the middle on, and of another size. */
function run(network: ReverbNetwork, block: number, laterSize = 0.7): Float32Array {
  const input = new Float32Array(frames);
  input.set(noise(2_000, 4, -6));
  const other = new Float32Array(frames);
  other.set(noise(2_000, 9, -12));
  const output = new Float32Array(2 * frames);
  network.aim({ decay: [1.4, 1, 0.4], size: 0.7 });
  for (let from = 0; from < frames; from += block) {
    const count = Math.min(block, frames - from);
    if (from === 12_000) network.aim({ decay: undefined, size: laterSize });
    for (let i = 0; i < count; i++) {
      const turn = (2 * Math.PI * (from + i)) / 30_000;
      network.swing(i, 12.5, Math.sin(turn), Math.cos(turn));
    }
    network.process(
      input.subarray(from, from + count),
      other.subarray(from, from + count),
      output.subarray(from, from + count),
      output.subarray(frames + from, frames + from + count),
      count,
    );
  }
  return output;
}

describe('reverb network', () => {
  it('gives with the compiled lines what the reference gives, also after a reset', () => {
    const compiled = new ReverbNetwork(rate, deepest);
    const expected = run(new ReverbNetwork(rate, deepest, false), 1_000);
    expect(residual(expected, run(compiled, 1_000))).toBeLessThan(-90);
    compiled.reset();
    expect(residual(expected, run(compiled, 1_000))).toBeLessThan(-90);
  });

  it.each([0.1, 0.72, 2])('does so too while its lines glide to size %f', (size) => {
    const expected = run(new ReverbNetwork(rate, deepest, false), 1_000, size);
    expect(residual(expected, run(new ReverbNetwork(rate, deepest), 1_000, size))).toBeLessThan(-70);
    expect(residual(expected, run(new ReverbNetwork(rate, deepest), 96, size))).toBeLessThan(-70);
  });

  it('stays as smooth as its input while its size moves along, to and fro', () => {
    const network = new ReverbNetwork(rate, deepest);
    const output = [new Float32Array(96_000), new Float32Array(96_000)] as const;
    const tone = Float32Array.from({ length: 96_000 }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 300 * i) / rate));
    for (let at = 0; at < 96_000; at += 64) {
      network.aim({ decay: [1, 1, 1], size: 1 + 0.15 * Math.sin((2 * Math.PI * at) / 60_000) });
      for (let i = 0; i < 64; i++) network.swing(i, 0, 0, 0);
      const part = (samples: Float32Array): Float32Array => samples.subarray(at, at + 64);
      network.process(part(tone), part(tone), part(output[0]), part(output[1]), 64);
    }
    const loudest = Math.max(...output[0].map(Math.abs));
    const smooth = loudest * (2 - 2 * Math.cos((2 * Math.PI * 300) / rate));
    let sharpest = 0;
    for (let i = 10_000; i < 96_000; i++)
      sharpest = Math.max(sharpest, Math.abs(output[0][i]! - 2 * output[0][i - 1]! + output[0][i - 2]!));
    // Lengths that jumped from one whole frame to the next would give 47 times as much.
    expect(sharpest).toBeLessThan(1.5 * smooth);
  });

  it('gives the same in blocks of any size', () => {
    const once = run(new ReverbNetwork(rate, deepest), 1_000);
    for (const block of [1, 96, 500]) expect(run(new ReverbNetwork(rate, deepest), block)).toEqual(once);
  });

  it('loses nothing without decay: its energy stays', () => {
    const output = run(new ReverbNetwork(rate, deepest), 1_000);
    const energy = (from: number): number => output.subarray(from, from + 4_000).reduce((sum, sample) => sum + sample * sample, 0);
    expect(10 * Math.log10(energy(19_000) / energy(14_000))).toBeGreaterThan(-1);
  });

  it.each([
    [0.5, 0.4],
    [3, 1.3],
  ])('gives back noise as loud as reckoned, for a decay of %f s at size %f', (decay, size) => {
    const network = new ReverbNetwork(rate, deepest);
    network.aim({ decay: [decay, decay, decay], size });
    const [left, right] = [new Float32Array(1_000), new Float32Array(1_000)];
    const input = noise(Math.ceil((decay + 1) * rate), 6);
    let [energy, heard] = [0, 0];
    for (let from = 0; from + 1_000 <= input.length; from += 1_000) {
      network.process(input.subarray(from, from + 1_000), input.subarray(from, from + 1_000), left, right, 1_000);
      if (from < decay * rate) continue;
      for (let i = 0; i < 1_000; i++) {
        energy += ((left[i]! + right[i]!) / 2) ** 2;
        heard += input[from + i]! ** 2;
      }
    }
    expect(Math.abs(20 * Math.log10(Math.sqrt(energy / heard) / network.noiseGain(decay, size)))).toBeLessThan(1);
  });
});
