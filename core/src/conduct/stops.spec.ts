import { testBehaviour, testConduct, trigger } from '../testing/conduct';
import type { Behaviour, ConductData, ConductEvent, Stage } from './conduct-data';
import { ConductEngine } from './engine';

const second = 48_000;
const plays = (events: readonly ConductEvent[]): number => events.filter((event) => event.do === 'play').length;

describe('what is stopped', () => {
  const looped: Behaviour['play'] = { kind: 'one', sound: 'hum', from: 'original', avoid: 0, loops: true };
  const within = (stage: Stage, play: Behaviour['play'], stopInStart: 'finish' | 'cut' = 'cut') => {
    const child = testBehaviour('child', play, { parent: 'drill' });
    return testConduct([
      testBehaviour('drill', { kind: 'hold', stopInStart, leave: 'at once', release: 0.05 }),
      { ...child, slot: { ...child.slot, stage } },
      testBehaviour('shot', { kind: 'one', sound: 'thud', from: 'original', avoid: 0, loops: false }, { parent: 'child' }),
    ]);
  };
  /** How often something begins before the stop and after it, and what is left of it a minute later. */
  const stopped = (data: ConductData) => {
    const engine = new ConductEngine(data);
    engine.move(trigger('drill'));
    const before = plays(engine.advance(second));
    engine.move({ do: 'stop', behaviour: 'drill' });
    const after = plays(engine.advance(60 * second));
    return { before, after, left: engine.state.runs.size };
  };

  it.each<[string, Behaviour['play'], number]>([
    ['a loop is played once', looped, 1],
    ['a Burst without end has one shot', { kind: 'burst', rate: 4, uneven: 0, shots: 0 }, 1],
    ['a Sprinkle has none', { kind: 'sprinkle', shortest: 0.1, longest: 0.2 }, 0],
    ['a Line goes through once', { kind: 'line', step: 'through', gap: 0, again: true }, 1],
    ['a Start–Hold–End does not hold', { kind: 'hold', stopInStart: 'cut', leave: 'at once', release: 0 }, 0],
  ])('comes to an end, even where its end would go on and on: %s', (_name, play, played) => {
    expect(stopped(within('end', play))).toEqual({ before: played, after: 0, left: 0 });
  });

  it('lets a start finish that is done at some time, such as a Line of which each call plays one', () => {
    const start = testBehaviour('child', { kind: 'line', step: 'call', gap: 0, again: true }, { parent: 'drill' });
    const engine = new ConductEngine(
      testConduct([
        testBehaviour('drill', { kind: 'hold', stopInStart: 'finish', leave: 'at once', release: 0.05 }),
        { ...start, slot: { ...start.slot, stage: 'start' } },
        testBehaviour('shot', { kind: 'one', sound: 'thud', from: 'original', avoid: 0, loops: false }, { parent: 'child' }),
      ]),
    );
    engine.move(trigger('drill'));
    engine.advance(second / 10);
    engine.move({ do: 'stop', behaviour: 'drill' });
    // The thud lasts for a fifth of a second, and nothing tells it to stop.
    expect(engine.advance(second).map((event) => event.do)).toEqual(['end']);
    expect(engine.state.runs.size).toBe(0);
  });

  it.each<[string, Behaviour['play'], number]>([
    ['a loop', looped, 1],
    ['a Burst', { kind: 'burst', rate: 0.5, uneven: 0, shots: 0 }, 1],
    ['a Sprinkle', { kind: 'sprinkle', shortest: 5, longest: 5 }, 0],
    ['a Line', { kind: 'line', step: 'through', gap: 2, again: true }, 1],
  ])('does not wait for a start that would never finish: %s', (_name, play, before) => {
    expect(stopped(within('start', play, 'finish'))).toEqual({ before, after: 0, left: 0 });
  });
});
