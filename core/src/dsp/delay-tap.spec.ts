import { DelayTap } from './delay-tap';

describe('taps of a delay line', () => {
  // The line has room for 64 samples: the last of these blocks goes round its end.
  it.each([1, 2, 3, 5])('lie where they are told to, in block %i', (blocks) => {
    const line = new DelayTap(40);
    const frames = 16;
    for (let block = 0; block < blocks; block++) line.writeBlock(Float32Array.from({ length: frames }, (_, i) => 1 + block * frames + i));
    const into = new Float32Array(frames).fill(1_000);
    line.addTaps([0, 3, 7, 12, 20, 39], [1, 10, 0.5, 2, -1, 4], into, frames);
    const written = (at: number): number => Math.max(0, at);
    const latest = blocks * frames;
    for (let i = 0; i < frames; i++) {
      const at = latest - frames + 1 + i;
      const sum =
        written(at) + 10 * written(at - 3) + 0.5 * written(at - 7) + 2 * written(at - 12) - written(at - 20) + 4 * written(at - 39);
      expect(into[i]).toBe(1_000 + sum);
    }
  });
});
