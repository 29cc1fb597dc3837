import { amplitudeAt, noise, sine } from '../../testing/signals';
import { StateVariableFilter } from './simple-filters';

const rate = 48_000;

function tuned(): StateVariableFilter {
  const filter = new StateVariableFilter();
  filter.tune(1_000, Math.SQRT1_2, rate);
  return filter;
}

describe('a state-variable filter over many samples', () => {
  it('takes off the highs by two poles', () => {
    const filter = tuned();
    const samples = Float64Array.from(sine(4_000, 0.5, rate, 0));
    filter.lowAll(samples, samples.length);
    // Butterworth of second order, with frequencies bent as the bilinear transform bends them.
    const bent = Math.tan((Math.PI * 4_000) / rate) / Math.tan((Math.PI * 1_000) / rate);
    const heard = amplitudeAt(Float32Array.from(samples), 4_000, rate, 12_000, 24_000);
    expect(20 * Math.log10(heard)).toBeCloseTo(-10 * Math.log10(1 + bent ** 4), 2);
  });

  it('gives what it gives sample by sample, and goes on from there', () => {
    const [one, all] = [tuned(), tuned()];
    const input = noise(4_000, 3, -6);
    const expected = Array.from(input, (sample) => {
      one.next(sample);
      return one.low;
    });
    const samples = Float64Array.from(input.subarray(0, 3_000));
    all.lowAll(samples, 1_000);
    all.lowAll(samples.subarray(1_000), 2_000);
    const rest = Array.from(input.subarray(3_000), (sample) => {
      all.next(sample);
      return all.low;
    });
    expect([...samples, ...rest]).toEqual(expected);
  });
});
