import fc from 'fast-check';
import { getKernels } from '../../dsp/compiled/kernels';
import { voiceStep } from '../part';
import type { WaveCourse, WaveShape } from './wave';
import { Wave, waveShapes } from './wave';

const still: WaveCourse = { increment: 0.01, incrementStep: 0, width: 0.3, widthStep: 0, sync: 1, syncStep: 0 };

/** A wave in runs of some lengths, one after the other. */
function draw(shape: WaveShape, course: WaveCourse, compiled: boolean, runs: readonly number[], between?: (run: number) => void): number[] {
  const wave = new Wave(shape, false, compiled);
  wave.start(0.2);
  const buffer = new Float64Array(voiceStep);
  return runs.flatMap((frames, run) => {
    between?.(run);
    wave.fill(buffer, voiceStep - frames, voiceStep, undefined, course);
    return [...buffer.subarray(voiceStep - frames)];
  });
}
const farthest = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - b[i]!)), a.length === b.length ? 0 : NaN);

describe('a wave drawn by a kernel', () => {
  it('is the reference, at every frequency, width and length of run', () => {
    expect(getKernels()).toBeDefined();
    fc.assert(
      fc.property(
        fc.constantFrom(...waveShapes),
        fc.double({ min: 1e-5, max: 0.5, noNaN: true }),
        fc.double({ min: 0.001, max: 0.999, noNaN: true }),
        fc.array(fc.integer({ min: 1, max: voiceStep }), { minLength: 1, maxLength: 30 }),
        (shape, increment, width, runs) => {
          const course = { ...still, increment, width };
          // The reference reads its sine out of a table that is off by -130 dB.
          expect(farthest(draw(shape, course, true, runs), draw(shape, course, false, runs))).toBeLessThan(shape === 'sine' ? 4e-7 : 2e-9);
        },
      ),
      { numRuns: 300 },
    );
  });

  it('is a sine to -180 dB, and where its frequency moves, too', () => {
    const buffer = new Float64Array(voiceStep);
    const wave = new Wave('sine', false);
    wave.start(0.1);
    let place = 0.1;
    let increment = 0.003;
    for (let run = 0; run < 50; run++) {
      const incrementStep = (run % 2 === 0 ? 1 : -1) * 4e-5;
      wave.fill(buffer, 0, voiceStep, undefined, { ...still, increment, incrementStep });
      for (let k = 0; k < voiceStep; k++) {
        expect(Math.abs(buffer[k]! - Math.sin(2 * Math.PI * (place + k * increment + (k * (k - 1) * incrementStep) / 2)))).toBeLessThan(
          1e-9,
        );
      }
      place += voiceStep * increment + (voiceStep * (voiceStep - 1) * incrementStep) / 2;
      increment += voiceStep * incrementStep;
    }
  });

  it('goes on where the memory of the kernels grows', () => {
    const runs = Array.from({ length: 20 }, () => voiceStep);
    const kernels = getKernels()!;
    const held: unknown[] = [];
    const grows = (): void => void held.push(kernels.allocate(2 * kernels.samples().length * 4));
    for (const shape of waveShapes) {
      const disturbed = draw(shape, still, true, runs, (run) => {
        if (run === 7) grows();
      });
      expect(farthest(disturbed, draw(shape, still, true, runs))).toBe(0);
    }
  });

  it('draws one run the same in one piece and in two of which the first is too short for a kernel', () => {
    for (const shape of waveShapes) {
      const whole = draw(shape, still, true, [voiceStep, voiceStep]);
      const parts = draw(shape, still, true, [3, voiceStep - 3, 5, voiceStep - 5]);
      expect(farthest(whole, parts)).toBeLessThan(4e-7);
    }
  });
});
