import { noise } from '../testing/signals';
import { findModes } from './modes';

const sampleRate = 48_000;

/** What rings in some modes after half a second of silence. */
function ringing(modes: readonly { frequency: number; level: number; decay: number }[], seconds = 2.5): Float32Array {
  const samples = new Float32Array(seconds * sampleRate);
  const begin = sampleRate / 2;
  for (const { frequency, level, decay } of modes)
    for (let i = 0; begin + i < samples.length; i++)
      samples[begin + i]! +=
        10 ** (level / 20) * 10 ** ((-3 * i) / sampleRate / decay) * Math.sin((2 * Math.PI * frequency * i) / sampleRate);
  return samples;
}
const audioOf = (samples: Float32Array) => ({ sampleRate, channels: [samples] });

describe('the modes of a recording', () => {
  const known = [
    { frequency: 311.7, level: -12, decay: 1.8 },
    { frequency: 702.3, level: -18, decay: 0.9 },
    { frequency: 1_390.1, level: -20, decay: 1.2 },
    { frequency: 2_711.9, level: -26, decay: 0.4 },
    { frequency: 6_003.3, level: -30, decay: 0.25 },
  ];

  it('are found with their frequencies within 0.1 %, decays within 5 % and levels within 1 dB', () => {
    const found = findModes(audioOf(ringing(known)));
    expect(found).toHaveLength(known.length);
    for (const mode of known) {
      const near = found.find(({ frequency }) => Math.abs(frequency / mode.frequency - 1) < 0.001);
      expect(near).toBeDefined();
      expect(Math.abs(near!.decay / mode.decay - 1)).toBeLessThan(0.05);
      expect(Math.abs(near!.level - mode.level)).toBeLessThan(1);
    }
    expect(found[0]!.frequency).toBeCloseTo(311.7, 0);
  });

  it('are found under a quiet hiss, too, with the strongest first and as many as are wanted', () => {
    const hiss = noise(2.5 * sampleRate, 3, -50);
    const found = findModes(audioOf(ringing(known).map((sample, i) => sample + hiss[i]!)), 2);
    expect(found.map(({ frequency }) => Math.round(frequency / 10))).toEqual([31, 70]);
    expect(Math.abs(found[0]!.decay / 1.8 - 1)).toBeLessThan(0.1);
  });

  it('are none in noise, in silence and in next to nothing', () => {
    expect(findModes(audioOf(noise(sampleRate))).length).toBeLessThan(3);
    for (const samples of [new Float32Array(sampleRate), new Float32Array(0), Float32Array.of(1)])
      expect(findModes(audioOf(samples))).toEqual([]);
  });
});
