import { Correlator } from './correlator';
import { createRandom, seedOf } from './random';

test('Correlator agrees with the sum that defines it, to −120 dB of lag 0', () => {
  const random = createRandom(seedOf('correlator'));
  const frame = Float64Array.from({ length: 900 }, () => 2 * random.next() - 1);
  const head = 300;
  const correlator = new Correlator(1_024);
  for (let round = 0; round < 2; round++) {
    correlator.correlate(frame, head);
    const plainly = (lag: number): number => frame.subarray(0, head).reduce((sum, value, i) => sum + value * frame[i + lag]!, 0);
    const farthest = Array.from({ length: 600 }, (_, lag) => Math.abs(correlator.lags[lag]! - plainly(lag))).reduce((a, b) =>
      Math.max(a, b),
    );
    expect(farthest / plainly(0)).toBeLessThan(1e-6);
  }
});
