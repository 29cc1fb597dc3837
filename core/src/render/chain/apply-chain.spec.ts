import fc from 'fast-check';
import { mono, noise } from '../../testing/signals';
import { applyChain } from './apply-chain';
import { chainLatency } from './chain-measures';

const limiter = { id: 'l', effect: 'limiter', enabled: true, mix: 1, parameters: { gain: 12 } };
const trim = { id: 't', effect: 'trim', enabled: true, mix: 1, parameters: { gain: -6, blockDc: true } };

describe('a chain over a recording', () => {
  it('gives the same written over the recording as beside it, whatever its latency and length', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5_000 }),
        fc.constantFrom([trim], [limiter], [limiter, trim]),
        fc.integer({ min: 1, max: 99 }),
        (frames, chain, seed) => {
          const recording = { sampleRate: 48_000, channels: [noise(frames, seed), noise(frames, seed + 100)] };
          const beside = applyChain(recording, chain, { tail: false });
          expect(beside.channels[0]).not.toBe(recording.channels[0]);
          const over = applyChain(recording, chain, { tail: false, over: true });
          expect(over.channels).toBe(recording.channels);
          expect(over).toEqual(beside);
        },
      ),
      { numRuns: 40, seed: 3 },
    );
    expect(chainLatency([limiter], { sampleRate: 48_000 })).toBeGreaterThan(0);
  });

  it('leaves a recording alone that comes out longer or with more channels', () => {
    const recording = mono(noise(1_000, 1));
    const before = mono(noise(1_000, 1));
    const room = { id: 'r', effect: 'reverb', enabled: true, mix: 1, parameters: {} };
    expect(applyChain(recording, [room], { tail: false, over: true }).channels).toHaveLength(2);
    expect(applyChain(recording, [limiter], { tail: true, over: true }).channels[0]!.length).toBeGreaterThanOrEqual(1_000);
    expect(recording).toEqual(before);
  });
});
