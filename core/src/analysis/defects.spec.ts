import { mono, noise, sine, stereo } from '../testing/signals';
import { findDefects } from './defects';

const rate = 48_000;
const kinds = (samples: Float32Array): string[] => findDefects(mono(samples)).map(({ kind }) => kind);

describe('defects', () => {
  it('finds nothing wrong with tones, noise, strikes and sweeps', () => {
    expect(kinds(sine(440, 1, rate, -6))).toEqual([]);
    expect(kinds(noise(rate, 3, -12))).toEqual([]);
    const strike = noise(rate, 4, -3).map((value, i) => (i < 4_800 ? 0 : value * Math.exp(-(i - 4_800) / 3_000)));
    expect(kinds(strike)).toEqual([]);
    expect(kinds(Float32Array.from({ length: rate }, (_, i) => 0.5 * Math.sin((i * i) / 40_000)))).toEqual([]);
  });

  it('finds clicks where they are', () => {
    const samples = noise(2 * rate, 5, -46);
    for (const at of [0.4, 1.25]) samples[Math.round(at * rate)]! += 0.2;
    const clicks = findDefects(mono(samples));
    expect(clicks.map(({ kind }) => kind)).toEqual(['click', 'click']);
    expect(clicks[0]!.from).toBeCloseTo(0.4, 3);
    expect(clicks[1]!.from).toBeCloseTo(1.25, 3);
  });

  it('takes neither the beginning of a sound nor a texture of clicks for a defect', () => {
    const knock = noise(rate, 7, -70);
    knock[24_000]! += 0.5;
    for (let i = 1; i < 6_000; i++) knock[24_000 + i]! += 0.02 * Math.sin(i / 12) * Math.exp(-i / 2_000);
    expect(kinds(knock)).toEqual([]);
    const pebbles = noise(2 * rate, 8, -60);
    for (let i = 0; i < 40; i++) pebbles[1_000 + i * 2_311]! += 0.3;
    expect(kinds(pebbles)).toEqual([]);
  });

  it('finds clipping, and joins runs that belong together', () => {
    const clipped = sine(200, 1, rate, 3).map((value, i) =>
      i > 0.3 * rate && i < 0.6 * rate ? Math.max(-1, Math.min(1, value)) : value / 3,
    );
    const found = findDefects(mono(clipped)).filter(({ kind }) => kind === 'clipping');
    expect(found).toHaveLength(1);
    expect(found[0]!.from).toBeGreaterThan(0.29);
    expect(found[0]!.to).toBeLessThan(0.61);
    expect(found[0]!.detail).toMatch(/^\d{3,} samples/);
  });

  it('finds drop-outs inside sound, but not pauses in front of it or behind', () => {
    const samples = sine(300, 1, rate, -10);
    samples.fill(0, 0, 4_800);
    samples.fill(0, 0.5 * rate, 0.5 * rate + 480);
    samples.fill(0, 0.9 * rate);
    const found = findDefects(stereo(samples)).filter(({ kind }) => kind === 'drop-out');
    expect(found).toHaveLength(1);
    expect(found[0]!.from).toBeCloseTo(0.5, 3);
    expect(found[0]!.detail).toBe('10.0 ms missing');
  });

  it('finds long silences', () => {
    const samples = new Float32Array(4 * rate);
    samples.set(noise(rate / 2, 2, -20));
    const [silence] = findDefects(mono(samples)).filter(({ kind }) => kind === 'long silence');
    expect(silence!.from).toBeCloseTo(0.5, 3);
    expect(silence!.detail).toBe('3.5 s of silence');
  });

  it('finds a wave that does not swing around zero, and leaves slow ones alone', () => {
    const tone = sine(400, 1, rate, -20);
    const offset = findDefects(mono(tone.map((sample) => sample + 0.12))).filter(({ kind }) => kind === 'direct current');
    expect(offset).toEqual([{ kind: 'direct current', from: 0, to: 1, detail: 'a direct current of 12.0 %' }]);
    expect(kinds(sine(20, 0.275, rate, -6))).not.toContain('direct current');
    expect(kinds(tone.map((sample) => sample + 0.005))).toEqual([]);
  });

  it.each([50, 60])('tells hum of %i Hz from a tone', (mains) => {
    const samples = noise(3 * rate, 6, -50);
    for (let n = 1; n <= 5; n++) sine(mains * n, 3, rate, -40 - 4 * n, n).forEach((value, i) => (samples[i]! += value));
    const hum = findDefects(mono(samples)).filter(({ kind }) => kind === 'hum');
    expect(hum).toHaveLength(1);
    expect(hum[0]!.detail).toContain(`${mains} Hz hum`);
    const beep = noise(3 * rate, 6, -50);
    sine(300, 3, rate, -20).forEach((value, i) => (beep[i]! += value));
    expect(kinds(beep)).toEqual([]);
  });
});
