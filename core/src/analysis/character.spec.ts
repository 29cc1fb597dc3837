import type { Audio } from '../audio/audio';
import { mono, noise, sine } from '../testing/signals';
import { characterDistance, describeCharacter } from './character';

const rate = 48_000;

/** A strike: noise through a one-pole low pass, that decays. */
function strike(darkness: number, decay: number, seed = 5, seconds = 1): Audio {
  const samples = noise(seconds * rate, seed);
  let state = 0;
  for (let i = 0; i < samples.length; i++) {
    state += (samples[i]! - state) * (1 - darkness);
    samples[i] = i < 4_800 ? 0 : state * Math.exp(-(i - 4_800) / (decay * rate));
  }
  return mono(samples);
}

describe('character', () => {
  it('knows dark from bright', () => {
    expect(describeCharacter(mono(sine(200, 1, rate, -6))).brightness).toBeCloseTo(200, -1);
    expect(describeCharacter(mono(sine(8_000, 1, rate, -6))).brightness).toBeCloseTo(8_000, -2);
    expect(describeCharacter(strike(0.98, 0.1)).brightness).toBeLessThan(describeCharacter(strike(0.2, 0.1)).brightness / 2);
  });

  it('knows sharp from slow, and where the attack is', () => {
    const sharp = describeCharacter(strike(0.2, 0.1));
    expect(sharp.attackAt).toBeCloseTo(0.1, 2);
    expect(sharp.attackTime).toBeLessThan(0.003);
    const swell = sine(300, 1, rate, -6).map((value, i) => value * Math.min(1, i / (0.5 * rate)));
    // A linear swell of 0.5 s takes 0.3 s from a tenth to seven tenths.
    expect(describeCharacter(mono(swell)).attackTime).toBeGreaterThan(0.25);
    expect(describeCharacter(mono(swell)).attackTime).toBeLessThan(0.35);
  });

  it('knows steady from moving, pitched from noisy, and the noise floor', () => {
    const steady = describeCharacter(mono(noise(rate, 3, -30)));
    expect(steady.stationarity).toBeGreaterThan(0.8);
    expect(steady.pitch).toBeUndefined();
    // Uniform noise lies 4.77 dB below its peak.
    expect(steady.noiseFloorDbfs).toBeCloseTo(-34.8, 0);
    expect(describeCharacter(strike(0.2, 0.05)).stationarity).toBeLessThan(0.5);
    const tone = describeCharacter(mono(sine(330, 1, rate, -10)));
    expect(tone.pitch).toBeCloseTo(330, 0);
    expect(tone.pitchConfidence).toBeGreaterThan(0.9);
  });

  it('measures stereo', () => {
    const left = noise(rate, 1, -20);
    const quieter = left.map((value) => value / 2);
    const same = describeCharacter({ sampleRate: rate, channels: [left, quieter] });
    expect(same.correlation).toBeCloseTo(1, 5);
    expect(same.leansLeft).toBeCloseTo(6.02, 1);
    expect(Math.abs(describeCharacter({ sampleRate: rate, channels: [left, noise(rate, 2, -20)] }).correlation)).toBeLessThan(0.05);
    expect(describeCharacter({ sampleRate: rate, channels: [left, left.map((value) => -value)] }).correlation).toBeCloseTo(-1, 5);
  });

  it('lives with silence and a single sample', () => {
    for (const samples of [new Float32Array(rate), Float32Array.of(0.3)]) {
      const { fingerprint, brightness } = describeCharacter(mono(samples));
      expect(fingerprint.every(Number.isFinite)).toBe(true);
      expect(Number.isFinite(brightness)).toBe(true);
    }
  });
});

describe('distance', () => {
  const print = (audio: Audio) => describeCharacter(audio).fingerprint;
  const base = print(strike(0.8, 0.1));

  it('is nothing for the same sound, at any level, and symmetric', () => {
    expect(characterDistance(base, base)).toBe(0);
    const [louder] = strike(0.8, 0.1).channels;
    expect(characterDistance(base, print(mono(louder!.map((value) => value * 0.25))))).toBeLessThan(0.35);
    const other = print(strike(0.3, 0.3));
    expect(characterDistance(base, other)).toBe(characterDistance(other, base));
  });

  it('grows with the size of the change', () => {
    const darker = [0.8, 0.88, 0.94, 0.98].map((darkness) => characterDistance(base, print(strike(darkness, 0.1))));
    const longer = [0.1, 0.15, 0.25, 0.5].map((decay) => characterDistance(base, print(strike(0.8, decay))));
    for (const row of [darker, longer]) for (let i = 1; i < row.length; i++) expect(row[i]!).toBeGreaterThan(row[i - 1]!);
  });

  it('puts another take of the same sound nearer than another sound', () => {
    const take = characterDistance(base, print(strike(0.8, 0.1, 77)));
    for (const other of [strike(0.2, 0.1), strike(0.8, 0.6), mono(sine(300, 1, rate, -10)), mono(noise(rate, 4))])
      expect(characterDistance(base, print(other))).toBeGreaterThan(1.5 * take);
  });
});
