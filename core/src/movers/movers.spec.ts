import fc from 'fast-check';
import { lfoShapes } from '../automation/lfo-shape';
import { gainParameter } from '../project/address';
import { pullReach } from '../project/offset';
import { decibels, hertz, share } from '../project/parameters';
import type { Tide } from '../project/schema';
import { renderSound } from '../render/render-sound';
import { edited, projectWith } from '../testing/project';
import { largest, mono, sine } from '../testing/signals';
import { moverCourse, pulledValue, reachOf, shapedPull, tideHeight, tideSeconds } from './mover-value';
import { shapePoints } from './tide-shapes';

const tide = (changes: Partial<Tide> = {}): Tide => ({
  id: 'tide-1',
  kind: 'tide',
  name: 'Swell',
  length: 2,
  unit: 'seconds',
  phase: 0,
  smoothing: 0,
  frozen: false,
  points: shapePoints('triangle'),
  ...changes,
});

describe('tides', () => {
  it('go round: the same at the same place of every round, with the last point leading back to the first', () => {
    const course = moverCourse(tide(), 120);
    expect(course.at(0.5)).toBeCloseTo(1, 2);
    expect(course.at(1)).toBeCloseTo(0, 2);
    expect(course.at(1.5)).toBeCloseTo(-1, 2);
    expect(course.at(1.75)).toBeCloseTo(-0.5, 2);
    for (const time of [0.3, 0.77, 1.9]) expect(course.at(time + 20)).toBeCloseTo(course.at(time), 6);
  });

  it('count their length in beats when asked to, begin at their phase, and stand still when frozen', () => {
    expect(tideSeconds({ length: 8, unit: 'beats' }, 120)).toBe(4);
    expect(moverCourse(tide({ phase: 0.25 }), 120).at(0)).toBeCloseTo(1, 2);
    const frozen = moverCourse(tide({ phase: 0.25, frozen: true }), 120);
    expect(frozen.at(5.3)).toBe(frozen.at(0));
  });

  it.each(lfoShapes)('draw the shape “%s” between -1 and 1', (shape) => {
    const drawn = { points: shapePoints(shape) };
    const heights = Array.from({ length: 400 }, (_, i) => tideHeight(drawn, i / 400));
    expect(Math.max(...heights)).toBeLessThanOrEqual(1);
    expect(Math.min(...heights)).toBeGreaterThanOrEqual(-1);
    if (shape !== 'random') expect(Math.max(...heights) - Math.min(...heights)).toBeGreaterThan(1.9);
    if (shape === 'sine') heights.forEach((height, i) => expect(Math.abs(height - Math.sin((2 * Math.PI * i) / 400))).toBeLessThan(0.03));
  });

  it('lose their corners to smoothing, and keep their mean', () => {
    const steepest = (smoothing: number): number => {
      const course = moverCourse(tide({ points: shapePoints('square'), smoothing }), 120);
      let most = 0;
      for (let i = 0; i < 1_000; i++) most = Math.max(most, Math.abs(course.at(i / 500) - course.at((i + 1) / 500)));
      return most;
    };
    expect(steepest(0.6)).toBeLessThan(steepest(0) / 20);
    const course = moverCourse(tide({ smoothing: 0.8 }), 120);
    let sum = 0;
    for (let i = 0; i < 1_000; i++) sum += course.at((2 * i) / 1_000);
    expect(Math.abs(sum / 1_000)).toBeLessThan(0.01);
  });
});

describe('walks', () => {
  it('stay within bounds, never jump, and come again with the same seed', () => {
    fc.assert(
      fc.property(fc.nat(), fc.double({ min: 0.1, max: 20, noNaN: true }), (seed, rate) => {
        const walk = { id: 'walk-1', kind: 'walk', name: 'Drift', rate, seed } as const;
        const course = moverCourse(walk, 120);
        const again = moverCourse(walk, 120);
        expect(largest(0, 200, (i) => course.at(i * 0.01))).toBeLessThanOrEqual(1);
        // From one height to the next, half a cosine is no steeper than π/2 times the whole distance.
        const steepest = (Math.PI / 2) * 2 * rate * 0.001 * 1.01;
        expect(largest(0, 200, (i) => course.at(i * 0.01 + 0.001) - course.at(i * 0.01))).toBeLessThan(steepest);
        expect(largest(0, 200, (i) => again.at(i * 0.01) - course.at(i * 0.01))).toBe(0);
      }),
      { numRuns: 30 },
    );
  });
});

