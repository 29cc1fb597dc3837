import { testBehaviour, testConduct } from '../testing/conduct';
import type { ConductEvent } from './conduct-data';
import { ConductEngine } from './engine';
import { groupLoads, repeatsOf } from './statistics';

describe('what is counted', () => {
  it('a recording once in each load group that plays it', () => {
    const steps = { kind: 'one', sound: 'steps', from: 'family', avoid: 1, loops: false } as const;
    const data = {
      ...testConduct([
        testBehaviour('all', { kind: 'stack' }, { group: 'snow' }),
        testBehaviour('a', steps, { parent: 'all' }),
        testBehaviour('b', steps, { parent: 'all' }),
        testBehaviour('c', {}, { parent: 'all' }),
        testBehaviour('d', {}),
      ]),
      groups: [{ id: 'snow', name: 'Snow', budget: 1 }],
    };
    expect(groupLoads(data, (asset) => (asset.startsWith('steps') ? 10 : 1))).toEqual([
      { group: undefined, assets: ['thud/original'], bytes: 1 },
      { group: 'snow', assets: ['steps/1', 'steps/2', 'steps/3', 'steps/4', 'steps/5', 'thud/original'], bytes: 51 },
    ]);
  });

  it('how soon a recording comes again', () => {
    const play = (asset: string) => ({ do: 'play', behaviour: 'a', asset }) as ConductEvent;
    expect(repeatsOf(['x', 'y', 'x', 'x', 'z'].map(play), new Set(['a']))).toEqual({ plays: 5, different: 3, soonest: 1, average: 1.5 });
    expect(repeatsOf([play('x')], new Set(['a'])).soonest).toBeUndefined();
    // Shuffled among five, never one of the last two.
    const shuffled = testBehaviour('step', { kind: 'one', sound: 'steps', from: 'family', avoid: 2, loops: false });
    const engine = new ConductEngine(testConduct([shuffled]));
    for (let call = 0; call < 200; call++) engine.move({ do: 'trigger', behaviour: 'step' }, call * 100);
    const { soonest, average, different } = repeatsOf(engine.advance(48_000), new Set(['step']));
    expect([soonest! > 2, Math.round(average!), different]).toEqual([true, 5, 5]);
  });
});
