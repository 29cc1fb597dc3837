import type { Clip } from '@tangled-choir/core';
import { plainStretch, playedStretch } from '@tangled-choir/core';
import { drawnPart, stretchOfPart } from './drawn-part';

/** Ten seconds of a source from 5 s on, at 2 s on the time axis. */
const clip: Clip = {
  id: 'clip-1',
  source: 'source-1',
  start: 2,
  offset: 5,
  length: 10,
  gain: 0,
  speed: 0,
  ...plainStretch,
  reversed: false,
  locked: false,
  fadeIn: { length: 0, shape: 'linear' },
  fadeOut: { length: 0, shape: 'linear' },
};

describe('the part of a clip that is drawn', () => {
  it('is all of it, unless it is very wide', () => {
    expect(drawnPart(clip, 400, { from: 4, to: 5 })).toEqual({ from: 0, to: 1 });
    expect(drawnPart(clip, 1_000, { from: 4, to: 5 })).toEqual({ from: 0.2, to: 0.3 });
    expect(drawnPart(clip, 1_000, { from: 0, to: 4 })).toEqual({ from: 0, to: 0.2 });
    expect(drawnPart(clip, 1_000, { from: 11, to: 40 })).toEqual({ from: 0.9, to: 1 });
  });

  it('is drawn from what it plays', () => {
    const part = { from: 0.2, to: 0.3 };
    expect(stretchOfPart(clip, part)).toEqual({ from: 7, to: 8 });
    const reversed = stretchOfPart({ ...clip, reversed: true }, part);
    expect(reversed.from).toBeCloseTo(12, 9);
    expect(reversed.to).toBeCloseTo(13, 9);
    // An octave up, it lasts half as long; the part of its width is the same part of its content.
    const fast = stretchOfPart({ ...clip, speed: 12 }, part);
    expect(fast.from).toBeCloseTo(7, 9);
    expect(fast.to).toBeCloseTo(8, 9);
  });

  it('of a loop may be anything that it plays', () => {
    const looped: Clip = { ...clip, loop: { from: 6, to: 7, crossfade: 0.1 } };
    expect(stretchOfPart(looped, { from: 0.2, to: 0.3 })).toEqual(playedStretch(looped));
  });
});