describe('pulls', () => {
  const fixed = (value: number) => ({ at: () => value });

  it('add up in the offset unit of the property, and stay in its range', () => {
    const gain = decibels({ label: 'Gain', min: -60, max: 12, default: 0 });
    expect(
      pulledValue(
        gain,
        -6,
        [
          { depth: 4, course: fixed(0.5) },
          { depth: -3, course: fixed(1) },
        ],
        0,
      ),
    ).toBe(-7);
    expect(pulledValue(gain, 0, [{ depth: 40, course: fixed(1) }], 0)).toBe(12);
    const frequency = hertz({ label: 'Frequency', min: 20, max: 20_000, default: 1_000 });
    expect(pulledValue(frequency, 500, [{ depth: 12, course: fixed(1) }], 0)).toBeCloseTo(1_000, 6);
  });

  it('may take a property through its whole range, but levels no further than 60 dB', () => {
    expect(pullReach(decibels({ label: 'Threshold', min: -60, max: 0, default: -18 }))).toBe(60);
    expect(pullReach(gainParameter)).toBe(60);
    expect(pullReach(share({ label: 'Mix', default: 1 }))).toBe(1);
    expect(pullReach(hertz({ label: 'Frequency', min: 20, max: 20_000, default: 1_000 }))).toBe(60);
  });

  it('reach as far as all of them together can, reins to one side only', () => {
    const gain = decibels({ label: 'Gain', min: -60, max: 12, default: 0 });
    expect(reachOf(gain, [-6], [{ depth: 4, bothWays: true }])).toEqual({ low: -10, high: -2 });
    expect(reachOf(gain, [-6], [{ depth: -4, bothWays: false }])).toEqual({ low: -10, high: -6 });
    expect(
      reachOf(
        gain,
        [-20, 0],
        [
          { depth: 6, bothWays: false },
          { depth: -3, bothWays: true },
        ],
      ),
    ).toEqual({ low: -23, high: 9 });
    expect(reachOf(gain, [-20, 3], [])).toEqual({ low: -20, high: 3 });
    expect(reachOf(gain, [0], [{ depth: 40, bothWays: true }])).toEqual({ low: -40, high: 12 });
  });

  const rate = 48_000;
  const { project, context } = projectWith({ Tone: mono(sine(1_000, 4, rate, -20)) });
  const sound = project.sounds[0]!;
  const layer = sound.layers[0]!.id;
  const address = `layer/${layer}/gain`;
  const withMover = (kind: 'tide' | 'rein' | 'walk') => edited(project, 'addMover', { sound: sound.id, kind, name: 'Swell' });
  const levelAt = (samples: Float32Array, time: number): number => {
    let sum = 0;
    const from = Math.round(time * rate) - 480;
    for (let i = from; i < from + 960; i++) sum += samples[i]! ** 2;
    return 10 * Math.log10((2 * sum) / 960);
  };

  it('are heard: a tide moves the gain of a layer up and down as it is drawn', () => {
    let pulled = withMover('tide');
    const mover = pulled.sounds[0]!.movers[0]!.id;
    pulled = edited(pulled, 'setMover', { sound: sound.id, mover, settings: { length: 2, smoothing: 0, points: shapePoints('triangle') } });
    pulled = edited(pulled, 'setPull', { sound: sound.id, mover, address, depth: 12 });
    const [left] = renderSound(pulled.sounds[0]!, context, { tail: 'cut at the last clip' }).channels;
    for (const time of [0.25, 0.5, 0.9, 1.5, 2.2, 3.5]) {
      const expected = -20 + 12 * tideHeight({ points: shapePoints('triangle') }, (time / 2) % 1);
      expect(Math.abs(levelAt(left!, time) - expected)).toBeLessThan(0.3);
    }
  });

  it('are heard: a rein pulls several properties, and follows a lane of its own', () => {
    let pulled = withMover('rein');
    const mover = pulled.sounds[0]!.movers[0]!.id;
    pulled = edited(pulled, 'setPull', { sound: sound.id, mover, address, depth: -20 });
    pulled = edited(pulled, 'setPull', { sound: sound.id, mover, address: `layer/${layer}/pan`, depth: 1 });
    const rein = `rein/${mover}/value`;
    const turned = edited(pulled, 'setValues', { sound: sound.id, values: { [rein]: 0.5 }, label: '' });
    const half = renderSound(turned.sounds[0]!, context, { tail: 'cut at the last clip' }).channels;
    expect(levelAt(half[1]!, 2)).toBeCloseTo(-30, 1);
    expect(levelAt(half[0]!, 2)).toBeLessThan(-31);
    let moving = edited(pulled, 'addAutomation', { sound: sound.id, address: rein });
    const lane = moving.sounds[0]!.automation[0]!.id;
    const points = [
      { time: 0, value: 0, bend: 0 },
      { time: 4, value: 1, bend: 0 },
    ];
    moving = edited(moving, 'setAutomationPoints', { sound: sound.id, lane, points, action: 'Draw' });
    const right = renderSound(moving.sounds[0]!, context, { tail: 'cut at the last clip' }).channels[1]!;
    for (const time of [0.5, 2, 3.5]) expect(Math.abs(levelAt(right, time) - (-20 - 5 * time))).toBeLessThan(0.3);
  });

  it('go with what they belong to: copies, removed layers, removed movers', () => {
    let pulled = withMover('walk');
    const mover = pulled.sounds[0]!.movers[0]!.id;
    pulled = edited(pulled, 'setPull', { sound: sound.id, mover, address, depth: 3 });
    const copied = edited(pulled, 'duplicateLayer', { sound: sound.id, layer });
    expect(copied.sounds[0]!.pulls.map((pull) => [pull.mover, pull.depth])).toEqual([
      [mover, 3],
      [mover, 3],
    ]);
    expect(edited(copied, 'removeLayer', { sound: sound.id, layer }).sounds[0]!.pulls).toHaveLength(1);
    expect(edited(pulled, 'removeMover', { sound: sound.id, mover }).sounds[0]!.pulls).toEqual([]);
    expect(() => edited(pulled, 'setPull', { sound: sound.id, mover, address: 'layer/none/gain', depth: 1 })).toThrow(
      'nothing that can be pulled',
    );
  });
});

