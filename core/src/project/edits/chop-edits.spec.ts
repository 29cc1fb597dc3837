import { ArrangeBench } from '../../testing/arrange-bench';
import { mono, noise, residual, sine } from '../../testing/signals';
import { clipEnd } from '../time/clip-times';

const rate = 48_000;

describe('chopping', () => {
  const settings = {
    division: '1/8' as const,
    denser: 0,
    gap: 0,
    order: 'as recorded' as const,
    every: 0,
    everyPitch: 0,
    everyReversed: false,
    seed: 1,
  };

  it('cuts on the lines of the grid', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('setTempo', { tempo: { bpm: 150, offset: 0.1 } });
    bench.do('chopClip', { clip: bench.clip.id, settings });
    // Eighths at 150 bpm last 0.2 s.
    expect(bench.clips().map(({ start }) => Math.round(start * 1e6) / 1e6)).toEqual([0, 0.1, 0.3, 0.5, 0.7, 0.9]);
  });

  it('keeps what is heard but for the edges when nothing else is asked', () => {
    const bench = new ArrangeBench(mono(sine(200, 1, rate, -6)));
    const before = bench.render();
    bench.do('chopClip', { clip: bench.clip.id, settings });
    const after = bench.render();
    // In the middle of each slice, away from the 3 ms edges.
    for (const at of [0.1, 0.4, 0.6, 0.9]) {
      const from = Math.round(at * rate);
      expect(residual(before, after, from, from + 1_000)).toBeLessThan(-120);
    }
  });

  it('gets denser toward the end, on the grid', () => {
    const bench = new ArrangeBench(mono(noise(2 * rate)));
    bench.do('chopClip', { clip: bench.clip.id, settings: { ...settings, division: '1/4', denser: 1 } });
    expect(bench.clips().map(({ start }) => start)).toEqual([0, 0.5, 1, 1.25, 1.5, 1.75]);
  });

  it('leaves gaps, and shuffles the same way for the same seed', () => {
    const order = (seed: number): number[] => {
      const bench = new ArrangeBench(mono(noise(2 * rate)));
      bench.do('chopClip', { clip: bench.clip.id, settings: { ...settings, gap: 0.25, order: 'shuffled', seed } });
      expect(bench.clips()).toHaveLength(8);
      for (const clip of bench.clips()) expect(clip.length).toBeCloseTo(0.25 * 0.75);
      return bench.clips().map(({ offset }) => offset);
    };
    expect(order(5)).toEqual(order(5));
    expect(order(5)).not.toEqual(order(6));
    expect([...order(5)].sort((a, b) => a - b)).toEqual([0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75]);
  });

  it('changes every n-th slice', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('chopClip', { clip: bench.clip.id, settings: { ...settings, every: 2, everyPitch: 12, everyReversed: true } });
    expect(bench.clips().map(({ speed, reversed }) => [speed, reversed])).toEqual([
      [0, false],
      [12, true],
      [0, false],
      [12, true],
    ]);
  });

  it.each(['chopClip', 'stutterClip'] as const)('leaves no clip without content where pins hurry it by (%s)', (name) => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('setPins', { clip: bench.clip.id, pins: [{ at: 1.5e-323, time: 5e-324 }] });
    const shaped = { settings: { division: '1/8' as const, steps: 2, shape: 'halve' as const } };
    if (name === 'chopClip')
      bench.do(name, { clip: bench.clip.id, settings: { ...settings, every: 1, everyPitch: 5, everyReversed: true } });
    else bench.do(name, { clip: bench.clip.id, ...shaped });
    expect(bench.clips().length).toBeGreaterThan(0);
    for (const { length } of bench.clips()) expect(length).toBeGreaterThan(0);
  });

  it('refuses notes longer than the clip', () => {
    const bench = new ArrangeBench(mono(noise(rate / 10)));
    expect(() => bench.do('chopClip', { clip: bench.clip.id, settings })).toThrow('shorter than one note');
  });

  it('stutters: halves and doubles over the length of the clip', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('stutterClip', { clip: bench.clip.id, settings: { division: '1/8', steps: 2, shape: 'halve, then double' } });
    const clips = bench.clips();
    // 0.25 s notes: once, twice, four times, twice.
    expect(clips.map(({ length }) => Math.round(length * 1e4) / 1e4)).toEqual([
      0.25, 0.125, 0.125, 0.0625, 0.0625, 0.0625, 0.0625, 0.125, 0.125,
    ]);
    expect(clips.slice(1, 3).map(({ offset }) => offset)).toEqual([0.25, 0.25]);
    expect(clipEnd(clips.at(-1)!)).toBeCloseTo(1);
  });
});
