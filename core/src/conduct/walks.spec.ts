import { testBehaviour, testConduct } from '../testing/conduct';
import type { GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import { lookAhead } from './foresee';
import { alongWalk, layWalk } from './walks';

const second = 48_000;
const corner = [
  { x: 0, y: 0 },
  { x: 0, y: 3 },
  { x: 4, y: 3 },
];

describe('a way', () => {
  it('goes from place to place, and stays at its end', () => {
    const once = (metres: number) => alongWalk(layWalk({ points: corner, way: 'once' }), metres);
    expect(once(0)).toEqual({ x: 0, y: 0, heading: 0, over: false });
    expect(once(2)).toEqual({ x: 0, y: 2, heading: 0, over: false });
    expect(once(5)).toEqual({ x: 2, y: 3, heading: 90, over: false });
    expect(once(7)).toMatchObject({ x: 4, y: 3, over: true });
    expect(once(99)).toMatchObject({ x: 4, y: 3, over: true });
  });

  it('goes round by the straight line to its beginning', () => {
    const round = (metres: number) => alongWalk(layWalk({ points: corner, way: 'round' }), metres);
    expect(round(9.5).x).toBeCloseTo(2, 9);
    expect(round(9.5).y).toBeCloseTo(1.5, 9);
    expect(round(12 * 5 + 2)).toMatchObject({ x: 0, over: false });
    expect(round(12 * 5 + 2).y).toBeCloseTo(2, 9);
  });

  it('goes to and fro, and turns around', () => {
    const both = (metres: number) => alongWalk(layWalk({ points: corner, way: 'to and fro' }), metres);
    expect(both(9)).toEqual({ x: 2, y: 3, heading: -90, over: false });
    expect(both(13)).toEqual({ x: 0, y: 1, heading: 180, over: false });
    expect(both(14.5)).toMatchObject({ y: 0.5, heading: 0 });
  });

  it('stays where it is if it has no length', () => {
    for (const way of ['once', 'round', 'to and fro'] as const) {
      expect(alongWalk(layWalk({ points: [{ x: 1, y: 2 }], way }), 5)).toMatchObject({ x: 1, y: 2, over: true });
      expect(alongWalk(layWalk({ points: [corner[0]!, corner[0]!], way }), 5)).toMatchObject({ x: 0, y: 0, over: true });
    }
  });
});

describe('who walks', () => {
  const drill = testBehaviour(
    'drill',
    { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true },
    {
      distance: { inner: 1, outer: 100, law: 'inverse', curve: [], highCut: 20_000, width: 1, doppler: 1, roomNear: 0, roomFar: 0 },
    },
  );
  const walk = (more: object = {}): GameMove => ({ do: 'walk', points: corner, speed: 2, way: 'once', ...more });

  it('is where the way and the speed say, the listener looking ahead', () => {
    const engine = new ConductEngine(testConduct([drill]));
    engine.move(walk());
    engine.move(walk({ emitter: 'drill', way: 'round', speed: 24 }));
    engine.advance(second);
    const { listener, emitters } = engine.state;
    // A hundred times a second, the last time at 0.99 s.
    expect(listener.y).toBeCloseTo(1.98, 9);
    expect(listener.facing).toBe(0);
    expect(emitters.get('drill')!.y).toBeCloseTo(3 - (3 / 5) * (12 * 1.98 - 12 - 7), 6);
    engine.advance(2 * second);
    expect(engine.state.listener).toMatchObject({ y: 3, facing: 90 });
    engine.advance(9 * second);
    expect(engine.state.listener).toMatchObject({ x: 4, y: 3 });
    expect(engine.state.walks.size).toBe(1);
  });

  it('goes nowhere along a way without places', () => {
    const engine = new ConductEngine(testConduct([drill]));
    engine.move({ do: 'listener', x: 3, y: 4, facing: 5 });
    engine.move(walk({ points: [] }));
    engine.advance(second);
    expect(engine.state.listener).toEqual({ x: 3, y: 4, facing: 5 });
    expect(engine.state.walks.size).toBe(0);
  });

  it('stands as soon as it is put somewhere', () => {
    const engine = new ConductEngine(testConduct([drill]));
    engine.move(walk());
    engine.move({ do: 'listener', x: 7, y: 7, facing: 1 }, second);
    engine.advance(3 * second);
    expect(engine.state.listener).toEqual({ x: 7, y: 7, facing: 1 });
  });

  it('comes nearer at the speed that is heard, the same in every step of time, and looking ahead moves nobody', () => {
    const moves: readonly GameMove[] = [{ do: 'trigger', behaviour: 'drill' }, walk({ points: [...corner].reverse(), speed: 20 })];
    const events = (step: number) => {
      const engine = new ConductEngine(testConduct([drill]));
      for (const move of moves) engine.move(move);
      return Array.from({ length: second / step }, (_, i) => {
        lookAhead(engine, (i + 3) * step);
        return engine.advance((i + 1) * step);
      }).flat();
    };
    const whole = events(second);
    expect(events(1_000)).toEqual(whole);
    // 20 m/s along the line that leads to it, at 325 m/s of sound.
    const ratios = whole.flatMap((event) => (event.do === 'turn' ? [event.ratio] : []));
    expect(Math.max(...ratios)).toBeCloseTo(1 / (1 - 20 / 325), 3);
  });
});
