import { hannWindow } from './fft';
import type { PairTransform } from './pair-transform';
import { pairTransform, PlainPairs } from './pair-transform';
import { largest, noise } from '../testing/signals';
import { TurnedSpectra } from './turned-spectra';

const size = 256;
const window = hannWindow(size);
const samples = [0, 1, 2, 3].map((seed) => noise(size, seed + 1));

/** The frames of two channels, turned by what a last output would ask for, and what was read on the way. */
function worked(transform: PairTransform) {
  const spectra = new TurnedSpectra(transform, window);
  const pair = { now: transform.allocate(), earlier: transform.allocate(), last: transform.allocate(), before: 0 };
  const [now, earlier, last] = [pair.now, pair.earlier, pair.last];
  transform.forward(samples[0]!, samples[1], 0, now);
  transform.forward(samples[1]!, samples[2], 0, earlier);
  transform.forward(samples[2]!, samples[3], 0, last);
  spectra.addTurns(pair);
  const [power, turnRe, turnIm] = [spectra.power.slice(), spectra.turnRe.slice(), spectra.turnIm.slice()];
  // By a quarter turn everywhere but at the ends, which must stay real.
  spectra.turnRe.fill(0);
  spectra.turnIm.fill(1);
  for (const end of [0, size / 2]) {
    spectra.turnRe[end] = 1;
    spectra.turnIm[end] = 0;
  }
  return { power, turnRe, turnIm, heard: spectra.turn(pair).slice() };
}

describe('the phase vocoder’s work on spectra', () => {
  const compiled = worked(pairTransform(size, window));
  const plain = worked(new PlainPairs(size, window));

  it('is the same compiled and in plain TypeScript', () => {
    for (const what of ['power', 'turnRe', 'turnIm', 'heard'] as const) {
      expect(compiled[what]).toHaveLength(plain[what].length);
      const scale = largest(0, plain[what].length, (i) => plain[what][i]!);
      expect(largest(0, plain[what].length, (i) => (compiled[what][i]! - plain[what][i]!) / scale)).toBeLessThan(1e-5);
    }
  });

  it('turns both channels by the same angle: two quarter turns are the opposite, and a side that is silent stays so', () => {
    const transform = pairTransform(size, window);
    const spectra = new TurnedSpectra(transform, new Float64Array(size).fill(1));
    const pair = { now: transform.allocate(), earlier: 0, last: transform.allocate(), before: 0 };
    transform.forward(samples[0]!, new Float32Array(size), 0, pair.now);
    spectra.turnRe.fill(-1);
    spectra.turnIm.fill(0);
    const heard = spectra.turn(pair);
    expect(largest(0, size, (i) => heard[i]! + window[i]! * samples[0]![i]!)).toBeLessThan(1e-5);
    spectra.turnRe.fill(0).set([1], 0);
    spectra.turnIm.fill(1).set([0], 0);
    spectra.turnIm[size / 2] = 0;
    spectra.turnRe[size / 2] = 1;
    const quarter = spectra.turn(pair).slice();
    expect(largest(size, 2 * size, (i) => quarter[i]!)).toBeLessThan(1e-5);
    expect(largest(0, size, (i) => quarter[i]!)).toBeGreaterThan(0.1);
  });
});
