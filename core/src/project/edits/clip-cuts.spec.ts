import { frameCount } from '../../audio/audio';
import { ArrangeBench, roughness } from '../../testing/arrange-bench';
import { mono, noise, residual, sine } from '../../testing/signals';
import { drawSibling } from '../../kin/draw';
import { clipEnd } from '../time/clip-times';

const rate = 48_000;

describe('trimming', () => {
  it('the start keeps what sounds where', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.25 }] });
    expect(bench.clip).toMatchObject({ start: 0.25, offset: 0.25, length: 0.75 });
    expect(bench.clip.fadeIn.length).toBeGreaterThan(0);
  });

  it('goes no further than the source and leaves at least a millisecond', () => {
    const after = (side: 'start' | 'end', time: number): number => {
      const bench = new ArrangeBench(mono(noise(rate)));
      return bench.do('trimClips', { side, to: [{ clip: bench.clip.id, time }] }).clip.length;
    };
    expect(after('end', 99)).toBeCloseTo(1);
    expect(after('end', 0)).toBeCloseTo(0.001);
    expect(after('start', 99)).toBeCloseTo(0.001);
  });

  it('counts in the time of a fast clip', () => {
    const bench = new ArrangeBench(mono(noise(rate))).speed(12);
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.25 }] });
    expect(bench.clip.offset).toBeCloseTo(0.5);
    expect(bench.clip.length).toBeCloseTo(0.5);
  });

  it('takes a reversed clip from the ends that are seen', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('reverseClips', { clips: [bench.clip.id] });
    bench.do('trimClips', { side: 'start', to: [{ clip: bench.clip.id, time: 0.3 }] });
    expect(bench.clip.offset).toBeCloseTo(0);
    expect(bench.clip.length).toBeCloseTo(0.7);
    bench.do('trimClips', { side: 'end', to: [{ clip: bench.clip.id, time: 0.6 }] });
    expect(bench.clip.offset).toBeCloseTo(0.4);
    expect(bench.clip.length).toBeCloseTo(0.3);
  });
});

describe('splitting', () => {
  it.each([
    ['in crossfading layers', 0, 'crossfade' as const],
    ['in summing layers', 0, 'sum' as const],
    ['at another speed', -5.3, 'crossfade' as const],
  ])('changes nothing that can be heard, %s', (_, speed, overlaps) => {
    const bench = new ArrangeBench(mono(noise(rate, 4, -6))).speed(speed);
    bench.do('setOverlaps', { layer: bench.layer().id, overlaps });
    const before = bench.render();
    bench.do('splitClips', { clips: [bench.clip.id], time: 0.412345 });
    expect(bench.clips()).toHaveLength(2);
    expect(residual(before, bench.render())).toBeLessThan(-120);
  });

  it.each([
    ['forwards', false],
    ['backwards', true],
  ])('changes nothing within a speed curve, %s', (_, reversed) => {
    const points = [
      { at: 0.1, value: -7 },
      { at: 0.5, value: 9 },
      { at: 0.8, value: 1 },
    ];
    const bench = new ArrangeBench(mono(noise(rate, 4, -6)));
    bench.do('setClipCurve', { clip: bench.clip.id, curve: 'speed', points });
    if (reversed) bench.do('reverseClips', { clips: [bench.clip.id] });
    const before = bench.render();
    bench.do('splitClips', { clips: [bench.clip.id], time: 0.312345 });
    expect(bench.clips()).toHaveLength(2);
    expect(residual(before, bench.render())).toBeLessThan(-110);
  });

  it('leaves halves that do not click when they are moved apart, on a sine and on DC', () => {
    for (const recording of [sine(50, 1, rate, -3), new Float32Array(rate).fill(0.7)]) {
      const bench = new ArrangeBench(mono(recording));
      bench.do('fadeClips', { clips: [bench.clip.id], side: 'in', length: 0.003 });
      bench.do('splitClips', { clips: [bench.clip.id], time: 0.5 });
      const right = bench.clips()[1]!;
      bench.do('moveClips', { to: [{ clip: right.id, start: right.start + 0.2 }] });
      // A raised cosine of 3 ms moves by at most π/2 per 144 samples.
      expect(roughness(bench.render())).toBeLessThan((0.75 * Math.PI) / 2 / 140 + 0.005);
    }
  });

  it('says when the playhead is in none of the clips', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    expect(() => bench.do('splitClips', { clips: [bench.clip.id], time: 3 })).toThrow('not inside');
  });

  it('leaves locked clips alone', () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    bench.do('lockClips', { clips: [bench.clip.id], locked: true });
    expect(() => bench.do('splitClips', { clips: [bench.clip.id], time: 0.5 })).toThrow('is locked');
    expect(() => bench.do('moveClips', { to: [{ clip: bench.clip.id, start: 1 }] })).toThrow('is locked');
    expect(() => bench.do('removeClips', { clips: [bench.clip.id] })).toThrow('is locked');
  });
});

