import fc from 'fast-check';
import { channelWeights } from '../analysis/loudness/loudness';
import { channelsOf, layoutIds, layouts, sidesOf, toLayout } from './layout';

const rate = 48_000;
const recording = (...channels: number[][]) => ({ sampleRate: rate, channels: channels.map((channel) => Float32Array.from(channel)) });

describe('layouts', () => {
  it('have as many loudspeakers on the left as on the right', () => {
    for (const id of layoutIds) expect(sidesOf(channelsOf(id)).reduce<number>((sum, side) => sum + side, 0)).toBe(0);
  });

  it('agree with the weights of loudness about the channel that does not count', () => {
    for (const id of ['5.1', '7.1'] as const) {
      const weights = channelWeights(channelsOf(id));
      layouts[id].speakers.forEach(({ lowFrequency }, c) => expect(weights[c] === 0).toBe(lowFrequency ?? false));
    }
  });

  it('of unknown counts are left and right in turns', () => {
    expect(sidesOf(3)).toEqual([-1, 1, -1]);
    expect(sidesOf(0)).toEqual([]);
  });
});

describe('a recording in a layout', () => {
  it('keeps its channels where it has as many', () => {
    const surround = recording([1], [2], [3], [4], [5], [6]);
    expect(toLayout(surround, '5.1')).toBe(surround);
  });

  it('is heard from the front pair where it has fewer, and from nowhere else', () => {
    expect(toLayout(recording([0.5, 0.25]), '5.1').channels.map((channel) => [...channel])).toEqual([
      [0.5, 0.25],
      [0.5, 0.25],
      [0, 0],
      [0, 0],
      [0, 0],
      [0, 0],
    ]);
  });

  it('has the mean of both sides in mono', () => {
    expect([...toLayout(recording([1, 0], [0, 1]), 'mono').channels[0]!]).toEqual([0.5, 0.5]);
  });

  it('has the right number of channels and its length, whatever it had', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9 }),
        fc.integer({ min: 0, max: 5 }),
        fc.constantFrom(...layoutIds),
        (channels, frames, layout) => {
          const made = toLayout({ sampleRate: rate, channels: Array.from({ length: channels }, () => new Float32Array(frames)) }, layout);
          expect(made.channels.map((channel) => channel.length)).toEqual(new Array(channelsOf(layout)).fill(frames));
        },
      ),
    );
    expect(toLayout({ sampleRate: rate, channels: [] }, '7.1').channels).toHaveLength(8);
    expect(toLayout({ sampleRate: rate, channels: [] }, 'mono').channels).toHaveLength(1);
  });
});
