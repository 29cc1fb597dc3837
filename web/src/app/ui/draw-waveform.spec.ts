import { measureOverview } from '@tangled-choir/core';
import type { FramePlaces } from './draw-waveform';
import { drawWaveform } from './draw-waveform';

describe('drawing a waveform', () => {
  const ramp = { sampleRate: 48_000, channels: [Float32Array.from({ length: 1_000 }, (_, i) => i / 1_000)] };

  const part =
    (from: number, to: number): FramePlaces =>
    (share) =>
      from + share * (to - from);

  function columns(places: FramePlaces, width: number): { x: number; top: number; height: number }[] {
    const drawn: { x: number; top: number; height: number }[] = [];
    drawWaveform(
      { clearRect: () => undefined, fillRect: (x, top, _width, height) => drawn.push({ x, top, height }) },
      measureOverview(ramp, 500),
      places,
      width,
      100,
    );
    return drawn;
  }

  it('draws one column a pixel, as high as the samples that it stands for', () => {
    const drawn = columns(part(0, 1_000), 100);
    expect(drawn).toHaveLength(100);
    expect(drawn[99]!.top).toBeCloseTo(0, 0);
    expect(drawn[50]!.top).toBeCloseTo(24.5, 0);
  });

  it('draws a part of the recording over the whole width', () => {
    const drawn = columns(part(500, 1_000), 100);
    expect(drawn[0]!.top).toBeCloseTo(25, 0);
  });

  it('draws backwards, at changing speed, and over and over', () => {
    expect(columns(part(1_000, 0), 100)[0]!.top).toBeCloseTo(0, 0);
    // Quadratic: half of the width has shown a quarter of the recording.
    expect(columns((share) => share ** 2 * 1_000, 100)[50]!.top).toBeCloseTo(50 - 12.5, -1);
    const saw = columns((share) => (share * 2_000) % 1_000, 100);
    expect(saw[49]!.top).toBeCloseTo(0, -1);
    expect(saw[50]!.top).toBeCloseTo(50, -1);
    expect(saw[99]!.top).toBeCloseTo(0, -1);
  });

  it('draws silence as a line and nothing beyond the end', () => {
    expect(Math.min(...columns(part(0, 1_000), 10).map((column) => column.height))).toBeGreaterThanOrEqual(1);
    expect(columns(part(2_000, 3_000), 10)).toEqual([]);
  });
});
