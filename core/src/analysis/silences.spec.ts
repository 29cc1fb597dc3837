import { mono, noise } from '../testing/signals';
import { splitAtSilences, splitAtTransients } from './silences';

const rate = 48_000;

/** Three knocks at 0.2, 0.9 and 1.5 s, each 0.2 s long, in near silence. */
function knocks(): Float32Array {
  const samples = noise(2 * rate, 8, -80);
  for (const at of [0.2, 0.9, 1.5])
    noise(0.2 * rate, 3, -6).forEach((value, i) => (samples[Math.round(at * rate) + i]! += value * Math.exp(-i / 2_500)));
  return samples;
}

describe('splitting a recording', () => {
  it('at silences gives the parts that sound', () => {
    const parts = splitAtSilences(mono(knocks()));
    expect(parts).toHaveLength(3);
    expect(parts.map(({ from }) => Math.round(from * 100) / 100)).toEqual([0.19, 0.89, 1.49]);
    for (const { from, to } of parts) expect(to - from).toBeLessThan(0.3);
  });

  it('keeps short pauses inside a part', () => {
    expect(splitAtSilences(mono(knocks()), { shortestPause: 1 })).toHaveLength(1);
  });

  it('at transients cuts just before each', () => {
    const parts = splitAtTransients(mono(knocks()));
    expect(parts.map(({ from }) => Math.round(from * 1_000) / 1_000)).toEqual([0.197, 0.897, 1.497]);
    expect(parts[0]!.to).toBe(parts[1]!.from);
    expect(parts[2]!.to).toBe(2);
  });

  it('finds nothing in silence', () => {
    expect(splitAtSilences(mono(new Float32Array(rate)))).toEqual([]);
    expect(splitAtTransients(mono(new Float32Array(rate)))).toEqual([]);
  });
});
