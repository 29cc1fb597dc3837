import { findMoments, lumaHeight, lumaWidth, MotionMeter } from './motion';

const rate = 25;

/** Draws frames as a brightness per pixel and measures them. */
function measureFrames(count: number, draw: (frame: number, x: number, y: number) => number) {
  const meter = new MotionMeter();
  const pixels = new Uint8ClampedArray(lumaWidth * lumaHeight * 4);
  for (let frame = 0; frame < count; frame++) {
    for (let i = 0; i < lumaWidth * lumaHeight; i++)
      pixels.fill(255 * draw(frame, i % lumaWidth, Math.floor(i / lumaWidth)), i * 4, i * 4 + 3);
    meter.add(frame / rate, pixels);
  }
  return meter.finish();
}

describe('a frame', () => {
  it('is the same by its luma, of any size and line length, as by its pixels', () => {
    // Studio levels: black is 16, white 235 (ITU-R BT.601).
    const [width, height, stride] = [5 * lumaWidth, 3 * lumaHeight, 5 * lumaWidth + 13];
    const brightness = (x: number, y: number): number => (x + 2 * y) / (lumaWidth + 2 * lumaHeight);
    const [byLuma, byPixels] = [new MotionMeter(), new MotionMeter()];
    for (const [frame, shift] of [0, 7].entries()) {
      const bytes = new Uint8Array(stride * height).fill(99);
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++)
          bytes[y * stride + x] = Math.round(16 + 219 * brightness((Math.floor(x / 5) + shift) % lumaWidth, Math.floor(y / 3)));
      byLuma.addLuma(frame, { bytes, width, height, stride, black: 16, white: 235 });
      const pixels = Array.from({ length: lumaWidth * lumaHeight }, (_, i) => {
        const value = 255 * brightness(((i % lumaWidth) + shift) % lumaWidth, Math.floor(i / lumaWidth));
        return [value, value, value, 255];
      });
      byPixels.add(frame, pixels.flat());
    }
    const [luma, plain] = [byLuma.finish(), byPixels.finish()];
    for (const key of ['motion', 'changed', 'brightness'] as const)
      luma[key].forEach((value, n) => expect(Math.abs(value - plain[key][n]!)).toBeLessThan(0.004));
    expect(luma.motion[1]).toBeGreaterThan(0.05);
  });
});

describe('moments in a picture', () => {
  it('finds a cut on its frame', () => {
    const track = measureFrames(60, (frame, x, y) => (frame < 33 ? x / 128 : 0.4 + y / 72));
    expect(findMoments(track)).toEqual([{ time: 33 / rate, kind: 'cut', strength: expect.any(Number) }]);
  });

  it('finds a flash once, where it begins', () => {
    const track = measureFrames(60, (frame, x) => 0.2 + x / 400 + (frame === 20 || frame === 21 ? 0.6 : 0));
    const moments = findMoments(track);
    expect(moments.map(({ kind, time }) => [kind, time])).toEqual([['flash', 20 / rate]]);
    expect(moments[0]!.strength).toBe(1);
  });

  it('finds the beginning of a movement', () => {
    const track = measureFrames(60, (frame, x) => (frame >= 25 && x >= 8 * (frame - 24) && x < 8 * (frame - 24) + 12 ? 0.9 : 0.2));
    const moments = findMoments(track);
    expect(moments[0]).toMatchObject({ kind: 'movement', time: 1 });
  });

  it('measures nothing where nothing moves', () => {
    const track = measureFrames(40, () => 0.5);
    expect(Math.max(...track.motion)).toBeCloseTo(0, 6);
    expect(track.brightness[3]).toBeCloseTo(0.5, 1);
    expect(findMoments(track)).toEqual([]);
  });
});
