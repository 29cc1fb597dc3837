import type { Recording } from '../audio/recording';
import { inMemory } from '../audio/recording';
import { Cancelled } from '../cancelled';
import { mono, noise } from '../testing/signals';
import { splitAtSilences, splitAtTransients } from './silences';

const rate = 48_000;

/** Knocks of 0.2 s in near silence. */
function knocks(seconds = 2, times: readonly number[] = [0.2, 0.9, 1.5]): Recording {
  const samples = noise(seconds * rate, 8, -80);
  for (const at of times)
    noise(0.2 * rate, 3, -6).forEach((value, i) => (samples[Math.round(at * rate) + i]! += value * Math.exp(-i / 2_500)));
  return inMemory(mono(samples));
}

describe('splitting a recording', () => {
  it('at silences gives the parts that sound', async () => {
    const parts = await splitAtSilences(knocks());
    expect(parts).toHaveLength(3);
    expect(parts.map(({ from }) => Math.round(from * 100) / 100)).toEqual([0.19, 0.89, 1.49]);
    for (const { from, to } of parts) expect(to - from).toBeLessThan(0.3);
  });

  it('keeps short pauses inside a part', async () => {
    expect(await splitAtSilences(knocks(), { shortestPause: 1 })).toHaveLength(1);
  });

  it('at transients cuts just before each', async () => {
    const parts = await splitAtTransients(knocks());
    expect(parts.map(({ from }) => Math.round(from * 1_000) / 1_000)).toEqual([0.197, 0.897, 1.497]);
    expect(parts[0]!.to).toBe(parts[1]!.from);
    expect(parts[2]!.to).toBe(2);
  });

  it('finds nothing in silence', async () => {
    const silence = inMemory(mono(new Float32Array(rate)));
    expect(await splitAtSilences(silence)).toEqual([]);
    expect(await splitAtTransients(silence)).toEqual([]);
  });
});

describe('splitting a long recording', () => {
  // Knocks on both sides of the borders between what is read at once, at 30 and 60 s, and right on one.
  const times = [3, 29.999, 31, 59.95, 60, 60.1, 64];
  const recording = knocks(65, times);
  let most = 0;
  const counted: Recording = {
    ...recording,
    read: (from, to) => {
      most = Math.max(most, to - from);
      return recording.read(from, to);
    },
  };

  it('finds every transient once, without holding it', async () => {
    const parts = await splitAtTransients(counted, 0);
    expect(parts).toHaveLength(times.length);
    parts.forEach(({ from }, i) => expect(Math.abs(from - times[i]!)).toBeLessThan(0.002));
    expect(most).toBeLessThanOrEqual(32 * rate);
  });

  it('knows the loudest moment of the whole before it calls anything silence', async () => {
    // 45 dB below a knock that comes later.
    const samples = noise(70 * rate, 4, -60);
    samples.fill(0, 0, 2 * rate);
    noise(rate, 5, -15).forEach((value, i) => (samples[65 * rate + i] = value));
    const parts = await splitAtSilences(inMemory(mono(samples)));
    expect(parts).toHaveLength(1);
    expect(parts[0]!.from).toBeCloseTo(64.985, 2);
  });

  it('can be stopped', async () => {
    await expect(splitAtTransients(recording, 0, (share) => share < 0.4)).rejects.toThrow(Cancelled);
    await expect(splitAtSilences(recording, {}, (share) => share < 0.4)).rejects.toThrow(Cancelled);
  });
});
