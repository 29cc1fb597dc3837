import type { Clip, Sound } from '@tangled-choir/core';
import { createSound, plainStretch } from '@tangled-choir/core';
import type { SnapTargets } from './snap';
import { snapStart, snapTargets, snapTime } from './snap';

const at = (...moments: number[]): SnapTargets => ({ moments, grids: [] });

describe('snapping', () => {
  it('draws either edge to the nearest target in reach', () => {
    expect(snapStart(0.98, [0, 0.5], at(1, 3), 0.05)).toBe(1);
    expect(snapStart(2.48, [0, 0.5], at(1, 3), 0.05)).toBe(2.5);
    expect(snapStart(2, [0, 0.5], at(1, 3), 0.05)).toBe(2);
    expect(snapTime(0.02, at(0, 1), 0.05)).toBe(0);
  });

  it('draws the sync point, too', () => {
    expect(snapStart(1.52, [0, 2, 0.46], at(2), 0.05)).toBeCloseTo(1.54);
  });

  it('never goes before the beginning', () => {
    expect(snapStart(0.01, [0, 1], at(0.98), 0.1)).toBe(0);
  });

  const clip = (id: string, start: number, sync?: number): Clip => ({
    id,
    source: 's',
    start,
    offset: 0,
    length: 2,
    gain: 0,
    speed: 12,
    ...plainStretch,
    reversed: false,
    locked: false,
    fadeIn: { length: 0, shape: 'linear' },
    fadeOut: { length: 0, shape: 'linear' },
    ...(sync !== undefined && { sync: { at: sync, kind: 'peak' as const } }),
  });
  const sound: Sound = {
    ...createSound('a', 'A'),
    marks: [{ id: 'm', name: 'Crack', time: 0.4 }],
    layers: [
      {
        id: 'l',
        name: 'L',
        role: 'Body',
        gain: 0,
        pan: 0,
        muted: false,
        soloed: false,
        sends: [],
        overlaps: 'sum',
        chain: [],
        clips: [clip('x', 1, 0.5), clip('y', 5)],
      },
    ],
  };
  const none = { marks: false, edges: false, syncs: false, frames: false, beats: false, zeroCrossings: false };
  const context = { sound, playhead: 2.2, kinds: none, division: '1/8' as const, except: new Set(['y']) };

  it('knows marks, edges and sync points of other clips, each when it is switched on', () => {
    expect(snapTargets(context).moments).toEqual([0, 2.2]);
    expect(snapTargets({ ...context, kinds: { ...none, marks: true } }).moments).toContain(0.4);
    expect(snapTargets({ ...context, kinds: { ...none, edges: true } }).moments).toEqual([0, 2.2, 1, 2]);
    // An octave up, half a second of the source is a quarter on the axis.
    expect(snapTargets({ ...context, kinds: { ...none, syncs: true } }).moments).toEqual([0, 2.2, 1.25]);
  });

  it('knows the grids of frames and beats', () => {
    const frames = snapTargets({ ...context, kinds: { ...none, frames: true } });
    expect(snapTime(3.0305, frames, 0.05)).toBeCloseTo(3.04);
    const beats = snapTargets({ ...context, kinds: { ...none, beats: true } });
    // Eighths at 120 bpm.
    expect(snapTime(3.24, beats, 0.05)).toBeCloseTo(3.25);
  });
});