describe('carving', () => {
  it('leaves a hole of the wanted width with faded edges, and nothing clicks', () => {
    const bench = new ArrangeBench(mono(new Float32Array(rate).fill(0.5)));
    bench.do('fadeClips', { clips: [bench.clip.id], side: 'in', length: 0.01 });
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.5, before: 0.02, after: 0.06, fade: 0.01, depth: -60 } });
    const heard = bench.render();
    expect(heard[Math.round(0.46 * rate)]).toBeCloseTo(0.5, 5);
    for (const time of [0.4801, 0.5, 0.5599]) expect(Math.abs(heard[Math.round(time * rate)]!)).toBeLessThan(0.001);
    expect(heard[Math.round(0.571 * rate)]).toBeCloseTo(0.5, 5);
    expect(roughness(heard)).toBeLessThan((0.5 * Math.PI) / 2 / 140);
  });

  it.each([
    ['where clips add up', 'sum' as const],
    ['where they crossfade', 'crossfade' as const],
  ])('ducks by a depth, and fades between both levels, %s', (_, overlaps) => {
    const bench = new ArrangeBench(mono(new Float32Array(rate).fill(0.5)));
    bench.do('setOverlaps', { layer: bench.layer().id, overlaps });
    const before = bench.render();
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.5, before: 0.02, after: 0.06, fade: 0.01, depth: -12 } });
    expect(bench.clips()).toHaveLength(3);
    const heard = bench.render();
    for (const time of [0.1, 0.469, 0.571, 0.9]) expect(heard[Math.round(time * rate)]).toBeCloseTo(0.5, 5);
    for (const time of [0.4801, 0.5, 0.5599]) expect(heard[Math.round(time * rate)]).toBeCloseTo(0.5 * 10 ** (-12 / 20), 4);
    // Halfway down the fade lies halfway between both levels.
    expect(heard[Math.round(0.475 * rate)]).toBeCloseTo(0.25 * (1 + 10 ** (-12 / 20)), 2);
    expect(roughness(heard)).toBeLessThanOrEqual(Math.max(roughness(before), (0.5 * Math.PI) / 2 / 470));
  });

  it('ducks a clip that lies in the hole as a whole, and one to its end that has no room behind it', () => {
    const bench = new ArrangeBench(mono(noise(rate / 10)));
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.05, before: 0.06, after: 0.06, fade: 0.01, depth: -59 } });
    expect(bench.clips()).toHaveLength(1);
    expect(bench.clip.gain).toBe(-59);
    bench.do('copyClips', { to: [{ clip: bench.clip.id, start: 0.45 }] });
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.55, before: 0.05, after: 0.06, fade: 0.01, depth: -1 } });
    expect(bench.clips().map(({ gain }) => gain)).toEqual([-59, -59, -60]);
  });

  it('takes clips away that lie in the hole, shortens those that end in it, and says when nothing is there', () => {
    const bench = new ArrangeBench(mono(noise(rate / 10)));
    bench.do('copyClips', { to: [{ clip: bench.clip.id, start: 0.45 }] });
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.05, before: 0.06, after: 0.06, fade: 0.01, depth: -60 } });
    expect(bench.clips().map(({ start }) => start)).toEqual([0.45]);
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.55, before: 0.05, after: 0.06, fade: 0.01, depth: -60 } });
    expect(clipEnd(bench.clip)).toBeCloseTo(0.5);
    expect(() =>
      bench.do('carve', { layers: [bench.layer().id], hole: { time: 3, before: 0.1, after: 0.1, fade: 0.01, depth: -60 } }),
    ).toThrow('nothing to carve');
  });
});

