import { mono, noise, sine } from '../testing/signals';
import { findLandingPoints } from './landing-points';
import { findOnsets } from './onsets';

const rate = 48_000;

/** A decaying burst of noise at `at` seconds in a quiet bed. */
function strike(at: number, seconds = 1, bed = -60, seed = 3): Float32Array {
  const samples = noise(seconds * rate, seed, bed);
  const burst = noise(rate / 4, seed + 1);
  const from = Math.round(at * rate);
  for (let i = 0; i < burst.length && from + i < samples.length; i++) samples[from + i]! += 0.8 * burst[i]! * Math.exp(-i / 1_500);
  return samples;
}

describe('onsets', () => {
  it.each([0.1, 0.25317, 0.7001])('places a click in noise at 20 dB within 2 ms, at %f s', (at) => {
    // RMS of the noise is 20 dB below the click's peak.
    const samples = noise(rate, 9, -20 - 20 * Math.log10(Math.sqrt(1 / 3)) - 6);
    const frame = Math.round(at * rate);
    for (let i = 0; i < 24; i++) samples[frame + i]! += 0.5 * Math.cos((Math.PI * i) / 48) * (i % 2 ? -1 : 1);
    const onsets = findOnsets(mono(samples));
    const nearest = Math.min(...onsets.map(({ time }) => Math.abs(time - at)));
    expect(nearest).toBeLessThan(0.002);
    // The noise itself begins with the file; behind that nothing else does.
    expect(onsets.filter(({ time }) => time > 0.02)).toHaveLength(1);
  });

  it('finds every hit of a row, and each once', () => {
    const samples = noise(2 * rate, 5, -70);
    const times = [0.2, 0.5, 0.62, 1.1, 1.7];
    for (const at of times) strike(at, 2, -200, 11).forEach((value, i) => (samples[i]! += 0.5 * value));
    const found = findOnsets(mono(samples)).map(({ time }) => time);
    expect(found).toHaveLength(times.length);
    found.forEach((time, i) => expect(Math.abs(time - times[i]!)).toBeLessThan(0.001));
  });

  it('finds what begins with the first sample', () => {
    expect(findOnsets(mono(strike(0)))[0]!.time).toBeLessThan(0.001);
  });

  it('finds nothing in silence and at most the beginning of a steady tone', () => {
    expect(findOnsets(mono(new Float32Array(rate)))).toEqual([]);
    const inside = findOnsets(mono(sine(440, 1, rate, -12))).filter(({ time }) => time > 0.02 && time < 0.98);
    expect(inside).toEqual([]);
  });
});

describe('landing points', () => {
  it('tell transient, peak and end of rise apart', () => {
    // A hit at 0.3 s, and a swell that is loudest, and cut off, at 1.2 s.
    const samples = strike(0.3, 1.5, -80).map((value) => value * 0.4);
    for (let i = 0; i < 1.2 * rate; i++) {
      const cutOff = Math.min(1, (1.2 * rate - i) / 400);
      samples[i]! += 0.9 * cutOff * Math.pow(i / (1.2 * rate), 3) * Math.sin((2 * Math.PI * 180 * i) / rate);
    }
    const points = findLandingPoints(mono(samples));
    expect(Math.abs(points.transient! - 0.3)).toBeLessThan(0.001);
    expect(Math.abs(points.endOfRise - 1.2)).toBeLessThan(0.008);
    let peak = 0;
    samples.forEach((value, i) => (peak = Math.abs(value) > Math.abs(samples[peak]!) ? i : peak));
    expect(points.peak).toBeCloseTo(peak / rate, 6);
  });

  it('have no transient where nothing begins', () => {
    const samples = noise(rate, 2, -30);
    for (let i = 0; i < rate / 2; i++) samples[i]! *= (i / (rate / 2)) ** 2;
    expect(findLandingPoints(mono(samples)).transient).toBeUndefined();
  });
});