describe('the shape of a pull', () => {
  it('is straight over the whole way unless it is told otherwise', () => {
    for (const value of [-1, -0.3, 0, 0.6, 1]) expect(shapedPull({}, value)).toBeCloseTo(value, 12);
  });

  it('begins and ends where it is told, and bends in between', () => {
    const shape = { from: 0.2, to: 0.6, bend: 0 };
    expect([0.1, 0.2, 0.4, 0.6, 0.9].map((value) => shapedPull(shape, value))).toEqual([0, 0, expect.closeTo(0.5, 12), 1, 1]);
    expect(shapedPull(shape, -0.4)).toBeCloseTo(-0.5, 12);
    expect(shapedPull({ ...shape, bend: 0.5 }, 0.4)).toBeLessThan(0.2);
    expect(shapedPull({ ...shape, bend: -0.5 }, 0.4)).toBeGreaterThan(0.8);
    // A stretch of no length is a switch.
    expect([0.49, 0.5].map((value) => shapedPull({ from: 0.5, to: 0.5 }, value))).toEqual([0, 1]);
  });

  it('lets one rein pull two properties one after the other', () => {
    const rein = { id: 'rein-1', kind: 'rein' as const, name: 'Storm', value: 0.5 };
    const at = (shape: object): number => pulledValue(gainParameter, 0, [{ depth: -20, course: moverCourse(rein, 120), ...shape }], 0);
    expect(at({ to: 0.5 })).toBe(-20);
    expect(Math.abs(at({ from: 0.5 }))).toBe(0);
    expect(at({})).toBe(-10);
  });
});