describe('the sways of a clip', () => {
  const swayed = () => {
    const bench = new ArrangeBench(mono(noise(rate)));
    const address = `layer/${bench.layer().id}/clip/${bench.clip.id}/gain`;
    bench.do('setSway', { sway: { kind: 'range', address, low: -6, high: 6, locked: false }, label: '' });
    bench.do('setFamily', { size: 3 });
    bench.do('judgeSibling', { index: 1, state: 'kept', draws: { [address]: 2.5 } });
    return bench;
  };
  const cuts = {
    split: (bench: ArrangeBench) => bench.do('splitClips', { clips: [bench.clip.id], time: 0.5 }),
    carved: (bench: ArrangeBench) =>
      bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.5, before: 0.02, after: 0.06, fade: 0.01, depth: -12 } }),
    'cut out': (bench: ArrangeBench) =>
      bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.5, before: 0.02, after: 0.06, fade: 0.01, depth: -60 } }),
  };

  it.each(Object.entries(cuts))('go over to all pieces when it is %s, and every sibling is one sound', (_, change) => {
    const bench = swayed();
    change(bench);
    const addresses = bench.clips().map(({ id }) => `layer/${bench.layer().id}/clip/${id}/gain`);
    expect(addresses.length).toBeGreaterThan(1);
    const drawn = [0, 1, 2].map((index) => drawSibling(bench.project.sounds[0]!, index));
    for (const draws of drawn) {
      expect(Object.keys(draws).sort()).toEqual([...addresses].sort());
      expect(new Set(Object.values(draws)).size).toBe(1);
    }
    expect(Object.values(drawn[1]!)[0]).toBe(2.5);
    expect(drawn[0]).not.toEqual(drawn[2]);
  });

  it('are never more than a document can keep: what would make more is refused, and nothing is changed', () => {
    const bench = swayed();
    const prefix = `layer/${bench.layer().id}/clip/${bench.clip.id}`;
    const some = (count: number) =>
      Array.from({ length: count }, (_, n) => ({ kind: 'range' as const, address: `${prefix}/${n}`, low: -1, high: 1, locked: false }));
    bench.do('setSways', { sways: some(1_500), label: '' });
    const before = bench.project;
    expect(() => bench.do('splitClips', { clips: [bench.clip.id], time: 0.5 })).toThrow('3000 sways; at most 2000');
    expect(() => bench.do('setSways', { sways: some(2_001), label: '' })).toThrow('2001 sways');
    expect(bench.project).toBe(before);
  });

  it('stay with the slices of a chop, and end with a clip that is carved away', () => {
    const bench = swayed();
    bench.do('chopClip', {
      clip: bench.clip.id,
      settings: { division: '1/4', denser: 0, gap: 0, order: 'as recorded', every: 0, everyPitch: 0, everyReversed: false, seed: 1 },
    });
    const addresses = bench.clips().map(({ id }) => `layer/${bench.layer().id}/clip/${id}/gain`);
    expect(addresses).toHaveLength(2);
    expect(bench.project.sounds[0]!.family.sways.map(({ address }) => address).sort()).toEqual([...addresses].sort());
    bench.do('carve', { layers: [bench.layer().id], hole: { time: 0.5, before: 1, after: 1, fade: 0.01, depth: -60 } });
    expect([bench.clips(), bench.project.sounds[0]!.family.sways]).toEqual([[], []]);
  });
});

it('every clip that an edit makes has frames to play', () => {
  const bench = new ArrangeBench(mono(noise(rate)));
  expect(frameCount({ sampleRate: rate, channels: [bench.render()] })).toBe(rate);
});
