import { createSound } from '@tangled-choir/core';
import { snapStart, snapTargets, snapTime } from './snap';

describe('snapping', () => {
  it('draws either edge to the nearest target in reach', () => {
    expect(snapStart(0.98, 0.5, [1, 3], 0.05)).toBe(1);
    expect(snapStart(2.48, 0.5, [1, 3], 0.05)).toBe(2.5);
    expect(snapStart(2, 0.5, [1, 3], 0.05)).toBe(2);
    expect(snapTime(0.02, [0, 1], 0.05)).toBe(0);
  });

  it('never goes before the beginning', () => {
    expect(snapStart(0.01, 1, [0.98], 0.1)).toBe(0);
  });

  it('knows marks, the playhead and other clips', () => {
    const clip = (id: string, start: number) => ({
      id,
      source: 's',
      start,
      offset: 0,
      length: 2,
      gain: 0,
      speed: 12,
      fadeIn: { length: 0, shape: 'linear' as const },
      fadeOut: { length: 0, shape: 'linear' as const },
    });
    const sound = {
      ...createSound('a', 'A'),
      marks: [{ id: 'm', name: 'Crack', time: 0.4 }],
      layers: [
        {
          id: 'l',
          name: 'L',
          role: 'Body' as const,
          gain: 0,
          pan: 0,
          muted: false,
          soloed: false,
          chain: [],
          clips: [clip('x', 1), clip('y', 5)],
        },
      ],
    };
    expect(snapTargets(sound, 2.2, 'y')).toEqual([0, 2.2, 0.4, 1, 2]);
  });
});
