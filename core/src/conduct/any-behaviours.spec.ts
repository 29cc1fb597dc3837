import type { Audio } from '../audio/audio';
import { createRandom } from '../dsp/random';
import { AnyBehaviours } from '../testing/any-behaviours';
import { recording, testConduct, tone } from '../testing/conduct';
import { ConductEngine } from './engine';
import { perform } from './perform';

const second = 48_000;

const assets = new Map<string, Audio>();
for (const { original, family } of Object.values(testConduct([]).takes))
  for (const { asset, frames } of [...(original ? [original] : []), ...family])
    assets.set(asset, asset.startsWith('steps') ? recording(tone(frames, 300), tone(frames, 200)) : recording(tone(frames, 440)));

describe('any behaviours, at the ends of their dials', () => {
  const seeds = Array.from({ length: 60 }, (_, seed) => seed);

  it.each(seeds)('sound as numbers, and end when they are stopped (%i)', (seed) => {
    const drawn = new AnyBehaviours(createRandom(seed));
    const data = drawn.data();
    const moves = drawn.moves(14, 3);
    const { audio, log } = perform(data, assets, { moves, seconds: 4 });
    expect(audio.channels.every((samples) => samples.every(Number.isFinite))).toBe(true);
    for (const event of log)
      if (event.do === 'play' || event.do === 'turn') {
        const { gain, ratio, highCut, pan, room } = event;
        expect([gain, ratio, highCut, pan, room].every(Number.isFinite)).toBe(true);
      }

    const engine = new ConductEngine(data);
    for (const { at, move } of moves) engine.move(move, Math.round(at * second));
    engine.advance(4 * second);
    for (const behaviour of drawn.roots) for (const emitter of [undefined, 'e1', 'e2']) engine.move({ do: 'stop', behaviour, emitter });
    // Delays, pauses and fades are tens of seconds, and what pulls at a rate makes it slower yet.
    const left = (): number => engine.state.runs.size + engine.state.voices.size + engine.state.due.length;
    for (let minutes = 0; minutes < 300 && left() > 0; minutes += 5) engine.advance(engine.frame + 300 * second);
    expect(left()).toBe(0);
  });
});
