import { measureOverview } from '@tangled-choir/core';
import type { FramePlaces } from './waveform-path';
import { placeColumns, waveformPath } from './waveform-path';

describe('drawing a waveform', () => {
  const ramp = { sampleRate: 48_000, channels: [Float32Array.from({ length: 1_000 }, (_, i) => i / 1_000)] };

  const part =
    (from: number, to: number): FramePlaces =>
    (share) =>
      from + share * (to - from);

  function columns(places: FramePlaces, width: number): { x: number; top: number; height: number }[] {
    const drawn: { x: number; top: number; height: number }[] = [];
    placeColumns(measureOverview(ramp, 500), places, { width, height: 100 }, (x, top, height) => drawn.push({ x, top, height }));
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

  it('is outlined along the tops and back along the bottoms, and begins anew behind a gap', () => {
    const square = { sampleRate: 48_000, channels: [Float32Array.of(0.5, 0.5, -1, -1)] };
    const overview = measureOverview(square, 4);
    expect(waveformPath(overview, part(0, 4), { width: 2, height: 10 })).toBe('M0 2.5V2.5h1V10h1V11h-1V3.5h-1Z');
    // Beyond the end there is nothing.
    const jumping: FramePlaces = (share) => [0, 100, 101, 1, 3][Math.round(share * 4)]!;
    expect(waveformPath(overview, jumping, { width: 4, height: 10 }).match(/M\d+/g)).toEqual(['M0', 'M3']);
  });
});
