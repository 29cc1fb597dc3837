import type { Clip } from '@tangled-choir/core';
import { plainStretch } from '@tangled-choir/core';
import { pinnedSpans } from './pins';

const pins = [
  { at: 0.5, time: 0.5 },
  { at: 1, time: 2 },
];
const clip = { offset: 0, length: 2, speed: 0, reversed: false, ...plainStretch, pins } as unknown as Clip;

describe('pins of a clip', () => {
  it('tint what lies between them by how far it is stretched, up to four times', () => {
    // Half a second as it was, half a second in one and a half, the rest as it was.
    const spans = pinnedSpans(clip);
    expect(spans.map(({ from, width }) => [from * 3, width * 3].map((share) => Number(share.toFixed(6))))).toEqual([
      [0, 0.5],
      [0.5, 1.5],
      [2, 1],
    ]);
    expect(spans.map(({ tint }) => Number(tint.toFixed(3)))).toEqual([0, Number((Math.log2(3) / 2).toFixed(3)), 0]);
    expect(pinnedSpans({ ...clip, pins: undefined } as unknown as Clip)).toEqual([]);
  });
});
