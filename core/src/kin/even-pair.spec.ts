import { measure } from '../analysis/loudness/measure';
import { withGain } from '../audio/audio';
import { mono, noise, sine } from '../testing/signals';
import { evenGain } from './even-pair';

describe('two siblings beside each other', () => {
  const quiet = mono(sine(1_000, 1, 48_000, -30));
  const loud = mono(noise(48_000, 2, -6));

  it('are as loud as the quieter of them, which stays as it is', () => {
    const [a, b] = [measure(quiet), measure(loud)];
    expect(evenGain(a, b)).toBe(0);
    const even = measure(withGain(loud, evenGain(b, a)));
    expect(even.integratedLufs).toBeCloseTo(a.integratedLufs, 2);
    expect(even.samplePeakDbfs).toBeLessThan(b.samplePeakDbfs);
  });

  it('are left alone where one is silent', () => {
    const silent = measure(mono(new Float32Array(48_000)));
    expect(evenGain(measure(loud), silent)).toBe(0);
    expect(evenGain(silent, measure(loud))).toBe(0);
  });
});
