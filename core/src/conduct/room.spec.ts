import { decayTime } from '../testing/decay-time';
import { roomDials } from '../project/game/behaviour-dials';
import { noise, sine } from '../testing/signals';
import type { Room } from './conduct-data';
import { GameRoom } from './room';

const rate = 48_000;
const plain: Room = { decay: 1.2, high: 1, size: 1, share: 0 };

function answer(room: Room, left: Float32Array, right = left, blocks: readonly number[] = [left.length]): Float32Array[] {
  const player = new GameRoom(rate);
  player.set(room);
  const output = [new Float32Array(left.length), new Float32Array(left.length)];
  for (let from = 0, n = 0; from < left.length; n++) {
    const frames = Math.min(left.length - from, blocks[n % blocks.length]!);
    player.addTo(left.subarray(from), right.subarray(from), output[0]!.subarray(from), output[1]!.subarray(from), frames);
    from += frames;
  }
  return output;
}

const impulse = (frames: number): Float32Array => Float32Array.from({ length: frames }, (_, i) => (i === 0 ? 1 : 0));
const power = (samples: Float32Array, from = 0): number =>
  samples.subarray(from).reduce((sum, sample) => sum + sample ** 2, 0) / (samples.length - from);

describe('the room of a bus', () => {
  it.each([
    [0.3, 1, 0.2],
    [1.2, 1, 1],
    [2.4, 1, 3],
    [3, 0.5, 1],
    [6, 0.3, 2],
  ])('decays in %f s, its highs in %f of that, at size %f', (decay, high, size) => {
    const sides = answer({ ...plain, decay, high, size }, impulse(Math.ceil((decay + 0.3) * rate)));
    expect(decayTime(sides, 250) / decay).toBeCloseTo(1, 1);
    expect(Math.abs(decayTime(sides, 5_000) / (decay * high) - 1)).toBeLessThan(0.15);
  });

  it.each([0.3, 1.2, 8])('is as loud behind noise that goes on as that is before it, with a decay of %f s', (decay) => {
    const frames = Math.ceil((2 * decay + 1) * rate);
    const [left, right] = answer({ ...plain, decay }, noise(frames, 3, -20), noise(frames, 9, -20));
    const from = frames - rate;
    const before = power(noise(frames, 3, -20), from);
    for (const side of [left!, right!]) expect(Math.abs(10 * Math.log10(power(side, from) / before))).toBeLessThan(1.5);
  });

  it('stays within bounds at the ends of all dials, for noise and for what is deep', () => {
    const { decay, high, size } = roomDials;
    const ends = [decay, high, size].map(({ min, max }) => [min, max]);
    const frames = 2 * rate;
    const deep = sine(60, 2, rate, -20);
    for (const d of ends[0]!)
      for (const h of ends[1]!)
        for (const s of ends[2]!) {
          const room = { decay: d, high: h, size: s, share: 1 };
          for (const [input, other, most] of [
            [noise(frames, 3, -20), noise(frames, 9, -20), 6],
            // A small room has modes, and one may be met.
            [deep, deep, 20],
          ] as const) {
            const [left] = answer(room, input, other);
            expect(left!.every(Number.isFinite)).toBe(true);
            expect(10 * Math.log10(power(left!, rate) / power(input, rate))).toBeLessThan(most);
          }
        }
  });

  it('is wide: both sides answer each side, and hardly look alike', () => {
    const [left, right] = answer(plain, impulse(rate), new Float32Array(rate));
    expect(power(right!) / power(left!)).toBeGreaterThan(0.25);
    const together = left!.reduce((sum, sample, i) => sum + sample * right![i]!, 0) / rate;
    expect(Math.abs(together) / Math.sqrt(power(left!) * power(right!))).toBeLessThan(0.2);
  });

  it('gives the same samples in blocks of any size, also after it has come to rest', () => {
    const input = new Float32Array(4 * rate);
    input.set(noise(2_000, 1, -12), 100);
    input.set(noise(2_000, 2, -12), 3 * rate);
    const small: Room = { ...plain, decay: 0.1, size: 0.2 };
    expect(answer(small, input, input, [128, 1, 977])).toEqual(answer(small, input));
    expect(
      answer(small, input)[0]!
        .subarray(2.9 * rate, 3 * rate)
        .every((sample) => sample === 0),
    ).toBe(true);
  });
});
