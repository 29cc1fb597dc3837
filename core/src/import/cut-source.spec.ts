import { inMemory } from '../audio/recording';
import { measureOverview } from '../audio/overview';
import { Cancelled } from '../cancelled';
import { hashBytes } from '../formats/hash';
import { readWav } from '../formats/wav/wav-read';
import type { Source } from '../project/schema';
import { MemoryTarget } from '../testing/memory-target';
import { noise } from '../testing/signals';
import { cutSource } from './cut-source';

const rate = 48_000;
const left = noise(8 * rate, 1, -12);
const right = noise(8 * rate, 2, -18);
const audio = { sampleRate: rate, channels: [left, right] };
const parent: Source = {
  kind: 'recording',
  id: 'source-1',
  name: 'Ridge walk',
  audio: 'a'.repeat(64),
  frames: 8 * rate,
  channels: 2,
  role: 'Bed',
  tags: ['ridge'],
  notes: 'cold',
  regions: [{ id: 'region-1', name: 'Part 1', from: 1, to: 2 }],
  cues: [
    { name: 'early', time: 0.5 },
    { name: 'step', time: 1.75 },
  ],
  origin: { file: 'ridge/walk.wav', sampleRate: rate, encoding: '24 bit', recordist: 'Ilse' },
};

async function cut(from: number, to: number, channel: 'all' | 'mean' | number) {
  const target = new MemoryTarget();
  const made = await cutSource(inMemory(audio), parent, { name: 'Step', from, to }, channel, target);
  return { ...made, wav: target.wav, samples: readWav(target.wav).audio.channels };
}

/** Many samples are compared more quickly so. */
function equal(a: readonly Float32Array[], b: readonly Float32Array[]): boolean {
  return (
    a.length === b.length && a.every((channel, c) => channel.length === b[c]!.length && channel.every((sample, i) => sample === b[c]![i]))
  );
}

describe('cutting a source', () => {
  it('keeps the samples of the part, across the pieces it is read in, and says where it was cut from', async () => {
    const { source, overview, wav, samples } = await cut(1, 7.5, 'all');
    const wanted = [left, right].map((channel) => channel.slice(rate, 7.5 * rate));
    expect(equal(samples, wanted)).toBe(true);
    expect(overview).toEqual(measureOverview({ sampleRate: rate, channels: wanted }));
    expect(source).toEqual({
      kind: 'recording',
      name: 'Step',
      audio: hashBytes(wav),
      frames: 6.5 * rate,
      channels: 2,
      role: 'Bed',
      tags: ['ridge'],
      notes: 'cold',
      regions: [],
      cues: [{ name: 'step', time: 0.75 }],
      origin: { ...parent.origin, cutFrom: { name: 'Ridge walk', audio: parent.audio, from: 1, to: 7.5 } },
    });
  });

  it('to mono takes the mean, or one channel', async () => {
    const mean = await cut(0, 8, 'mean');
    expect(mean.source.channels).toBe(1);
    expect(equal(mean.samples, [left.map((sample, i) => (sample + right[i]!) / 2)])).toBe(true);
    expect(equal((await cut(0, 8, 1)).samples, [right])).toBe(true);
  });

  it('never gives an empty part, nor more than there is', async () => {
    expect((await cut(2, 2, 0)).samples[0]).toEqual(left.slice(2 * rate, 2 * rate + 1));
    expect((await cut(8, 9, 0)).samples[0]).toEqual(left.slice(-1));
    expect((await cut(7, 99, 0)).source.frames).toBe(rate);
  });

  it('can be stopped', async () => {
    const stop = (share: number): boolean => share < 0.5;
    const part = { name: 'All', from: 0, to: 8 };
    await expect(cutSource(inMemory(audio), parent, part, 'all', new MemoryTarget(), stop)).rejects.toThrow(Cancelled);
  });
});
