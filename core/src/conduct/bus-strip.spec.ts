import { loudest, recording, testBehaviour, testConduct, tone, trigger, unlike } from '../testing/conduct';
import { amplitudeAt } from '../testing/signals';
import type { Behaviour, GameBus, GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import { ConductMixer } from './mixer';
import { perform } from './perform';

const second = 48_000;
const thud = testBehaviour('step');

describe('buses that do something', () => {
  const bus = (id: string, more: Partial<GameBus> = {}): GameBus => ({
    id,
    name: id,
    gain: 0,
    muted: false,
    lowCut: 20,
    highCut: 20_000,
    ...more,
  });
  const on = (
    buses: readonly GameBus[],
    moves: readonly (readonly [number, GameMove])[],
    seconds: number,
    behaviours: readonly Behaviour[],
  ) =>
    perform({ ...testConduct(behaviours), buses }, new Map([['thud/original', recording(tone(9_600, 1_000))]]), {
      moves: moves.map(([at, move]) => ({ at, move })),
      seconds,
    }).audio.channels;
  const step = { ...thud, bus: 'ice' };
  const level = (samples: Float32Array): number => 20 * Math.log10(amplitudeAt(samples, 1_000, second, 4_800, 9_600) / 0.5);

  it('cut lows and highs by 12 dB an octave', () => {
    // Two poles with a Q of 1/√2: |H|² = 1 / (1 + (f / f0)⁴) of a high cut, its mirror of a low cut; by the bilinear transform.
    const bent = (hertz: number): number => Math.tan((Math.PI * hertz) / second);
    const cut = (ratio: number): number => -10 * Math.log10(1 + ratio ** 4);
    const [low] = on([bus('ice', { lowCut: 2_000 })], [[0, trigger('step')]], 0.3, [step]);
    const [high] = on([bus('ice', { highCut: 500 })], [[0, trigger('step')]], 0.3, [step]);
    expect(level(low!)).toBeCloseTo(cut(bent(2_000) / bent(1_000)), 2);
    expect(level(high!)).toBeCloseTo(cut(bent(1_000) / bent(500)), 2);
  });

  it('go into each other, with levels, mutes and cuts of all', () => {
    const into = { into: 'all', gain: -3 };
    const heard = (all: Partial<GameBus>) => on([bus('ice', into), bus('all', all)], [[0, trigger('step')]], 0.3, [step])[0]!;
    expect(level(heard({ gain: -6 }))).toBeCloseTo(-9, 3);
    expect(loudest(heard({ muted: true }))).toBe(0);
    expect(level(heard({ highCut: 1_000 }))).toBeCloseTo(-3 - 10 * Math.log10(2), 1);
  });

  it('never go round in circles', () => {
    expect(() => on([bus('ice', { into: 'all' }), bus('all', { into: 'ice' })], [], 0.1, [])).toThrow('The bus “ice” goes into itself.');
  });

  it('send into the nearest room, as much as it says or as distance does, of equal power', () => {
    const room = { decay: 0.4, high: 1, size: 0.5, share: 1 };
    const buses = [bus('ice', { into: 'all' }), bus('all', { room })];
    const wet = on(buses, [[0, trigger('step')]], 1, [step]);
    // Its walls are at least 0.5 · 29.7 ms away; nothing is heard directly.
    expect(loudest(wet[0]!.subarray(0, 700))).toBe(0);
    expect(loudest(wet[0]!.subarray(10_000, 20_000))).toBeGreaterThan(0.01);
    const half = on([bus('ice', { room: { ...room, share: 0.5 } })], [[0, trigger('step')]], 1, [step]);
    expect(Math.abs(half[0]![500]! / (0.5 * Math.sin((2 * Math.PI * 500_000) / second)))).toBeCloseTo(Math.SQRT1_2, 4);
    const placed = {
      ...step,
      distance: { inner: 2, outer: 52, law: 'drawn', curve: [], highCut: 20_000, width: 0, doppler: 0, roomNear: 0, roomFar: 1 } as const,
    };
    const at = (y: number) =>
      on(
        buses,
        [
          [0, { do: 'emitter', emitter: 'step', x: 0, y }],
          [0, trigger('step')],
        ],
        1,
        [placed],
      )[0]!;
    expect(loudest(at(1).subarray(10_000))).toBe(0);
    expect(at(27)[500]! / at(1)[500]!).toBeCloseTo(Math.SQRT1_2, 4);
    expect(loudest(at(27).subarray(10_000))).toBeGreaterThan(0.005);
  });

  const distance = {
    inner: 2,
    outer: 52,
    law: 'drawn',
    curve: [],
    highCut: 20_000,
    width: 0,
    doppler: 0,
    roomNear: 0,
    roomFar: 1,
  } as const;

  it('lose what comes out of their room without a leap, and share what has no place alike', () => {
    const room = { decay: 0.1, high: 0.5, size: 0.3, share: 0.4 };
    const ramp = Float32Array.from({ length: 96_000 }, (_, i) => i / 96_000);
    const placed = { ...step, distance };
    const moves = [
      { at: 0, move: { do: 'emitter', emitter: 'step', x: 0, y: 27 } },
      { at: 0, move: trigger('step') },
      { at: 0.3, move: { do: 'emitter', emitter: 'step', x: 0, y: 1 } },
    ] as const;
    const conduct = { ...testConduct([placed]), buses: [bus('ice', { room })] };
    const takes = { ...conduct.takes, thud: { original: { asset: 'thud/original', frames: ramp.length }, family: [] } };
    const near = perform({ ...conduct, takes }, new Map([['thud/original', recording(ramp)]]), { moves, seconds: 1.5 }).audio.channels[0]!;
    // The room has long died away; what is heard is the recording, in its place.
    for (const frame of [40_000, 60_000, 71_000]) expect(near[frame]).toBeCloseTo(ramp[frame]!, 5);
    // Two that are shared alike are twice one.
    const both = [
      { ...step, id: 'step' },
      { ...step, id: 'other' },
    ];
    const one = on([bus('ice', { room })], [[0, trigger('step')]], 0.5, both)[0]!;
    const two = on(
      [bus('ice', { room })],
      [
        [0, trigger('step')],
        [0, trigger('other')],
      ],
      0.5,
      both,
    )[0]!;
    for (let i = 0; i < one.length; i += 97) expect(two[i]).toBeCloseTo(2 * one[i]!, 5);
  });

  it('turn down what passes the threshold of their compressor, both sides alike', () => {
    const compressor = { threshold: -20, ratio: 4, attack: 0.001, release: 1, gain: 3 };
    const steady = (change: Partial<typeof compressor>, value = 0.5): Float32Array => {
      const mixer = new ConductMixer(second);
      const data = { ...testConduct([step]), buses: [bus('ice', { compressor: { ...compressor, ...change } })] };
      mixer.setAsset('thud/original', [new Float32Array(9_600).fill(value)]);
      mixer.setBuses(data.buses);
      const engine = new ConductEngine(data);
      engine.move(trigger('step'));
      mixer.take(engine.advance(9_600));
      const [left, right] = [new Float32Array(9_600), new Float32Array(9_600)];
      mixer.render(left, right, 9_600);
      expect(right).toEqual(left);
      return left;
    };
    const decibels = (value: number): number => 20 * Math.log10(value);
    const over = decibels(0.5) + 20;
    // In the end: a quarter of what passes it is left. On its way: 1/e of the way is left after the attack.
    const at = (samples: Float32Array, frame: number): number => decibels(samples[frame]! / 0.5) - compressor.gain;
    expect(at(steady({}), 9_000)).toBeCloseTo(-0.75 * over, 3);
    expect(at(steady({ attack: 0.02 }), 959)).toBeCloseTo(-0.75 * over * (1 - Math.exp(-1)), 3);
    expect(at(steady({ ratio: 100, attack: 0.0001 }), 9_000)).toBeCloseTo(-0.99 * over, 3);
    expect(at(steady({ ratio: 1 }), 9_000)).toBeCloseTo(0, 6);
    // Below it nothing happens but the gain.
    expect(decibels(steady({}, 0.09)[9_000]! / 0.09)).toBeCloseTo(3, 3);
  });

  it('come back from their compressor within its release', () => {
    const mixer = new ConductMixer(second);
    const recording = new Float32Array(48_000).fill(0.05);
    recording.fill(1, 0, 4_800);
    mixer.setAsset('thud/original', [recording]);
    const compressor = { threshold: -20, ratio: 100, attack: 0.0001, release: 0.1, gain: 0 };
    const data = { ...testConduct([step]), buses: [bus('ice', { compressor })] };
    mixer.setBuses(data.buses);
    const engine = new ConductEngine(data);
    engine.move(trigger('step'));
    mixer.take(engine.advance(48_000));
    const [left, right] = [new Float32Array(48_000), new Float32Array(48_000)];
    mixer.render(left, right, 48_000);
    const down = (frame: number): number => 20 * Math.log10(left[frame]! / 0.05);
    expect(down(4_800 + 4_799)).toBeCloseTo(-19.8 * Math.exp(-1), 2);
    expect(down(47_000)).toBeCloseTo(0, 1);
    expect(left.every((frame) => Number.isFinite(frame))).toBe(true);
  });

  it('give the same samples in blocks of any size', () => {
    const compressor = { threshold: -30, ratio: 8, attack: 0.003, release: 0.1, gain: 6 };
    const data = {
      ...testConduct([step, { ...step, id: 'other' }, { ...step, id: 'far', distance }]),
      buses: [bus('ice', { into: 'all', lowCut: 90, compressor }), bus('all', { room: { decay: 1, high: 0.5, size: 1, share: 0.4 } })],
    };
    const render = (block: number): Float32Array => {
      const [engine, mixer] = [new ConductEngine(data), new ConductMixer(second)];
      mixer.setBuses(data.buses);
      mixer.setAsset('thud/original', [unlike]);
      engine.move({ do: 'emitter', emitter: 'far', x: 0, y: 30 });
      for (const [n, id] of ['step', 'far', 'other'].entries()) engine.move(trigger(id), 1_234 + 777 * n);
      // Out of the room, step by step.
      for (let n = 0; n < 30; n++) engine.move({ do: 'emitter', emitter: 'far', x: 0, y: 30 - n }, 3_000 + 131 * n);
      const [left, right] = [new Float32Array(24_000), new Float32Array(24_000)];
      for (let from = 0; from < 24_000; from += block) {
        const frames = Math.min(block, 24_000 - from);
        mixer.take(engine.advance(from + frames));
        mixer.render(left.subarray(from), right.subarray(from), frames);
      }
      return left;
    };
    const whole = render(24_000);
    expect(loudest(whole)).toBeGreaterThan(0.1);
    expect(render(128)).toEqual(whole);
    expect(render(977)).toEqual(whole);
  });

  it('go on as they are set anew while they sound, and a mixer afresh has them, too', () => {
    const mixer = new ConductMixer(second);
    mixer.setAsset('thud/original', [new Float32Array(9_600).fill(0.5)]);
    mixer.setBuses([bus('ice', { lowCut: 500 })]);
    const engine = new ConductEngine({ ...testConduct([step]), buses: [bus('ice')] });
    engine.move(trigger('step'));
    mixer.take(engine.advance(9_600));
    const [left, right] = [new Float32Array(4_800), new Float32Array(4_800)];
    mixer.render(left, right, 4_800);
    expect(Math.abs(left[4_700]!)).toBeLessThan(1e-4);
    mixer.setBuses([bus('ice')]);
    mixer.render(left, right, 4_800);
    expect(left[4_700]).toBe(0.5);
  });
});
