import { testBehaviour, testConduct } from '../testing/conduct';
import type { ConductEvent, GameMove } from './conduct-data';
import { ConductEngine } from './engine';
import type { VoiceSpan } from './foresee';
import { followVoices, foresee } from './foresee';

const second = 48_000;
const trigger = (behaviour: string): GameMove => ({ do: 'trigger', behaviour });
const framesOf = (events: readonly ConductEvent[], behaviour: string): number[] =>
  events.flatMap((event) => (event.do === 'play' && event.behaviour === behaviour ? [event.frame / second] : []));

describe('foresight', () => {
  const data = testConduct([
    testBehaviour('step'),
    testBehaviour('ice', { kind: 'burst', rate: 2, uneven: 0.5, shots: 0 }),
    testBehaviour('ping', {}, { parent: 'ice' }),
  ]);

  it('shows what plays as it will come, and calls the rest at the pace of its last calls', () => {
    const engine = new ConductEngine(data);
    engine.move(trigger('ice'));
    for (let call = 0; call < 5; call++) engine.move(trigger('step'), (1 + call * 0.4) * second);
    const past = engine.advance(2.8 * second);
    const { coming, called, assumed } = foresee(engine, past, 3 * second, second);
    expect([...assumed]).toEqual(['step']);
    expect(framesOf(coming, 'step')).toEqual([]);
    const steps = framesOf(called, 'step');
    expect(steps[0]).toBeCloseTo(3, 3);
    expect(steps[1]! - steps[0]!).toBeCloseTo(0.4, 3);
    expect(steps).toHaveLength(7);
    // The burst comes as it was foreseen, whatever else is called.
    expect(framesOf(engine.advance(5.8 * second), 'ping')).toEqual(framesOf(coming, 'ping'));
  });

  it('calls what was never called, or not for long, once', () => {
    const engine = new ConductEngine(data);
    expect(framesOf(foresee(engine, [], 3 * second, second / 2).called, 'step')).toEqual([0.5]);
    engine.move(trigger('step'), 0);
    engine.move(trigger('step'), second / 10);
    const past = engine.advance(5 * second);
    expect(framesOf(foresee(engine, past, 1, 0).called, 'step')).toEqual([5]);
  });
});

describe('the spans of voices', () => {
  it('go from their start to their end, or to the end of their fade', () => {
    const loop = testBehaviour('hum', { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true }, { fadeOut: 1 });
    const engine = new ConductEngine(testConduct([testBehaviour('step'), loop]));
    engine.move(trigger('step'));
    engine.move(trigger('hum'));
    engine.move({ do: 'stop', behaviour: 'hum' }, 2 * second);
    const spans = new Map<number, VoiceSpan>();
    followVoices(spans, engine.advance(second));
    expect([...spans.values()].map(({ to }) => to)).toEqual([9_600, undefined]);
    followVoices(spans, engine.advance(5 * second));
    expect([...spans.values()].map(({ behaviour, from, to, loops }) => [behaviour, from, to, loops])).toEqual([
      ['step', 0, 9_600, false],
      ['hum', 0, 3 * second, true],
    ]);
  });
});
