import { mono, noise, sine } from '../testing/signals';
import { mainPitch, trackPitch } from './pitch';

const rate = 48_000;
const cents = (a: number, b: number): number => 1_200 * Math.log2(a / b);

/** A tone with harmonics that fall by 1/n, below Nyquist. */
function tone(frequency: number, seconds = 0.4): Float32Array {
  const samples = new Float32Array(seconds * rate);
  for (let n = 1; n <= 8 && n * frequency < 20_000; n++)
    sine(n * frequency, seconds, rate, -12, n).forEach((value, i) => (samples[i]! += value / n));
  return samples;
}

describe('pitch', () => {
  it.each([40, 55, 110, 261.63, 440, 997, 2_093, 3_520, 4_000])('of a clean harmonic tone of %f Hz is found within 1 cent', (frequency) => {
    const frames = trackPitch(mono(tone(frequency)));
    for (const frame of frames.slice(1, -1)) expect(Math.abs(cents(frame.frequency!, frequency))).toBeLessThan(1);
    expect(mainPitch(frames).confidence).toBeGreaterThan(0.9);
  });

  it('has less than 1 % gross errors at 20 dB above noise', () => {
    let wrong = 0;
    let all = 0;
    for (let i = 0; i < 24; i++) {
      const frequency = 60 * Math.pow(2, i / 5);
      const clean = tone(frequency);
      let power = 0;
      for (const value of clean) power += value * value;
      // Uniform noise from -a to a has a power of a²/3.
      const amplitude = Math.sqrt((3 * power) / clean.length) * 0.1;
      const noisy = noise(clean.length, i + 1).map((value, k) => amplitude * value + clean[k]!);
      for (const { frequency: found } of trackPitch(mono(noisy))) {
        all++;
        if (found === undefined || Math.abs(cents(found, frequency)) > 50) wrong++;
      }
    }
    expect(wrong / all).toBeLessThan(0.01);
  });

  it('is not found in noise, silence, or a recording shorter than a frame', () => {
    expect(trackPitch(mono(noise(rate / 2))).filter((frame) => frame.frequency !== undefined)).toEqual([]);
    expect(mainPitch(trackPitch(mono(new Float32Array(rate)))).frequency).toBeUndefined();
    expect(trackPitch(mono(Float32Array.of(0.5)))).toHaveLength(1);
  });
});
