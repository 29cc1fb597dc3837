import fc from 'fast-check';
import { betweenDensity, betweenTaps } from '../dsp/fractional-read';
import { noise } from '../testing/signals';
import { compileVoices } from './compiled-voices';
import type { ConductEvent } from './conduct-data';
import { plainBench } from './plain-voices';
import { VoicePlayer } from './voice-player';
import type { VoiceBench } from './voice-bench';

const rate = 48_000;
const recordings = [[noise(3_000, 1)], [noise(3_000, 2), noise(3_000, 3)], [noise(40, 4)]] as const;

type Play = Extract<ConductEvent, { readonly do: 'play' }>;

const heard = fc.record({
  ratio: fc.constantFrom(1, 0.01, 0.5, 1.37, 2, 3.99, 40),
  highCut: fc.constantFrom(20_000, 20, 900, 15_000),
  gain: fc.constantFrom(0, 0.3, 4),
  room: fc.constant(0),
  pan: fc.constantFrom(-1, 0, 0.4, 1),
});

/** What one voice sounds like that is turned in its second block and stopped in its fourth; both sides block by block. */
function playOn(bench: VoiceBench, channels: readonly Float32Array[], event: Play, turned: boolean): number[] {
  const player = new VoicePlayer(channels, rate, event);
  const output: number[] = [];
  for (const [block, frames] of [64, 1_024, 7, 500].entries()) {
    bench.left.fill(0);
    bench.right.fill(0);
    if (block === 1 && turned) player.turn({ ratio: event.ratio * 1.1, highCut: 400, pan: -event.pan, gain: event.gain, room: 0 });
    if (block === 3) player.stop(200);
    player.addTo(bench, 0, frames);
    output.push(...bench.left.subarray(0, frames), ...bench.right.subarray(0, frames));
  }
  return output;
}

describe('voices in WebAssembly', () => {
  it('sound as without it: at any speed, turned, filtered, faded, through loops of any length', () => {
    const compiled = compileVoices(betweenTaps(), betweenDensity)!;
    const plain = plainBench();
    fc.assert(
      fc.property(
        heard,
        fc.constantFrom(...recordings),
        fc.constantFrom(0, 1, 700),
        fc.boolean(),
        fc.boolean(),
        (how, channels, fadeIn, loops, turned) => {
          const loop = loops ? { from: 9, to: channels[0].length - 3 } : undefined;
          const event: Play = { do: 'play', frame: 0, voice: 1, behaviour: 'b', asset: 'a', fadeIn, loop, ...how };
          const [wanted, made] = [playOn(plain, channels, event, turned), playOn(compiled, channels, event, turned)];
          const worst = wanted.reduce((most, sample, i) => Math.max(most, Math.abs(sample - made[i]!)), 0);
          expect(worst).toBeLessThan(5e-6);
        },
      ),
      { numRuns: 200 },
    );
  });

  it('are left to plain TypeScript where a page may not compile', () => {
    class Refused {
      constructor() {
        throw new Error('Refused by the policy of the page.');
      }
    }
    const platform = globalThis as { WebAssembly?: object };
    const replaced = jest.replaceProperty(platform, 'WebAssembly', { validate: () => true, Memory: Object, Module: Refused });
    expect(compileVoices(betweenTaps(), betweenDensity)).toBeUndefined();
    replaced.restore();
    expect(compileVoices(betweenTaps(), betweenDensity)).toBeDefined();
  });
});
