import { measureOverview } from '@tangled-choir/core';
import { drawWaveform } from './draw-waveform';

describe('drawing a waveform', () => {
  const ramp = { sampleRate: 48_000, channels: [Float32Array.from({ length: 1_000 }, (_, i) => i / 1_000)] };

  function columns(range: { from: number; to: number }, width: number): { x: number; top: number; height: number }[] {
    const drawn: { x: number; top: number; height: number }[] = [];
    drawWaveform(
      { clearRect: () => undefined, fillRect: (x, top, _width, height) => drawn.push({ x, top, height }) },
      measureOverview(ramp, 500),
      range,
      width,
      100,
    );
    return drawn;
  }

  it('draws one column a pixel, as high as the samples that it stands for', () => {
    const drawn = columns({ from: 0, to: 1_000 }, 100);
    expect(drawn).toHaveLength(100);
    expect(drawn[99]!.top).toBeCloseTo(0, 0);
    expect(drawn[50]!.top).toBeCloseTo(24.5, 0);
  });

  it('draws a part of the recording over the whole width', () => {
    const drawn = columns({ from: 500, to: 1_000 }, 100);
    expect(drawn[0]!.top).toBeCloseTo(25, 0);
  });

  it('draws silence as a line and nothing beyond the end', () => {
    expect(Math.min(...columns({ from: 0, to: 1_000 }, 10).map((column) => column.height))).toBeGreaterThanOrEqual(1);
    expect(columns({ from: 2_000, to: 3_000 }, 10)).toEqual([]);
  });
});
