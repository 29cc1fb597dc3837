import { joinBlocks } from './recorder';

const block = (frame: number, ...values: number[]) => ({ frame, channels: [Float32Array.from(values)] });

describe('recorded blocks', () => {
  it('become one recording', () => {
    const take = joinBlocks([block(96, 1, 2), block(98, 3, 4)], 48_000);
    expect([...take.audio.channels[0]!]).toEqual([1, 2, 3, 4]);
    expect(take.droppedFrames).toBe(0);
  });

  it('keep their places where some are missing, and tell how much', () => {
    const take = joinBlocks([block(96, 1, 2), block(101, 3)], 48_000);
    expect([...take.audio.channels[0]!]).toEqual([1, 2, 0, 0, 0, 3]);
    expect(take.droppedFrames).toBe(3);
  });

  it('may be none', () => {
    expect(joinBlocks([], 48_000).audio.channels[0]).toHaveLength(0);
  });
});
