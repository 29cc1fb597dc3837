import { findModes } from '../analysis/modes';
import { partsById } from '../synthesis';
import { readModes, takenBody } from '../synthesis/parts/body-modes';
import { pictureOfModes } from '../synthesis/part-picture';
import { noise } from '../testing/signals';
import { runSource } from '../testing/synthesis';
import { takeModes } from './take-modes';

const sampleRate = 48_000;
const known = [
  { frequency: 523, level: 0.3, decay: 1.5 },
  { frequency: 1_274, level: 0.2, decay: 0.9 },
  { frequency: 2_689, level: 0.1, decay: 0.5 },
] as const;
const struck = Float32Array.from({ length: 2 * sampleRate }, (_, i) => {
  const since = i / sampleRate - 0.05;
  if (since < 0) return 0;
  return known.reduce(
    (sum, { frequency, level, decay }) => sum + level * Math.exp((-6.9078 * since) / decay) * Math.sin(2 * Math.PI * frequency * since),
    0,
  );
});

describe('the modes of a recording', () => {
  const found = takeModes({ sampleRate, channels: [struck] });

  it('are those that it was made of, tuned by the lowest', () => {
    expect(found.count).toBe(known.length);
    expect(Math.abs(found.frequency / 523 - 1)).toBeLessThan(0.001);
    expect(Math.abs(found.ring / 1.5 - 1)).toBeLessThan(0.05);
    for (const [m, { ratio, ring }] of readModes(found.taken).entries()) {
      expect(Math.abs(ratio / (known[m]!.frequency / 523) - 1)).toBeLessThan(0.001);
      expect(Math.abs(ring! / (known[m]!.decay / 1.5) - 1)).toBeLessThan(0.06);
    }
  });

  it('ring again in a body', () => {
    const values = { body: takenBody, taken: found.taken, ring: found.ring, hardness: 1 };
    const [left] = runSource(partsById.get('body')!, values, found.frequency, sampleRate);
    const again = findModes({ sampleRate, channels: [Float32Array.from(left)] }).sort((a, b) => a.frequency - b.frequency);
    expect(again).toHaveLength(known.length);
    for (const [m, { frequency }] of again.entries()) expect(Math.abs(frequency / known[m]!.frequency - 1)).toBeLessThan(0.001);
  });

  it('are not taken from what does not ring, which is said', () => {
    for (const samples of [noise(sampleRate), new Float32Array(sampleRate), new Float32Array(10)])
      expect(() => takeModes({ sampleRate, channels: [samples] })).toThrow('Nothing in it rings');
  });

  it('are drawn as strong as a strike of any hardness makes them', () => {
    const kind = partsById.get('body')!;
    for (const hardness of [0.15, 0.4, 1]) {
      const values = { body: takenBody, taken: found.taken, ring: found.ring, hardness, strengthLevel: 0 };
      const [left] = runSource(kind, values, 220, sampleRate);
      const lines = pictureOfModes(kind, values)!;
      const measured = findModes({ sampleRate, channels: [Float32Array.from(left)] });
      const levelOf = (hertz: number): number | undefined =>
        measured.find(({ frequency }) => Math.abs(frequency / hertz - 1) < 0.01)?.level;
      // Heights are 60 dB from the bottom up.
      for (const { frequency, height } of lines.slice(1)) {
        const level = levelOf(frequency);
        if (level === undefined) continue;
        expect(Math.abs(level - levelOf(lines[0]!.frequency)! - 60 * (height - lines[0]!.height))).toBeLessThan(1.5);
      }
      expect(levelOf(lines[1]!.frequency)).toBeDefined();
    }
  });

  it('are drawn where they are heard', () => {
    const lines = pictureOfModes(partsById.get('body')!, { body: takenBody, taken: found.taken, ring: found.ring, hardness: 1 })!;
    expect(lines).toHaveLength(3);
    // At A3, on an axis of three decades from 20 Hz on.
    expect(lines[1]!.frequency).toBeCloseTo((220 * 1_274) / 523, 0);
    expect(lines[1]!.place).toBeCloseTo(Math.log10(lines[1]!.frequency / 20) / 3, 6);
    expect(lines[0]!.height).toBeGreaterThan(lines[2]!.height);
    expect(pictureOfModes(partsById.get('noise')!, {})).toBeUndefined();
  });
});
