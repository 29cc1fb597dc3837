import { testBehaviour, testConduct } from '../testing/conduct';
import type { Behaviour, ConductData, ConductEvent, GameMove } from './conduct-data';
import { ConductEngine } from './engine';

const second = 48_000;
const plays = (events: readonly ConductEvent[]) => events.flatMap((event) => (event.do === 'play' ? [event] : []));
const trigger = (behaviour: string): GameMove => ({ do: 'trigger', behaviour });
const one = (id: string, more: Partial<Behaviour> = {}): Behaviour => testBehaviour(id, {}, more);

function run(data: ConductData, moves: readonly (readonly [number, GameMove])[], seconds: number): ConductEvent[] {
  const engine = new ConductEngine(data);
  for (const [at, move] of moves) engine.move(move, Math.round(at * second));
  return engine.advance(seconds * second);
}

describe('what sounds at once', () => {
  const calls = Array.from({ length: 6 }, (_, call) => [call * 0.01, trigger('step')] as const);
  const sounding = (more: Partial<Behaviour>) => {
    const engine = new ConductEngine(testConduct([one('step', { voices: 3, ...more })]));
    for (const [at, move] of calls) engine.move(move, Math.round(at * second));
    const events = engine.advance(0.06 * second);
    return { events, left: [...engine.state.voices.values()].filter(({ stopping }) => !stopping).map(({ started }) => started) };
  };

  it('is limited: the oldest gives way, or the new one is not played', () => {
    expect(sounding({ givesWay: 'oldest' }).left).toEqual([1_440, 1_920, 2_400]);
    const { left, events } = sounding({ givesWay: 'newest' });
    expect(left).toEqual([0, 480, 960]);
    expect(events.filter((event) => event.do === 'skip' && event.why === 'no voice free')).toHaveLength(3);
  });

  it('says of a recording that is not there yet that there is nothing to play', () => {
    const data = testConduct([one('step', {})]);
    const takes = Object.fromEntries(
      Object.entries(data.takes).map(([sound, { original, family }]) => {
        const empty = <T extends object>(take: T) => ({ ...take, frames: 0 });
        return [sound, { ...(original && { original: empty(original) }), family: family.map(empty) }];
      }),
    );
    const engine = new ConductEngine({ ...data, takes });
    engine.move(trigger('step'), 0);
    const skips = engine.advance(480).filter((event) => event.do === 'skip');
    expect(skips.map(({ why }) => why)).toEqual(['nothing to play']);
  });

  it('gives way to what matters more where all voices are taken', () => {
    const data = { ...testConduct([one('low', { priority: 10 }), one('high', { priority: 90 })]), voices: 1 };
    const lowFirst = run(
      data,
      [
        [0, trigger('low')],
        [0.05, trigger('high')],
      ],
      0.06,
    );
    expect(plays(lowFirst).map(({ behaviour }) => behaviour)).toEqual(['low', 'high']);
    const highFirst = run(
      data,
      [
        [0, trigger('high')],
        [0.05, trigger('low')],
      ],
      0.06,
    );
    expect(plays(highFirst).map(({ behaviour }) => behaviour)).toEqual(['high']);
  });
});

describe('bursts of bursts', () => {
  it('come to an end of their number, and go when they are stopped', () => {
    const endless = { kind: 'burst', rate: 60, uneven: 0, shots: 0 } as const;
    const engine = new ConductEngine(
      testConduct([
        testBehaviour('outer', endless),
        testBehaviour('inner', { ...endless, rate: 1 }, { parent: 'outer' }),
        one('shot', { parent: 'inner' }),
      ]),
    );
    engine.move(trigger('outer'));
    engine.advance(20 * second);
    // The outer one, so many inner ones, and for a moment what they play.
    expect(engine.state.runs.size).toBeLessThanOrEqual(1_000);
    expect(engine.state.runs.size).toBeGreaterThan(900);
    expect(engine.state.voices.size).toBeLessThan(200);
    engine.move({ do: 'stop', behaviour: 'outer' });
    engine.advance(22 * second);
    expect([engine.state.runs.size, engine.state.voices.size, engine.state.due.length]).toEqual([0, 0, 0]);
  });
});

describe('buses and moods', () => {
  const levels = (events: readonly ConductEvent[]) =>
    events.flatMap((event) =>
      event.do === 'turn' || event.do === 'play' ? [[event.frame / second, 20 * Math.log10(event.gain)] as const] : [],
    );
  const looped = testBehaviour('wind', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { bus: 'outside' });

  it('fades to what a mood says, and adds what the bus has of its own', () => {
    const data: ConductData = {
      ...testConduct([looped]),
      buses: [{ id: 'outside', name: 'Outside', gain: -3, muted: false, lowCut: 20, highCut: 20_000 }],
      moods: [{ id: 'inside', name: 'Inside', fade: 2, levels: { outside: -12 } }],
    };
    const heard = levels(
      run(
        data,
        [
          [0, trigger('wind')],
          [1, { do: 'mood', mood: 'inside' }],
        ],
        5,
      ),
    );
    expect(heard[0]![1]).toBeCloseTo(-3, 6);
    expect(heard.at(-1)![0]).toBeCloseTo(3, 1);
    expect(heard.at(-1)![1]).toBeCloseTo(-15, 6);
    const halfway = heard.find(([time]) => time >= 2)!;
    expect(halfway[1]).toBeCloseTo(-9, 0);
  });

  it('ducks a bus while something sounds on another', () => {
    const data: ConductData = {
      ...testConduct([looped, one('call', { bus: 'radio' })]),
      buses: [
        {
          id: 'outside',
          name: 'Outside',
          gain: 0,
          muted: false,
          lowCut: 20,
          highCut: 20_000,
          duck: { under: 'radio', depth: -9, attack: 0.05, release: 0.3 },
        },
        { id: 'radio', name: 'Radio', gain: 0, muted: false, lowCut: 20, highCut: 20_000 },
      ],
    };
    const events = run(
      data,
      [
        [0, trigger('wind')],
        [1, trigger('call')],
      ],
      3,
    );
    const wind = plays(events)[0]!.voice;
    const turned = levels(events.filter((event) => event.do === 'turn' && event.voice === wind));
    expect(Math.min(...turned.map(([, level]) => level))).toBeCloseTo(-9, 6);
    expect(turned.find(([, level]) => level < -8.99)![0]).toBeLessThan(1.07);
    expect(turned.at(-1)![1]).toBeCloseTo(0, 6);
    expect(turned.at(-1)![0]).toBeCloseTo(1.5, 1);
  });
});
