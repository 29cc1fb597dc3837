import fc from 'fast-check';
import { testBehaviour, testConduct } from '../testing/conduct';
import type { Behaviour, ConductData, ConductEvent, GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import { lookAhead } from './foresee';

const second = 48_000;
const plays = (events: readonly ConductEvent[]) => events.flatMap((event) => (event.do === 'play' ? [event] : []));
const trigger = (behaviour: string): GameMove => ({ do: 'trigger', behaviour });

function run(data: ConductData, moves: readonly (readonly [number, GameMove])[], seconds: number): ConductEvent[] {
  const engine = new ConductEngine(data);
  for (const [at, move] of moves) engine.move(move, Math.round(at * second));
  return engine.advance(seconds * second);
}

const one = (id: string, more: Partial<Behaviour> = {}): Behaviour => testBehaviour(id, {}, more);

describe('One', () => {
  it('plays its sound at the frame of the call, and ends when it is over', () => {
    const events = run(testConduct([one('step')]), [[0.25, trigger('step')]], 2);
    expect(events.map((event) => [event.do, event.frame])).toEqual([
      ['call', 12_000],
      ['play', 12_000],
      ['end', 12_000 + 9_600],
    ]);
    expect(plays(events)[0]).toMatchObject({ asset: 'thud/original', gain: 1, ratio: 1, pan: 0, highCut: 20_000 });
  });

  it('plays each sibling once before any comes again, and none of the last two', () => {
    const data = testConduct([testBehaviour('step', { kind: 'one', sound: 'steps', from: 'family', avoid: 2, loops: false })]);
    const moves = Array.from({ length: 60 }, (_, call) => [call * 0.3, trigger('step')] as const);
    const assets = plays(run(data, moves, 20)).map(({ asset }) => asset);
    expect(assets).toHaveLength(60);
    for (let round = 0; round < 60; round += 5) expect(new Set(assets.slice(round, round + 5)).size).toBe(5);
    const tooSoon = assets.filter((asset, i) => assets.slice(Math.max(0, i - 2), i).includes(asset));
    expect(tooSoon).toEqual([]);
  });

  it('stays within what it may draw, and uses all of it', () => {
    const data = testConduct([one('step', { gain: -6, gainSpread: 3, pitch: 2, pitchSpread: 1, delay: 0.1, delaySpread: 0.2 })]);
    const moves = Array.from({ length: 400 }, (_, call) => [call, trigger('step')] as const);
    const heard = plays(run(data, moves, 401));
    const levels = heard.map(({ gain }) => 20 * Math.log10(gain));
    const pitches = heard.map(({ ratio }) => 12 * Math.log2(ratio));
    const delays = heard.map(({ frame }, call) => frame / second - call);
    for (const [drawn, low, high] of [
      [levels, -9, -3],
      [pitches, 1, 3],
      [delays, 0.1, 0.3],
    ] as const) {
      const [least, most] = [Math.min(...drawn), Math.max(...drawn)];
      expect(least).toBeGreaterThanOrEqual(low - 1e-4);
      expect(most).toBeLessThanOrEqual(high + 1e-4);
      expect(most - least).toBeGreaterThan(0.97 * (high - low));
    }
  });

  it('is as likely as its chance, and cools down', () => {
    const often = Array.from({ length: 1_000 }, (_, call) => [call * 0.3, trigger('step')] as const);
    const heard = plays(run(testConduct([one('step', { chance: 0.3 })]), often, 301)).length;
    // Four standard deviations of a binomial distribution.
    expect(Math.abs(heard - 300)).toBeLessThan(4 * Math.sqrt(1_000 * 0.3 * 0.7));
    const cooled = run(testConduct([one('step', { coolDown: 1 })]), often, 30);
    expect(plays(cooled).map(({ frame }) => frame)).toEqual(Array.from({ length: 25 }, (_, i) => Math.round(i * 1.2 * second)));
    expect(cooled.some((event) => event.do === 'skip' && event.why === 'cooling down')).toBe(true);
  });

  it('loops until it is stopped, and then fades', () => {
    const data = testConduct([
      testBehaviour('wind', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { fadeOut: 0.5 }),
    ]);
    const events = run(
      data,
      [
        [0, trigger('wind')],
        [3, { do: 'stop', behaviour: 'wind' }],
      ],
      10,
    );
    expect(events.map((event) => [event.do, event.frame / second])).toEqual([
      ['call', 0],
      ['play', 0],
      ['stop', 3],
      ['end', 3.5],
    ]);
    expect(plays(events)[0]!.loop).toEqual({ from: 4_800, to: 52_800 });
  });
});

describe('Pick', () => {
  const children = ['a', 'b', 'c'].map((id) => one(id, { parent: 'pick' }));
  const heard = (
    play: Behaviour['play'],
    list: readonly Behaviour[],
    calls: number,
    moves: readonly (readonly [number, GameMove])[] = [],
  ) =>
    plays(
      run(
        testConduct([testBehaviour('pick', play), ...list]),
        [...moves, ...Array.from({ length: calls }, (_, call) => [call + 0.5, trigger('pick')] as const)],
        calls + 1,
      ),
    ).map(({ behaviour }) => behaviour);

  it('by chance follows the weights, and never repeats the last', () => {
    const weighted = children.map((child, i) => ({ ...child, slot: { ...child.slot, weight: [1, 2, 0][i]! } }));
    const free = heard({ kind: 'pick', by: 'chance', avoid: 0, parameter: '' }, weighted, 900);
    expect(new Set(free)).toEqual(new Set(['a', 'b']));
    expect(Math.abs(free.filter((id) => id === 'b').length - 600)).toBeLessThan(4 * Math.sqrt((900 * 2) / 9));
    const strict = heard({ kind: 'pick', by: 'chance', avoid: 1, parameter: '' }, children, 200);
    expect(strict.some((id, i) => id === strict[i - 1])).toBe(false);
  });

  it('by a parameter gives each child its part of the range', () => {
    const weighted = children.map((child, i) => ({ ...child, slot: { ...child.slot, weight: [1, 1, 2][i]! } }));
    const at = (value: number) =>
      heard({ kind: 'pick', by: 'parameter', avoid: 0, parameter: 'wind' }, weighted, 1, [[0, { do: 'set', parameter: 'wind', value }]])[0];
    // From 0 to 40: a quarter, a quarter, a half.
    expect([0, 9.9, 10.1, 19.9, 20.1, 40].map(at)).toEqual(['a', 'a', 'b', 'b', 'c', 'c']);
  });
});

describe('Line', () => {
  it('goes one step with each call, and stays at the last where it does not begin again', () => {
    const list = ['a', 'b'].map((id) => one(id, { parent: 'line' }));
    const calls = Array.from({ length: 5 }, (_, call) => [call, trigger('line')] as const);
    const heard = (again: boolean) =>
      plays(run(testConduct([testBehaviour('line', { kind: 'line', step: 'call', gap: 0, again }), ...list]), calls, 6)).map(
        ({ behaviour }) => behaviour,
      );
    expect(heard(true)).toEqual(['a', 'b', 'a', 'b', 'a']);
    expect(heard(false)).toEqual(['a', 'b', 'b', 'b', 'b']);
  });

  it('goes through with joins at the very frame, at any pitch', () => {
    const list = ['a', 'b', 'c'].map((id, i) => one(id, { parent: 'line', pitch: [0, 5, 0][i]! }));
    const events = run(
      testConduct([testBehaviour('line', { kind: 'line', step: 'through', gap: 0, again: false }), ...list]),
      [[0, trigger('line')]],
      3,
    );
    const starts = plays(events).map(({ frame }) => frame);
    const length = Math.ceil(9_600 / 2 ** (5 / 12));
    expect(starts).toEqual([0, 9_600, 9_600 + length]);
    expect(events.at(-1)).toMatchObject({ do: 'end', frame: 2 * 9_600 + length });
  });

  it('ends where a whole round plays nothing', () => {
    const list = ['a', 'b'].map((id) => one(id, { parent: 'line', chance: 0 }));
    const events = run(
      testConduct([testBehaviour('line', { kind: 'line', step: 'through', gap: 0, again: true }), ...list]),
      [[0, trigger('line')]],
      1,
    );
    expect(plays(events)).toEqual([]);
    expect(events.length).toBeLessThan(10);
  });
});

describe('Burst and Sprinkle', () => {
  it('fires at its rate, with a first and a last shot of their own', () => {
    const stages = (['start', 'hold', 'end'] as const).map((stage) => {
      const child = one(stage, { parent: 'burst' });
      return { ...child, slot: { ...child.slot, stage } };
    });
    const heard = plays(
      run(testConduct([testBehaviour('burst', { kind: 'burst', rate: 8, uneven: 0, shots: 5 }), ...stages]), [[1, trigger('burst')]], 5),
    );
    expect(heard.map(({ behaviour, frame }) => [behaviour, frame])).toEqual(
      ['start', 'hold', 'hold', 'hold', 'end'].map((stage, shot) => [stage, second + shot * 6_000]),
    );
  });

  it('sprinkles between its limits until it is stopped', () => {
    const data = testConduct([testBehaviour('ice', { kind: 'sprinkle', shortest: 0.5, longest: 2 }), one('ping', { parent: 'ice' })]);
    const heard = plays(
      run(
        data,
        [
          [0, trigger('ice')],
          [300, { do: 'stop', behaviour: 'ice' }],
        ],
        400,
      ),
    ).map(({ frame }) => frame / second);
    const gaps = heard.map((time, i) => time - (heard[i - 1] ?? 0));
    expect(Math.min(...gaps)).toBeGreaterThanOrEqual(0.5 - 1e-4);
    expect(Math.max(...gaps)).toBeLessThanOrEqual(2 + 1e-4);
    expect(Math.abs(heard.length - 240)).toBeLessThan(25);
    expect(heard.at(-1)).toBeLessThan(300);
  });

  it('hastens at once when a parameter raises its rate', () => {
    const pulls = [
      {
        parameter: 'wind',
        property: 'rate' as const,
        points: [
          { at: 0, value: 0 },
          { at: 40, value: 3 },
        ],
      },
    ];
    const data = testConduct([
      testBehaviour('ice', { kind: 'burst', rate: 0.1, uneven: 0, shots: 0 }, { pulls }),
      one('ping', { parent: 'ice' }),
    ]);
    const heard = plays(
      run(
        data,
        [
          [0, trigger('ice')],
          [2, { do: 'set', parameter: 'wind', value: 40 }],
        ],
        6,
      ),
    ).map(({ frame }) => frame / second);
    // Of ten seconds, two are over; the other eight take one, and each shot after that 1.25 s.
    expect(heard.map((time) => Math.round(time * 100) / 100)).toEqual([0, 3, 4.25, 5.5]);
  });
});

describe('Stack and Blend', () => {
  it('plays all its children at their offsets', () => {
    const list = ['a', 'b'].map((id, i) => {
      const child = one(id, { parent: 'stack' });
      return { ...child, slot: { ...child.slot, offset: [0, 0.05][i]! } };
    });
    const heard = plays(run(testConduct([testBehaviour('stack', { kind: 'stack' }), ...list]), [[1, trigger('stack')]], 2));
    expect(heard.map(({ behaviour, frame }) => [behaviour, frame])).toEqual([
      ['a', second],
      ['b', second + 2_400],
    ]);
  });

  it('crossfades with even power along its parameter', () => {
    const loop = { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true } as const;
    const list = ['calm', 'wind', 'storm'].map((id) => testBehaviour(id, loop, { parent: 'blend' }));
    const engine = new ConductEngine(testConduct([testBehaviour('blend', { kind: 'blend', parameter: 'wind' }), ...list]));
    engine.move(trigger('blend'));
    const powers: number[] = [];
    const byWind = new Map<number, number[]>();
    for (let wind = 0; wind <= 40; wind += 5) {
      engine.move({ do: 'set', parameter: 'wind', value: wind });
      engine.advance(engine.frame + 960);
      const gains = [...engine.state.voices.values()].map(({ gain }) => gain);
      byWind.set(wind, gains);
      powers.push(gains.reduce((sum, gain) => sum + gain * gain, 0));
    }
    for (const power of powers) expect(power).toBeCloseTo(1, 6);
    expect(byWind.get(0)![0]).toBeCloseTo(1, 6);
    expect(byWind.get(20)![1]).toBeCloseTo(1, 6);
    expect(byWind.get(30)![2]).toBeCloseTo(Math.SQRT1_2, 6);
  });
});

describe('Start–Hold–End', () => {
  const stages = (more: Partial<Behaviour> = {}) =>
    (['start', 'hold', 'end'] as const).map((stage) => {
      const loops = stage === 'hold';
      const child = testBehaviour(
        stage,
        { kind: 'one', sound: loops ? 'hum' : 'thud', from: 'original', avoid: 0, loops },
        { parent: 'drill', ...more },
      );
      return { ...child, slot: { ...child.slot, stage } };
    });
  const drill = (settings: Partial<Extract<Behaviour['play'], { kind: 'hold' }>> = {}) =>
    testConduct([
      testBehaviour('drill', { kind: 'hold', stopInStart: 'finish', leave: 'at once', release: 0.05, ...settings }),
      ...stages(),
    ]);
  const stop: GameMove = { do: 'stop', behaviour: 'drill' };
  const told = (events: readonly ConductEvent[]) =>
    events.flatMap((event) =>
      event.do === 'play' ? [[event.behaviour, event.frame]] : event.do === 'stop' ? [['stop', event.frame]] : [],
    );

  it('joins the hold to the start at the very frame, and goes to its end when it is stopped', () => {
    const events = run(
      drill(),
      [
        [0, trigger('drill')],
        [5, stop],
      ],
      10,
    );
    expect(told(events)).toEqual([
      ['start', 0],
      ['hold', 9_600],
      ['stop', 5 * second],
      ['end', 5 * second],
    ]);
  });

  it('leaves at the end of a round where it is told to', () => {
    const events = run(
      drill({ leave: 'end of round' }),
      [
        [0, trigger('drill')],
        [5, stop],
      ],
      10,
    );
    // The loop runs from 4,800 to 52,800: after 9,600 + 52,800 it comes round every 48,000 frames.
    const end = 9_600 + 52_800 + 4 * 48_000;
    expect(told(events).slice(2)).toEqual([
      ['stop', end],
      ['end', end],
    ]);
    expect(events.find((event) => event.do === 'stop')).toMatchObject({ fade: 0 });
  });

  it('finishes or cuts its start when it is stopped in it', () => {
    expect(
      told(
        run(
          drill(),
          [
            [0, trigger('drill')],
            [0.1, stop],
          ],
          3,
        ),
      ),
    ).toEqual([
      ['start', 0],
      ['end', 9_600],
    ]);
    expect(
      told(
        run(
          drill({ stopInStart: 'cut' }),
          [
            [0, trigger('drill')],
            [0.1, stop],
          ],
          3,
        ),
      ),
    ).toEqual([
      ['start', 0],
      ['stop', 4_800],
      ['end', 4_800],
    ]);
  });
});

describe('the same seed and moves', () => {
  const behaviours: Behaviour[] = [
    testBehaviour('all', { kind: 'stack' }, { gainSpread: 2, pitchSpread: 1 }),
    testBehaviour('ice', { kind: 'sprinkle', shortest: 0.1, longest: 0.4 }, { parent: 'all' }),
    testBehaviour(
      'ping',
      { kind: 'one', sound: 'steps', from: 'family', avoid: 1, loops: false },
      { parent: 'ice', chance: 0.8, delaySpread: 0.05 },
    ),
    testBehaviour('blend', { kind: 'blend', parameter: 'wind' }, { parent: 'all' }),
    testBehaviour('low', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { parent: 'blend' }),
    testBehaviour('high', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { parent: 'blend', pitch: 5 }),
  ];
  const moves = fc.array(
    fc.record({
      frame: fc.integer({ min: 0, max: 4 * second }),
      move: fc.oneof(
        fc.constant(trigger('all')),
        fc.constant<GameMove>({ do: 'stop', behaviour: 'all' }),
        fc.integer({ min: -5, max: 50 }).map((value): GameMove => ({ do: 'set', parameter: 'wind', value })),
      ),
    }),
    { maxLength: 12 },
  );

  it('give the same events however it is advanced, and when moves come just in time', () => {
    fc.assert(
      fc.property(moves, fc.array(fc.integer({ min: 1, max: 20_000 }), { minLength: 1, maxLength: 20 }), (list, steps) => {
        const data = testConduct(behaviours);
        const sorted = list.toSorted((a, b) => a.frame - b.frame);
        const whole = new ConductEngine(data);
        for (const { frame, move } of sorted) whole.move(move, frame);
        const wanted = whole.advance(5 * second);
        const live = new ConductEngine(data);
        const heard: ConductEvent[] = [];
        let next = 0;
        for (let frame = 0, step = 0; frame < 5 * second; step++) {
          const reach = Math.min(5 * second, frame + steps[step % steps.length]!);
          for (; next < sorted.length && sorted[next]!.frame < reach; next++) {
            heard.push(...live.advance(sorted[next]!.frame));
            live.move(sorted[next]!.move);
          }
          heard.push(...live.advance((frame = reach)));
        }
        expect(heard).toEqual(wanted);
      }),
      { numRuns: 60 },
    );
  });

  it('are foreseen as they come, without touching what is', () => {
    const engine = new ConductEngine(testConduct(behaviours));
    engine.move(trigger('all'));
    engine.advance(second);
    const foreseen = lookAhead(engine, 4 * second);
    expect(foreseen).toEqual(lookAhead(engine, 4 * second));
    expect(engine.advance(4 * second)).toEqual(foreseen);
    expect(plays(foreseen).length).toBeGreaterThan(5);
  });

  it('leave nothing behind when everything is stopped', () => {
    fc.assert(
      fc.property(moves, (list) => {
        const engine = new ConductEngine(testConduct(behaviours));
        for (const { frame, move } of list) engine.move(move, frame);
        engine.advance(4 * second + 1);
        engine.move({ do: 'stop', behaviour: 'all' });
        engine.advance(8 * second);
        expect([engine.state.runs.size, engine.state.voices.size, engine.state.due.length]).toEqual([0, 0, 0]);
      }),
      { numRuns: 60 },
    );
  });
});

describe('while it runs', () => {
  it('goes on with other data, and ends what is gone', () => {
    const looped = (id: string) => testBehaviour(id, { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true });
    const engine = new ConductEngine(testConduct([looped('a'), looped('b')]));
    engine.move(trigger('a'));
    engine.move(trigger('b'));
    engine.advance(second);
    engine.replace(testConduct([{ ...looped('a'), gain: -6 }]));
    const events = engine.advance(2 * second);
    expect(events.map((event) => event.do)).toEqual(['stop', 'turn']);
    expect([...engine.state.voices.values()].map(({ behaviour }) => behaviour)).toEqual(['a']);
  });

  it('refuses behaviours in a circle', () => {
    expect(() => new ConductEngine(testConduct([one('a', { parent: 'b' }), one('b', { parent: 'a' })]))).toThrow('“a” lies within itself');
    expect(() => new ConductEngine(testConduct([one('a', { parent: 'gone' })]))).toThrow('not there');
  });
});
